import {
  type Checkpoint,
  CheckpointKind,
  type Draft,
  type Id,
  shareEvenly,
  setBelief,
  type Variant,
} from '@ulkret/core/breakdown';
import { memo, useCallback, useMemo } from 'react';
import { Slider } from '../../ui/slider';
import { Check, ManyInput, plainly, SelectInput } from './choice-fields';
import { Pane, Part, Small, Two } from './parts';
import { NumberInput, TextInput, OptionalNumberInput } from './text-fields';
import { type Path, type Set, useWriting } from './writing';
import { PiecePart } from './PiecePart';
import { ProofsForm, ToleranceForm } from './ProofsForm';
import { conditions, VariantForm } from './VariantForm';

const nothing = 'nothing';

interface Props {
  checkpoint: Checkpoint;
  /** The checkpoints to choose from, this one among them. */
  points: readonly { value: Id; text: string }[];
  place: number;
  edit: (next: (draft: Draft) => Draft) => void;
  locked: ReadonlySet<Id>;
  lock: (id: Id) => void;
  newId: (words: string) => Id;
}

/** The anatomy of one checkpoint, every field of it. */
export const CheckpointForm = memo(function CheckpointForm({
  checkpoint,
  points: others,
  place,
  edit,
  locked,
  lock,
  newId,
}: Props) {
  const { set } = useWriting();
  const at = (...rest: Path): Path => ['checkpoints', place, ...rest];
  const { proofs, tolerance, mendable, variants } = checkpoint;
  const before = useMemo(() => others.slice(0, place), [others, place]);
  const fixing = useMemo(
    () => [
      { value: 'start over', text: 'start over' },
      ...others.slice(0, place + 1).map((one) => ({ ...one, text: `fix from ${one.text}` })),
    ],
    [others, place],
  );
  return (
    <Pane>
      <TextInput label="Title, as a short order" path={at('title')} />
      <TextInput label="Criterion: one thing that is true or false" long path={at('criterion')} />
      <Two>
        <SelectInput label="Kind" path={at('kind')} options={plainly(CheckpointKind.options)} />
        <SelectInput
          label="Once missed"
          path={at('mendable')}
          value={mendable?.backTo ?? 'start over'}
          options={fixing}
          onChange={(backTo) => set(at('mendable'), backTo === 'start over' ? null : { ...mendable, backTo })}
        />
      </Two>
      {mendable && <TextInput label="What fixing it costs" path={at('mendable', 'price')} optional />}
      <WeightRow {...{ at, checkpoint, edit, locked, lock }} />
      {place > 0 && <ManyInput label="Must hold before it" path={at('after')} options={before} />}
      <Part title="Signs">
        <ProofsForm path={at('proofs')} proofs={proofs} />
        <ToleranceForm path={at('tolerance')} tolerance={tolerance} />
      </Part>
      <TimePart {...{ at, checkpoint, place, others }} />
      <PiecePart checkpoint={checkpoint} path={at()} edit={edit} />
      <VariantsPart {...{ at, variants, newId }} />
    </Pane>
  );
});

/** A checkpoint's name in a list. */
export const optionsOf = (list: readonly Checkpoint[]) =>
  list.map((one, i) => ({ value: one.id, text: `${i + 1} ${one.title || 'untitled'}` }));

/** The checkpoint's weight; a locked weight stays as the others move. */
function WeightRow({
  at,
  checkpoint,
  edit,
  locked,
  lock,
}: {
  at: (...rest: Path) => Path;
  checkpoint: Checkpoint;
  edit: Props['edit'];
  locked: Props['locked'];
  lock: Props['lock'];
}) {
  const { id, belief } = checkpoint;
  const setWeight: Set = useCallback(
    (_, weight) => edit((now) => setBelief(now, id, Number(weight), locked)),
    [edit, id, locked],
  );
  return (
    <div
      style={{
        display: 'grid',
        gridTemplateColumns: '7rem minmax(0,1fr) auto auto',
        gap: '0.6rem',
        alignItems: 'end',
      }}
    >
      <NumberInput label="Weight, of 100" path={at('belief')} set={setWeight} />
      <Slider
        label="Weight"
        most={100}
        value={belief}
        onChange={(weight) => setWeight(at('belief'), weight)}
      />
      <Small onClick={() => lock(id)} label={`${locked.has(id) ? 'Unlock' : 'Lock'} weight`}>
        {locked.has(id) ? 'unlock' : 'lock'}
      </Small>
      <Small onClick={() => edit(shareEvenly)} label="All even: every checkpoint has the same weight">
        all even
      </Small>
    </div>
  );
}

function TimePart({
  at,
  checkpoint,
  place,
  others,
}: {
  at: (...rest: Path) => Path;
  checkpoint: Checkpoint;
  place: number;
  others: Props['points'];
}) {
  const { set } = useWriting();
  const { id, window } = checkpoint;
  return (
    <Part
      title="Time and caution"
      open={[window, checkpoint.caution, checkpoint.together, checkpoint.withinSeconds].some(
        (one) => one !== undefined,
      )}
    >
      {place > 0 && (
        <Two>
          <OptionalNumberInput label="Max seconds after previous (blank = any)" path={at('withinSeconds')} />
          <SelectInput
            label="At the same moment as"
            path={at('together')}
            options={[
              { value: nothing, text: 'nothing else' },
              ...others.filter(({ value }) => value !== id),
            ]}
            none={nothing}
          />
        </Two>
      )}
      <Check
        label="Time window"
        value={window !== undefined}
        onChange={(on) => set(at('window'), on ? { opens: '', closes: '' } : undefined)}
      />
      {window && (
        <Two>
          <TextInput label="Opens" long path={at('window', 'opens')} />
          <TextInput label="Closes" long path={at('window', 'closes')} />
        </Two>
      )}
      <TextInput label="Caution" long path={at('caution')} optional />
    </Part>
  );
}

function VariantsPart({
  at,
  variants,
  newId,
}: {
  at: (...rest: Path) => Path;
  variants: Checkpoint['variants'];
  newId: Props['newId'];
}) {
  const { set } = useWriting();
  return (
    <Part title={`Variants (${variants.length})`} open={variants.length > 0}>
      {variants.map((variant, k) => (
        <VariantForm
          key={variant.id}
          path={at('variants', k)}
          variant={variant}
          remove={() => set(at('variants'), variants.toSpliced(k, 1))}
        />
      ))}
      <Small
        onClick={() =>
          set(at('variants'), [
            ...variants,
            {
              id: newId('variant'),
              name: '',
              when: conditions.school,
              criterion: '',
            } satisfies Variant,
          ])
        }
      >
        Add a variant
      </Small>
    </Part>
  );
}
