import { endpoints, type TechniqueRow } from '@ulkret/contract';
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
import { memo, useCallback, useEffect, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import { Link, useNavigate } from 'react-router';
import styled from 'styled-components';
import { uuidv7 } from 'uuidv7';
import { ApiRefusal, ask } from '../../api/ask';
import { Button } from '../../ui/button';
import { Head, Panel, Quiet, Row } from '../../ui/frame';
import { MarkIcon } from '../../strand/marks';
import { useCritique } from '../../reader/use-library';
import { CausesForm } from './CausesForm';
import { CheckpointForm, optionsOf } from './CheckpointForm';
import { CritiquePane, focusField } from './CritiquePane';
import { Small, useSame } from './fields';
import { MeetingPanel } from './MeetingPanel';
import { Points } from './Points';
import { PositionList } from './PositionList';
import { RankPanel } from './RankPanel';
import { PublishPanel } from './PublishPanel';
import { TechniqueForm } from './TechniqueForm';
import { type Saying, useSaying } from './saying';
import { type beginFrom, type DraftState, useDraft } from './use-draft';
import { Hint } from '../../ui/hint';
import { Title } from '../../ui/title';
import { toast } from '../../ui/toast';

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
  const navigate = useNavigate();
  const [chosen, setChosen] = useState<Id | null>(draft.checkpoints[0]?.id ?? technique);
  const [locked, setLocked] = useState<ReadonlySet<Id>>(new Set());
  const [publishing, setPublishing] = useState(false);
  const [ranking, setRanking] = useState(false);
  const [trouble, setTrouble] = useState<ApiRefusal | null>(null);
  /** The edition that has come in since the draft was begun, once that was said. */
  const [over, setOver] = useState<number | null>(null);
  const findings = useCritique(draft, work.technique, rows);
  const points = useSame(optionsOf(draft.checkpoints));
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

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || !['z', 'y'].includes(event.key.toLowerCase())) return;
      event.preventDefault();
      // What is being typed counts first.
      if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
      setTimeout(event.key.toLowerCase() === 'y' || event.shiftKey ? redo : undo);
    };
    window.addEventListener('keydown', keys);
    return () => window.removeEventListener('keydown', keys);
  });

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

  const publish = async () => {
    setTrouble(null);
    const revision = await state.save();
    if (revision === null) return;
    try {
      await ask(endpoints.publish, {
        params: { id: work.technique.id },
        body: { revision, ...(over !== null && { over }) },
      });
      state.forget();
      await state.refreshLists();
      await navigate(`/library/${work.technique.id}`);
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setTrouble(error);
      // Another edition may have come in: what it is has to be known before this one follows it.
      if (error.status === 409) {
        const { editions } = await ask(endpoints.technique, { params: { id: work.technique.id } });
        setOver(editions.at(-1)?.edition ?? null);
        await state.refreshLists();
      }
    }
  };
  const discard = async () => {
    const { technique, draft } = work;
    const { id } = technique;
    setTrouble(null);
    try {
      await ask(endpoints.discardDraft, { params: { id } });
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      return setTrouble(error);
    }
    state.forget();
    // The lists follow: on a slow line nobody waits for them here.
    const lists = state.refreshLists();
    const back = async () => {
      // One that was never published went with its draft.
      if (!latest) await ask(endpoints.addTechnique, { body: technique });
      await ask(endpoints.saveDraft, {
        params: { id },
        body: {
          revision: latest ? 0 : 1,
          edition: latest?.edition ?? 0,
          edits: [{ path: [], value: { technique, draft } }],
        },
      });
      await state.refreshLists();
      await navigate(`/library/${id}?edit=1`);
    };
    toast(`Draft of ${technique.name || 'the technique'} discarded`, back);
    await navigate(latest ? `/library/${work.technique.id}` : '/library');
    await lists;
  };

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
        <Panel>
          <Row style={{ marginBottom: '0.5rem' }}>
            <Small onClick={() => setChosen(technique)}>Technique</Small>
          </Row>
          <Points draft={draft} chosen={chosen} choose={setChosen} edit={edit} />
          <Row style={{ marginTop: '0.6rem' }}>
            <Small onClick={add}>Add a checkpoint</Small>
            <Small disabled={draft.checkpoints.length < 2} onClick={() => setRanking(true)}>
              Rank by importance …
            </Small>
          </Row>
          <Hint name="workbench">
            Left arcs: dependencies. Right bars: when a defence is open (dashed: only under load).
          </Hint>
        </Panel>
        <Panel aria-label="Anatomy">
          {chosen === technique ? (
            <TechniqueForm
              technique={work.technique}
              draft={draft}
              rows={rows}
              set={set}
              edit={edit}
              newId={newId}
            />
          ) : place < 0 ? (
            <p>Choose a checkpoint, or add the first one.</p>
          ) : (
            <>
              <Row style={{ marginBottom: '0.6rem' }}>
                <MarkIcon kind={draft.checkpoints[place]!.kind} size={26} />
                <h2>Checkpoint {place + 1}</h2>
                <Small onClick={() => edit((now) => splitCheckpoint(now, chosen!, newId('point')))}>
                  Split
                </Small>
                <Small
                  disabled={place === 0}
                  onClick={() => (
                    edit((now) => joinWithBefore(now, chosen!)),
                    setChosen(draft.checkpoints[place - 1]!.id)
                  )}
                >
                  Merge with previous
                </Small>
                <Small
                  disabled={draft.checkpoints.length < 2}
                  onClick={() => (
                    edit((now) => retireCheckpoint(now, chosen!)),
                    setChosen((draft.checkpoints[place - 1] ?? draft.checkpoints[place + 1])?.id ?? null)
                  )}
                >
                  Retire
                </Small>
              </Row>
              <CheckpointForm
                key={chosen}
                checkpoint={draft.checkpoints[place]!}
                {...{ points, place, set, edit, locked, lock, newId }}
              />
              <CausesForm
                key={`${chosen} causes`}
                mistakes={draft.mistakes}
                defences={draft.defences}
                points={points}
                checkpoint={chosen!}
                rows={rows}
                set={set}
                newId={newId}
              />
            </>
          )}
        </Panel>
        <CritiquePane findings={findings} goTo={goTo} />
      </Bench>
      <PositionList />
      {ranking && <RankPanel draft={draft} edit={edit} close={() => setRanking(false)} />}
    </>
  );
}
