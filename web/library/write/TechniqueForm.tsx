import type { TechniqueRow } from '@ulkret/contract';
import {
  Attire,
  Closing,
  Defence,
  type Draft,
  type Id,
  LoadSpeed,
  Mechanism,
  Region,
  RuleTag,
  type Technique,
  TechniqueKind,
  unretireCheckpoint,
} from '@ulkret/core/breakdown';
import { Quiet } from '../../ui/frame';
import { loadsOf } from '@ulkret/core/care';
import { optionsOf } from './CheckpointForm';
import { Check, ManyInput, type Options, plainly, SelectInput, CheckInput } from './choice-fields';
import { Pane, Part, Small, Two } from './parts';
import { OpenNumberInput, OptionalNumberInput, TextInput, commas } from './text-fields';
import { useWriting } from './writing';
import { positionList } from './PositionList';

interface Props {
  technique: Technique;
  draft: Draft;
  rows: readonly TechniqueRow[];
  edit: (next: (draft: Draft) => Draft) => void;
  newId: (words: string) => Id;
}

const fromUsual = 'usual';

/** What it loads, whom, from which checkpoint on, and how hard. Until somebody says it, it is what the kind of technique says. */
function LoadsForm({
  technique,
  draft,
  points,
}: Pick<Props, 'technique' | 'draft'> & { points: ReturnType<typeof optionsOf> }) {
  const { set } = useWriting();
  const at = (...rest: (string | number)[]) => ['technique', 'loads', ...rest];
  const loads = loadsOf(technique, draft);
  return (
    <Part title={`Loaded joints (${loads.length})`} open={technique.loads !== undefined}>
      {loads.map((load, i) => (
        <Two key={i}>
          <SelectInput
            label="Region"
            path={at(i, 'region')}
            value={load.region}
            options={plainly(Region.options)}
            onChange={(region) => set(at(), loads.with(i, { ...load, region }))}
          />
          <SelectInput
            label="Whose"
            path={at(i, 'whom')}
            value={load.whom}
            options={[
              { value: 'partner', text: 'the partner' },
              { value: 'student', text: 'the attacker' },
            ]}
            onChange={(whom) => set(at(), loads.with(i, { ...load, whom }))}
          />
          <SelectInput
            label="From"
            path={at(i, 'from')}
            value={load.from ?? fromUsual}
            options={[
              { value: fromUsual, text: load.whom === 'partner' ? 'the first finish on' : 'the start' },
              ...points.map(({ value, text }) => ({ value, text: `${text} on` })),
            ]}
            onChange={(from) => set(at(), loads.with(i, { ...load, from: from === fromUsual ? null : from }))}
          />
          <SelectInput
            label="How hard"
            path={at(i, 'how')}
            value={load.how}
            options={[
              { value: 'finish', text: 'up to a tap' },
              { value: 'firm', text: 'firmly, on the way' },
              { value: 'light', text: 'lightly, on the way' },
            ]}
            onChange={(how) => set(at(), loads.with(i, { ...load, how }))}
          />
          <Small label={`Delete load ${i + 1}`} onClick={() => set(at(), loads.toSpliced(i, 1))}>
            ×
          </Small>
        </Two>
      ))}
      <Small
        onClick={() =>
          set(at(), [
            ...loads,
            { region: technique.regions[0] ?? 'neck', whom: 'partner', from: null, how: 'finish' },
          ])
        }
      >
        Add a load
      </Small>
    </Part>
  );
}

