import type { TechniqueRow } from '@ulkret/contract';
import {
  addCheckpoint,
  type Breakdown,
  type Draft,
  type Finding,
  type Id,
  joinWithBefore,
  mirror,
  placeOf,
  retireCheckpoint,
  splitCheckpoint,
  type Technique,
  textsOf,
  setAt,
} from '@ulkret/core/breakdown';
import { memo, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import { Link } from 'react-router';
import styled from 'styled-components';
import { uuidv7 } from 'uuidv7';
import { Button } from '../../ui/button';
import { Head, Panel, Quiet, Row } from '../../ui/frame';
import { MarkIcon } from '../../strand/marks';
import { useCritique } from '../../reader/use-library';
import { CausesForm } from './CausesForm';
import { CheckpointForm, optionsOf } from './CheckpointForm';
import { CritiquePane, focusField } from './CritiquePane';
import { type Options } from './choice-fields';
import { Small } from './parts';
import { useSame } from './stable';
import { Writing } from './writing';
import { MeetingPanel } from './MeetingPanel';
import { Points } from './Points';
import { PositionList } from './PositionList';
import { RankPanel } from './RankPanel';
import { PublishPanel } from './PublishPanel';
import { TechniqueForm } from './TechniqueForm';
import { type Saying, useSaying } from './saying';
import { type beginFrom, type DraftState, useDraft } from './use-draft';
import { usePublishing } from './use-publishing';
import { Hint } from '../../ui/hint';
import { Title } from '../../ui/title';

const Bench = styled.div`
  display: grid;
  grid-template-columns: minmax(17rem, 4fr) minmax(0, 6fr) minmax(13rem, 3fr);
  gap: 0.9rem;
  align-items: start;
  /* What is typed in one pane is laid out and painted there alone. */
  > section {
    contain: layout style paint;
    will-change: transform;
  }
  @media (max-width: 1000px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;

const technique = 'technique';

/** A name for a new thing that no other device gives. */
const newId = (words: string): Id => `${words}-${uuidv7().slice(-12)}`;

interface WorkbenchProps {
  start: ReturnType<typeof beginFrom>;
  latest: Breakdown | undefined;
  rows: readonly TechniqueRow[];
}

/** A function that stays the same object and does what the latest of its kind does. */
function useStable<A extends unknown[]>(task: (...args: A) => void): (...args: A) => void {
  const latest = useRef(task);
  useEffect(() => {
    latest.current = task;
  });
  return useCallback((...args: A) => latest.current(...args), []);
}

/** The strand of the draft, and the actions on all of it. */
const BenchHead = memo(function BenchHead({
  technique: { id, name },
  edition,
  status,
  canUndo,
  canRedo,
  undo,
  redo,
  edit,
  togglePublishing,
}: Pick<DraftState, 'status' | 'canUndo' | 'canRedo' | 'undo' | 'redo' | 'edit'> & {
  technique: Technique;
  /** The latest that is published, or 0. */
  edition: number;
  togglePublishing: () => void;
}) {
  const mirrorAll = () =>
    edit((now) => textsOf(now).reduce<Draft>((sum, { path, text }) => setAt(sum, path, mirror(text)), now));
  return (
    <Head>
      <div>
        <Title>{name || 'Untitled'}</Title>
        <Quiet role="status" data-testid="draft-status">
          Draft of edition {edition + 1}: <Said by={status} />
        </Quiet>
      </div>
      <Row>
        <Button $quiet isDisabled={!canUndo} onPress={undo}>
          Undo
        </Button>
        <Button $quiet isDisabled={!canRedo} onPress={redo}>
          Redo
        </Button>
        <Button $quiet onPress={mirrorAll}>
          Mirror all text
        </Button>
        <Button onPress={togglePublishing}>Publish …</Button>
        <Link to={edition > 0 ? `/library/${id}` : '/library'}>Save draft</Link>
      </Row>
    </Head>
  );
});

const Said = ({ by }: { by: Saying }) => useSaying(by);

/** Where a breakdown is written: the strand, the chosen checkpoint's anatomy, and what the critique finds. */
export function Workbench({ start, latest, rows }: WorkbenchProps) {
  const state = useDraft(start);
  const { work, set, edit, undo, redo } = state;
  const { draft } = work;
  const [chosen, setChosen] = useState<Id | null>(draft.checkpoints[0]?.id ?? technique);
  const [locked, setLocked] = useState<ReadonlySet<Id>>(new Set());
  const [publishing, setPublishing] = useState(false);
  const [ranking, setRanking] = useState(false);
  const { trouble, over, publish, discard } = usePublishing(state, latest);
  const findings = useCritique(draft, work.technique, rows);
  const points = useSame(optionsOf(draft.checkpoints));
  const whole = useMemo(() => ({ ...draft, technique: work.technique }), [draft, work.technique]);
  const place = chosen === technique || chosen === null ? -1 : placeOf(draft, chosen);

  const lock = useCallback(
    (id: Id) =>
      setLocked((now) => {
        const next = new Set(now);
        if (!next.delete(id)) next.add(id);
        return next;
      }),
    [],
  );
  const togglePublishing = useCallback(() => setPublishing((on) => !on), []);
  const add = () => {
    const id = newId('point');
    edit((now) => addCheckpoint(now, place < 0 ? now.checkpoints.length : place + 1, id));
    setChosen(id);
    fresh.current = id;
  };
  // The title of a new checkpoint is typed next: else a space would press the button once more.
  const fresh = useRef<string | null>(null);
  useEffect(() => {
    if (place < 0 || chosen !== fresh.current) return;
    fresh.current = null;
    focusField(['checkpoints', place, 'title']);
  });

  useUndoKeys(undo, redo);

  const goTo = useStable(({ path }: Finding) => {
    const [list, index] = path;
    const at = Number(index);
    const first = draft.checkpoints[0]?.id ?? technique;
    const there = {
      checkpoints: draft.checkpoints[at]?.id ?? first,
      mistakes: draft.mistakes[at]?.at ?? null,
      defences: draft.defences[at]?.opens ?? null,
    };
    flushSync(() => setChosen(list! in there ? there[list as keyof typeof there] : technique));
    focusField(path);
  });

  return (
    <>
      <BenchHead
        technique={work.technique}
        edition={latest?.edition ?? 0}
        {...{ status: state.status, canUndo: state.canUndo, canRedo: state.canRedo }}
        {...{ undo, redo, edit, togglePublishing }}
      />
      {state.notice && <Panel role="status">{state.notice}</Panel>}
      {state.meeting && <MeetingPanel meeting={state.meeting} settle={state.settle} />}
      {publishing && (
        <PublishPanel
          work={work}
          latest={latest}
          findings={findings}
          trouble={trouble}
          warned={over !== null}
          publish={() => void publish()}
          discard={() => void discard()}
        />
      )}
      <Bench>
        <StrandPane {...{ draft, chosen, edit, add }} choose={setChosen} rank={() => setRanking(true)} />
        <Panel aria-label="Anatomy">
          <Writing whole={whole} set={set}>
            {chosen === technique ? (
              <TechniqueForm technique={work.technique} draft={draft} rows={rows} edit={edit} newId={newId} />
            ) : place < 0 ? (
              <p>Choose a checkpoint, or add the first one.</p>
            ) : (
              <OpenCheckpoint {...{ draft, place, points, rows, locked, lock, edit }} choose={setChosen} />
            )}
          </Writing>
        </Panel>
        <CritiquePane findings={findings} goTo={goTo} />
      </Bench>
      <PositionList />
      {ranking && <RankPanel draft={draft} edit={edit} close={() => setRanking(false)} />}
    </>
  );
}

/** Ctrl-Z and its like work on the whole draft. */
function useUndoKeys(undo: () => void, redo: () => void): void {
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || !['z', 'y'].includes(event.key.toLowerCase())) return;
      event.preventDefault();
      // Text that is still being typed is saved first.
      if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
      setTimeout(event.key.toLowerCase() === 'y' || event.shiftKey ? redo : undo);
    };
    window.addEventListener('keydown', keys);
    return () => window.removeEventListener('keydown', keys);
  });
}

interface Bound {
  draft: Draft;
  edit: DraftState['edit'];
  choose: (id: Id | null) => void;
}

/** The strand of the draft: choose a checkpoint, move it, add one. */
function StrandPane({
  draft,
  chosen,
  edit,
  choose,
  add,
  rank,
}: Bound & { chosen: Id | null; add: () => void; rank: () => void }) {
  return (
    <Panel>
      <Row style={{ marginBottom: '0.5rem' }}>
        <Small onClick={() => choose(technique)}>Technique</Small>
      </Row>
      <Points draft={draft} chosen={chosen} choose={choose} edit={edit} />
      <Row style={{ marginTop: '0.6rem' }}>
        <Small onClick={add}>Add a checkpoint</Small>
        <Small disabled={draft.checkpoints.length < 2} onClick={rank}>
          Rank by importance …
        </Small>
      </Row>
      <Hint name="workbench">
        Left arcs: dependencies. Right bars: when a defence is open (dashed: only under load).
      </Hint>
    </Panel>
  );
}

/** The checkpoint at a place, with its causes. */
function OpenCheckpoint({
  draft,
  place,
  points,
  rows,
  locked,
  lock,
  edit,
  choose,
}: Bound & {
  place: number;
  points: Options;
  rows: readonly TechniqueRow[];
  locked: ReadonlySet<Id>;
  lock: (id: Id) => void;
}) {
  const { id } = draft.checkpoints[place]!;
  return (
    <>
      <Row style={{ marginBottom: '0.6rem' }}>
        <MarkIcon kind={draft.checkpoints[place]!.kind} size={26} />
        <h2>Checkpoint {place + 1}</h2>
        <Small onClick={() => edit((now) => splitCheckpoint(now, id, newId('point')))}>Split</Small>
        <Small
          disabled={place === 0}
          onClick={() => (edit((now) => joinWithBefore(now, id)), choose(draft.checkpoints[place - 1]!.id))}
        >
          Merge with previous
        </Small>
        <Small
          disabled={draft.checkpoints.length < 2}
          onClick={() => (
            edit((now) => retireCheckpoint(now, id)),
            choose((draft.checkpoints[place - 1] ?? draft.checkpoints[place + 1])?.id ?? null)
          )}
        >
          Archive
        </Small>
      </Row>
      <CheckpointForm
        key={id}
        checkpoint={draft.checkpoints[place]!}
        {...{ points, place, edit, locked, lock, newId }}
      />
      <CausesForm
        key={`${id} causes`}
        mistakes={draft.mistakes}
        defences={draft.defences}
        points={points}
        checkpoint={id}
        rows={rows}
        newId={newId}
      />
    </>
  );
}
