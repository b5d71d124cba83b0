import {
  Attire,
  type Checkpoint,
  CheckpointKind,
  type When,
  type Draft,
  type Id,
  Proof,
  shareEvenly,
  setBelief,
  type Tolerance,
  unitsOf,
  type Variant,
} from '@ulkret/core/breakdown';
import { memo, useCallback, useMemo } from 'react';
import { Slider } from '../ui/slider';
import {
  Check,
  ManyInput,
  NumberInput,
  Unfold,
  Pane,
  Part,
  plainly,
  SelectInput,
  type Set,
  Small,
  TextInput,
  Two,
} from './fields';

const usualTolerance: Tolerance = { quantity: 'angle', unit: 'degrees', low: 0, high: 90, between: '' };
type Path = readonly (string | number)[];

interface Props {
  checkpoint: Checkpoint;
  /** The checkpoints to choose from, this one among them. */
  points: readonly { value: Id; text: string }[];
  place: number;
  set: Set;
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
  set,
  edit,
  locked,
  lock,
  newId,
}: Props) {
  const at = (...rest: Path): Path => ['checkpoints', place, ...rest];
  const { id, proofs, tolerance, window, mendable, variants, belief } = checkpoint;
  const setWorth: Set = useCallback(
    (_, worth) => edit((now) => setBelief(now, id, Number(worth), locked)),
    [edit, id, locked],
  );
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
      <TextInput label="Title, as a short order" path={at('title')} value={checkpoint.title} set={set} />
      <TextInput
        label="Criterion: one thing that is true or false"
        long
        path={at('criterion')}
        value={checkpoint.criterion}
        set={set}
      />
      <Two>
        <SelectInput
          label="Kind"
          path={at('kind')}
          value={checkpoint.kind}
          options={plainly(CheckpointKind.options)}
          onChange={(kind) => set(at('kind'), kind)}
        />
        <SelectInput
          label="Once missed"
          path={at('mendable')}
          value={mendable?.backTo ?? 'start over'}
          options={fixing}
          onChange={(backTo) => set(at('mendable'), backTo === 'start over' ? null : { backTo })}
        />
      </Two>
      <div
        style={{
          display: 'grid',
          gridTemplateColumns: '7rem minmax(0,1fr) auto auto',
          gap: '0.6rem',
          alignItems: 'end',
        }}
      >
        <NumberInput label="Worth, of 100" path={at('belief')} value={belief} set={setWorth} />
        <Slider label="Worth" most={100} value={belief} onChange={(worth) => setWorth(at('belief'), worth)} />
        <Small onClick={() => lock(id)} label={`${locked.has(id) ? 'Let' : 'Hold'} this worth`}>
          {locked.has(id) ? 'held' : 'hold'}
        </Small>
        <Small onClick={() => edit(shareEvenly)} label="All even: every checkpoint is worth the same">
          all even
        </Small>
      </div>
      {place > 0 && (
        <ManyInput
          label="Must hold before it"
          path={at('after')}
          value={checkpoint.after}
          options={before}
          onChange={(after) => set(at('after'), after)}
        />
      )}
      <Part title="How one can tell">
        {proofs.map((proof, k) => (
          <div
            key={k}
            style={{
              display: 'grid',
              gridTemplateColumns: '7rem minmax(0,1fr) auto',
              gap: '0.5rem',
              alignItems: 'end',
            }}
          >
            <SelectInput
              label="By"
              path={at('proofs', k, 'by')}
              value={proof.by}
              options={plainly(Proof.shape.by.options)}
              onChange={(by) => set(at('proofs', k, 'by'), by)}
            />
            <TextInput
              label={`Proof ${k + 1}`}
              long
              path={at('proofs', k, 'text')}
              value={proof.text}
              set={set}
            />
            <Small
              label={`Take proof ${k + 1} away`}
              onClick={() => set(at('proofs'), proofs.toSpliced(k, 1))}
            >
              ×
            </Small>
          </div>
        ))}
        <Small onClick={() => set(at('proofs'), [...proofs, { by: 'see', text: '' }])}>Add a proof</Small>
        <ToleranceForm path={at('tolerance')} tolerance={tolerance} set={set} />
      </Part>
      <Part title="Window and caution" open={window !== undefined || checkpoint.caution !== undefined}>
        <Check
          label="It can be done only for a while"
          value={window !== undefined}
          onChange={(on) => set(at('window'), on ? { opens: '', closes: '' } : undefined)}
        />
        {window && (
          <Two>
            <TextInput label="Opens" long path={at('window', 'opens')} value={window.opens} set={set} />
            <TextInput label="Closes" long path={at('window', 'closes')} value={window.closes} set={set} />
          </Two>
        )}
        <TextInput
          label="Caution"
          long
          path={at('caution')}
          value={checkpoint.caution ?? ''}
          set={(path, value) => set(path, value === '' ? undefined : value)}
        />
      </Part>
      <Part title={`Variants (${variants.length})`} open={variants.length > 0}>
        {variants.map((variant, k) => (
          <VariantForm
            key={variant.id}
            path={at('variants', k)}
            variant={variant}
            set={set}
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
    </Pane>
  );
});

function ToleranceForm({ path, tolerance, set }: { path: Path; tolerance: Tolerance | undefined; set: Set }) {
  return (
    <>
      <Check
        label="It is measured"
        value={tolerance !== undefined}
        onChange={(on) => set(path, on ? usualTolerance : undefined)}
      />
      {tolerance && (
        <>
          <Two>
            <SelectInput
              label="Quantity"
              path={[...path, 'quantity']}
              value={tolerance.quantity}
              options={plainly(Object.keys(unitsOf) as Tolerance['quantity'][])}
              onChange={(quantity) => set(path, { ...tolerance, quantity, unit: unitsOf[quantity][0]! })}
            />
            <SelectInput
              label="Unit"
              path={[...path, 'unit']}
              value={tolerance.unit}
              options={plainly(unitsOf[tolerance.quantity])}
              onChange={(unit) => set([...path, 'unit'], unit)}
            />
            <NumberInput label="From" path={[...path, 'low']} value={tolerance.low} set={set} />
            <NumberInput label="To" path={[...path, 'high']} value={tolerance.high} set={set} />
          </Two>
          <TextInput
            label="Measured between"
            long
            path={[...path, 'between']}
            value={tolerance.between}
            set={set}
          />
        </>
      )}
    </>
  );
}

const conditions: Readonly<Record<When['on'], When>> = {
  school: { on: 'school', school: '' },
  attire: { on: 'attire', attire: 'gi' },
  body: { on: 'body', fact: 'reach margin', is: '<', value: 0 },
  situation: { on: 'situation', situation: '' },
};
const facts = ['reach margin', 'partner mass ratio', 'hip mobility', 'stature ratio'] as const;
const mobility = ['low', 'middle', 'high'] as const;

function VariantForm({
  path,
  variant,
  set,
  remove,
}: {
  path: Path;
  variant: Variant;
  set: Set;
  remove: () => void;
}) {
  const { when } = variant;
  const at = (...rest: Path): Path => [...path, ...rest];
  return (
    <Unfold name={variant.name} path={path}>
      <Two>
        <TextInput label="Variant" path={at('name')} value={variant.name} set={set} />
        <SelectInput
          label="When"
          path={at('when')}
          value={when.on}
          options={[
            { value: 'school', text: 'a school is chosen' },
            { value: 'attire', text: 'of the attire' },
            { value: 'body', text: 'of the bodies' },
            { value: 'situation', text: 'of a situation' },
          ]}
          onChange={(on) => set(at('when'), conditions[on])}
        />
        {when.on === 'school' && (
          <TextInput label="School" path={at('when', 'school')} value={when.school} set={set} />
        )}
        {when.on === 'situation' && (
          <TextInput label="Situation" path={at('when', 'situation')} value={when.situation} set={set} />
        )}
        {when.on === 'attire' && (
          <SelectInput
            label="Attire"
            path={at('when', 'attire')}
            value={when.attire}
            options={plainly(Attire.options)}
            onChange={(attire) => set(at('when', 'attire'), attire)}
          />
        )}
        {when.on === 'body' && (
          <>
            <SelectInput
              label="Fact"
              path={at('when', 'fact')}
              value={when.fact}
              options={plainly(facts)}
              onChange={(fact) =>
                set(at('when'), {
                  ...when,
                  fact,
                  ...(fact === 'hip mobility' ? { is: '=', value: 'low' } : { is: '<', value: 0 }),
                })
              }
            />
            {when.fact === 'hip mobility' ? (
              <SelectInput
                label="Is"
                path={at('when', 'value')}
                value={String(when.value) as (typeof mobility)[number]}
                options={plainly(mobility)}
                onChange={(value) => set(at('when', 'value'), value)}
              />
            ) : (
              <>
                <SelectInput
                  label="Is"
                  path={at('when', 'is')}
                  value={when.is}
                  options={[
                    { value: '<', text: 'under' },
                    { value: '>', text: 'over' },
                    { value: '=', text: 'just' },
                  ]}
                  onChange={(is) => set(at('when', 'is'), is)}
                />
                <NumberInput label="Value" path={at('when', 'value')} value={Number(when.value)} set={set} />
              </>
            )}
          </>
        )}
      </Two>
      <TextInput
        label="Criterion in this variant"
        long
        path={at('criterion')}
        value={variant.criterion ?? ''}
        set={set}
      />
      <TextInput
        label="Caution of this variant"
        long
        path={at('caution')}
        value={variant.caution ?? ''}
        set={(to, value) => set(to, value === '' ? undefined : value)}
      />
      <ToleranceForm path={at('tolerance')} tolerance={variant.tolerance} set={set} />
      <Small onClick={remove}>Take this variant away</Small>
    </Unfold>
  );
}

/** What a checkpoint is called where it is one of several. */
export const optionsOf = (list: readonly Checkpoint[]) =>
  list.map((one, i) => ({ value: one.id, text: `${i + 1} ${one.title || 'untitled'}` }));