/** Which limb goes round what, and how it is locked: from it and two bodies it is told whether it closes. */
function ReachForm({ technique: { reach } }: Pick<Props, 'technique'>) {
  const { set } = useWriting();
  const at = (...rest: string[]) => ['technique', 'reach', ...rest];
  return (
    <Part title="Reach" open={reach !== undefined}>
      <Check
        label="A limb closes around the partner"
        value={reach !== undefined}
        onChange={(on) => set(at(), on ? usualReach : undefined)}
      />
      {reach && (
        <>
          <Two>
            <SelectInput label="Limb" path={at('limb')} options={plainly(Closing.shape.limb.options)} />
            <SelectInput label="Around" path={at('around')} options={plainly(Closing.shape.around.options)} />
            <TextInput label="Lock" path={at('lock')} />
            <OpenNumberInput label="Length the lock uses (cm)" path={at('takesCm')} empty={0} />
          </Two>
          <Quiet>
            An arm counts from shoulder to fingertips, a leg from hip to ankle. Variants that ask for the
            reach margin use it, on the Mat, when both bodies are known.
          </Quiet>
        </>
      )}
    </Part>
  );
}

const usualReach: Closing = { limb: 'arm', around: 'neck', lock: '', takesCm: 20 };

/** What is true of the technique as a whole: what it is, what it loads, how it is entered and left. */
export function TechniqueForm({ technique, draft, rows, edit, newId }: Props) {
  const at = (...rest: (string | number)[]) => ['technique', ...rest];
  const points = optionsOf(draft.checkpoints);
  return (
    <Pane>
      <TextInput label="Name, by what it does" path={at('name')} />
      <TextInput label="Also called, separated by commas" long path={at('aliases')} as={commas} />
      <WhatItIs />
      <ManyInput label="What it can hurt" path={at('regions')} options={plainly(Region.options)} />
      <LoadsForm technique={technique} draft={draft} points={points} />
      <ReachForm technique={technique} />
      <ManyInput label="Rule tags" path={at('ruleTags')} options={plainly(RuleTag.options)} />
      <TextInput label="Safety note" long path={at('safetyNote')} />
      <EntriesForm {...{ draft, points, newId }} />
      <ExitsForm {...{ draft, points, rows, newId }} />
      <FinishesForm draft={draft} newId={newId} />
      <FallbackForm draft={draft} />
      {(draft.retired ?? []).length > 0 && (
        <Part title="Archived checkpoints">
          {draft.retired!.map(({ id, title }) => (
            <Small key={id} onClick={() => edit((now) => unretireCheckpoint(now, id))}>
              Bring “{title || id}” back
            </Small>
          ))}
        </Part>
      )}
    </Pane>
  );
}

function WhatItIs() {
  const at = (...rest: (string | number)[]) => ['technique', ...rest];
  return (
    <Two>
      <SelectInput label="Kind" path={at('kind')} options={plainly(TechniqueKind.options)} />
      <SelectInput label="Attire" path={at('attire')} options={plainly(Attire.options)} />
      <TextInput label="Start position" path={at('startPosition')} list={positionList} />
      <SelectInput label="Mechanism" path={at('mechanism')} options={plainly(Mechanism.options)} />
      <SelectInput label="Speed" path={at('loadSpeed')} options={plainly(LoadSpeed.options)} />
    </Two>
  );
}

function EntriesForm({
  draft,
  points,
  newId,
}: {
  draft: Draft;
  points: Options;
  newId: (words: string) => Id;
}) {
  const { set } = useWriting();
  const entries = draft.entries ?? [];
  const first = draft.checkpoints[0]?.id;
  return (
    <Part title={`Other entries (${entries.length})`} open={entries.length > 0}>
      {entries.map((entry, i) => (
        <Pane key={entry.id} style={{ borderLeft: '3px solid var(--line)', paddingLeft: '0.7rem' }}>
          <Two>
            <TextInput label="From" path={['entries', i, 'from']} list={positionList} />
            <SelectInput label="Joins at" path={['entries', i, 'joinsAt']} options={points} />
          </Two>
          <TextInput label="How" long path={['entries', i, 'how']} />
          <Small onClick={() => set(['entries'], entries.toSpliced(i, 1))}>Delete entry</Small>
        </Pane>
      ))}
      {first && (
        <Small
          onClick={() =>
            set(['entries'], [...entries, { id: newId('entry'), from: '', joinsAt: first, how: '' }])
          }
        >
          Add an entry
        </Small>
      )}
    </Part>
  );
}

function ExitsForm({
  draft,
  points,
  rows,
  newId,
}: {
  draft: Draft;
  points: Options;
  rows: readonly TechniqueRow[];
  newId: (words: string) => Id;
}) {
  const { set } = useWriting();
  const exits = draft.exits ?? [];
  const first = draft.checkpoints[0]?.id;
  return (
    <Part title={`Exits to other techniques (${exits.length})`} open={exits.length > 0}>
      {exits.map((exit, i) => (
        <Pane key={exit.id} style={{ borderLeft: '3px solid var(--line)', paddingLeft: '0.7rem' }}>
          <Two>
            <SelectInput label="From checkpoint" path={['exits', i, 'at']} options={points} />
            <SelectInput
              label="To"
              path={['exits', i, 'technique']}
              options={rows.map((row) => ({ value: row.technique.id, text: row.technique.name }))}
            />
          </Two>
          <TextInput label="How" long path={['exits', i, 'how']} />
          <Two>
            <TextInput label="When to leave by it" path={['exits', i, 'when']} optional />
            <OptionalNumberInput label="Preference, from 1" path={['exits', i, 'rank']} />
          </Two>
          <CheckInput label="Unsafe for training partners" path={['exits', i, 'unsafe']} />
          <Small onClick={() => set(['exits'], exits.toSpliced(i, 1))}>Delete exit</Small>
        </Pane>
      ))}
      {first && rows[0] && (
        <Small
          onClick={() =>
            set(
              ['exits'],
              [
                ...exits,
                { id: newId('exit'), at: first, technique: rows[0]!.technique.id, how: '', unsafe: false },
              ],
            )
          }
        >
          Add an exit
        </Small>
      )}
    </Part>
  );
}

/** Several ways to finish from the same place: the Mat asks which one ended a rep. */
function FinishesForm({ draft, newId }: Pick<Props, 'draft' | 'newId'>) {
  const { set } = useWriting();
  const finishes = draft.finishes ?? [];
  const put = (next: typeof finishes) => set(['finishes'], next.length > 0 ? next : undefined);
  return (
    <Part title={`Several finishes (${finishes.length})`} open={finishes.length > 0}>
      <Quiet>Only if the last checkpoint can be finished in more than one way.</Quiet>
      {finishes.map((finish, i) => (
        <Pane key={finish.id} style={{ borderLeft: '3px solid var(--line)', paddingLeft: '0.7rem' }}>
          <Two>
            <TextInput label="Finish" path={['finishes', i, 'title']} />
            <OptionalNumberInput label="Preference, from 1" path={['finishes', i, 'rank']} />
          </Two>
          <TextInput label="How" long path={['finishes', i, 'how']} />
          <Small onClick={() => put(finishes.toSpliced(i, 1))}>Delete finish</Small>
        </Pane>
      ))}
      <Small onClick={() => put([...finishes, { id: newId('finish'), title: '', how: '' }])}>
        Add a finish
      </Small>
    </Part>
  );
}

/** Where the attacker is left by a mistake that cannot be fixed. */
function FallbackForm({ draft: { fallback } }: Pick<Props, 'draft'>) {
  const { set } = useWriting();
  return (
    <Part title="If it fails" open={fallback !== undefined}>
      <Check
        label="A mistake that cannot be fixed leaves the two somewhere"
        value={fallback !== undefined}
        onChange={(on) => set(['fallback'], on ? { position: '', ahead: 'neither' } : undefined)}
      />
      {fallback && (
        <Two>
          <TextInput label="Ending position" path={['fallback', 'position']} list={positionList} />
          <SelectInput
            label="Who is ahead there"
            path={['fallback', 'ahead']}
            options={plainly(Defence.shape.leaves.shape.ahead.options)}
          />
        </Two>
      )}
    </Part>
  );
}
