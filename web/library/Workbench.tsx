import { endpoints, type TechniqueRow } from '@ulkret/contract';
import {
  addCheckpoint,
  type Breakdown,
  type Draft,
  type Finding,
  type Id,
  joinWithBefore,
  mirror,
  moveCheckpoint,
  placeOf,
  retireCheckpoint,
  splitCheckpoint,
  textsOf,
  setAt,
} from '@ulkret/core/breakdown';
import { memo, useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import styled from 'styled-components';
import { uuidv7 } from 'uuidv7';
import { ApiRefusal, ask } from '../shell/ask';
import { Button, Head, Panel, Quiet, Row } from '../shell/ui';
import { many } from '../shell/words';
import { type Knot, Strand } from '../strand/Strand';
import { MarkIcon } from '../strand/marks';
import { useCritique } from '../workers/use-library';
import { CausesForm } from './CausesForm';
import { CheckpointForm } from './CheckpointForm';
import { Small } from './fields';
import { MeetingPanel } from './MeetingPanel';
import { PublishPanel } from './PublishPanel';
import { TechniqueForm } from './TechniqueForm';
import { type beginFrom, useDraft } from './use-draft';

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

const KnotRow = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  gap: 0.2rem;
  border-radius: 8px;
  padding: 0.1rem 0.2rem;
  &[data-chosen] {
    background: var(--wash);
  }
  &[data-over] {
    outline: 2px dashed var(--action);
  }
  > button:first-child {
    border: 0;
    background: transparent;
    text-align: left;
    color: inherit;
    cursor: pointer;
    min-height: 2.6rem;
    line-height: 1.15;
    padding: 0.2rem 0.3rem;
    font-size: 0.96rem;
  }
  strong {
    font-weight: 600;
  }
  span[data-grip] {
    cursor: grab;
    touch-action: none;
    color: var(--muted);
    padding: 0.6rem 0.4rem;
  }
`;

const Findings = styled.ol`
  display: grid;
  gap: 0.5rem;
  margin-top: 0.6rem;
  button {
    border: 0;
    border-left: 4px solid var(--soft);
    background: var(--raised);
    color: var(--ink);
    text-align: left;
    padding: 0.45rem 0.6rem;
    width: 100%;
    cursor: pointer;
    border-radius: 0 6px 6px 0;
    font-size: 0.94rem;
  }
  button[data-error] {
    border-color: var(--stop);
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

/** Where a breakdown is written: the strand, the chosen checkpoint's anatomy, and what the critique finds. */
export function Workbench({ start, latest, rows }: WorkbenchProps) {
  const state = useDraft(start);
  const { work, set, edit, undo, redo } = state;
  const { draft } = work;
  const navigate = useNavigate();
  const [chosen, setChosen] = useState<Id | null>(draft.checkpoints[0]?.id ?? technique);
  const [locked, setLocked] = useState<ReadonlySet<Id>>(new Set());
  const [publishing, setPublishing] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const late = useDeferredValue(work);
  const findings = useCritique(late.draft, late.technique, rows);
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
  const add = () => {
    const id = newId('point');
    edit((now) => addCheckpoint(now, place < 0 ? now.checkpoints.length : place + 1, id));
    setChosen(id);
  };
  const mirrorAll = () =>
    edit((now) => textsOf(now).reduce<Draft>((sum, { path, text }) => setAt(sum, path, mirror(text)), now));

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
    if (list === 'checkpoints') setChosen(draft.checkpoints[at]?.id ?? draft.checkpoints[0]?.id ?? technique);
    else if (list === 'mistakes') setChosen(draft.mistakes[at]?.at ?? null);
    else if (list === 'defences') setChosen(draft.defences[at]?.opens ?? null);
    else setChosen(technique);
    setTimeout(() => focusField(path), 60);
  });

  const publish = async () => {
    setTrouble(null);
    const revision = await state.save();
    if (revision === null) return;
    try {
      await ask(endpoints.publish, { params: { id: work.technique.id }, body: { revision } });
      state.forget();
      await state.refreshLists();
      await navigate(`/library/${work.technique.id}`);
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setTrouble(`${error.message} ${error.todo}`);
    }
  };
  const discard = async () => {
    await ask(endpoints.discardDraft, { params: { id: work.technique.id } });
    state.forget();
    await state.refreshLists();
    await navigate(latest ? `/library/${work.technique.id}` : '/library');
  };

  return (
    <>
      <Head>
        <div>
          <h1>{work.technique.name || 'Untitled'}</h1>
          <Quiet role="status" data-testid="draft-status">
            Draft of edition {(latest?.edition ?? 0) + 1}: {state.status}
          </Quiet>
        </div>
        <Row>
          <Button $quiet isDisabled={!state.canUndo} onPress={undo}>
            Undo
          </Button>
          <Button $quiet isDisabled={!state.canRedo} onPress={redo}>
            Redo
          </Button>
          <Button $quiet onPress={mirrorAll}>
            Mirror all text
          </Button>
          <Button onPress={() => setPublishing(!publishing)}>Publish …</Button>
          <Link to={latest ? `/library/${work.technique.id}` : '/library'}>Leave it as a draft</Link>
        </Row>
      </Head>
      {state.notice && <Panel role="status">{state.notice}</Panel>}
      {state.meeting && <MeetingPanel meeting={state.meeting} settle={state.settle} />}
      {publishing && (
        <PublishPanel
          work={work}
          latest={latest}
          findings={findings}
          trouble={trouble}
          publish={() => void publish()}
          discard={() => void discard()}
        />
      )}
      <Bench>
        <Panel>
          <Row style={{ marginBottom: '0.5rem' }}>
            <Small onClick={() => setChosen(technique)}>The technique itself</Small>
          </Row>
          <Points draft={draft} chosen={chosen} choose={setChosen} edit={edit} />
          <Row style={{ marginTop: '0.6rem' }}>
            <Small onClick={add}>Add a checkpoint</Small>
          </Row>
          <Quiet style={{ marginTop: '0.6rem', fontSize: '0.9rem' }}>
            Arcs on the left: what waits for what. Bars on the right: when a defence is open; dashed only
            under load.
          </Quiet>
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
            <p>Choose a checkpoint, or add the first thing that must become true.</p>
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
                  Join with the one before
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
              <CheckpointForm key={chosen} {...{ draft, place, set, edit, locked, lock, newId }} />
              <CausesForm
                key={`${chosen} causes`}
                draft={draft}
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
    </>
  );
}

/** The field of a path, or the nearest one around it: opened, brought into view, and given the focus. */
function focusField(path: Finding['path']): void {
  for (let n = path.length; n > 0; n--) {
    const field = document.querySelector<HTMLElement>(
      `[data-path="${CSS.escape(path.slice(0, n).join('.')).replaceAll('\\.', '.')}"]`,
    );
    if (!field) continue;
    for (let fold = field.closest('details'); fold; fold = fold.parentElement?.closest('details') ?? null)
      fold.open = true;
    field.scrollIntoView({ block: 'center' });
    field.focus();
    return;
  }
}

const CritiquePane = memo(function CritiquePane({
  findings,
  goTo,
}: {
  findings: Finding[] | null;
  goTo: (finding: Finding) => void;
}) {
  const errors = findings?.filter(({ severity }) => severity === 'error') ?? [];
  const warnings = findings?.filter(({ severity }) => severity === 'warning') ?? [];
  return (
    <Panel
      aria-label="Critique"
      style={{ position: 'sticky', top: '1rem', maxHeight: 'calc(100vh - 2rem)', overflow: 'auto' }}
    >
      <h2>Critique</h2>
      <Quiet role="status">
        {findings === null
          ? 'Looking …'
          : findings.length === 0
            ? 'Nothing that a program can see is wrong.'
            : `${many(errors.length, 'error')}, ${many(warnings.length, 'warning')}`}
      </Quiet>
      <Findings>
        {[...errors, ...warnings].map((finding, i) => (
          <li key={`${finding.path.join('.')} ${i}`}>
            <button
              type="button"
              data-error={finding.severity === 'error' || undefined}
              onClick={() => goTo(finding)}
            >
              {finding.severity === 'error' && <b>Error. </b>}
              {finding.text}
            </button>
          </li>
        ))}
      </Findings>
    </Panel>
  );
});

interface PointsProps {
  draft: Draft;
  chosen: Id | null;
  choose: (id: Id) => void;
  edit: (next: (draft: Draft) => Draft) => void;
}

const rowHeight = 70;

/** A value that stays the same object while it says the same, so that what is drawn from it is not drawn again. */
function useSame<T>(value: T): T {
  const text = JSON.stringify(value);
  return useMemo(() => JSON.parse(text) as T, [text]);
}

/** The strand of a draft: choose by tap or key, move by the grip, or by Alt and the arrows. */
const Points = memo(function Points({ draft, chosen, choose, edit }: PointsProps) {
  const list = useRef<HTMLDivElement>(null);
  const [over, setOver] = useState<number | null>(null);
  const dragged = useRef<Id | null>(null);
  const knots = useSame(
    draft.checkpoints.map(({ id, kind, belief, title }) => ({ id, kind, belief, title })),
  );
  const links = useSame(
    draft.checkpoints.flatMap(({ id, after }) => after.map((from) => ({ from, to: id }))),
  );
  const spans = useSame(
    draft.defences.map(({ id, opens, closes, title, underLoadOnly }) => ({
      ...{ id, from: opens, to: closes, label: title, loaded: underLoadOnly },
    })),
  );
  const count = knots.length;
  const placeUnder = useCallback(
    (y: number): number => {
      const top = list.current!.querySelector('ol')!.getBoundingClientRect().top;
      return Math.min(count - 1, Math.max(0, Math.floor((y - top) / rowHeight)));
    },
    [count],
  );
  const row = useCallback(
    ({ id, kind, belief }: Knot, place: number) => {
      const title = knots[place]?.title;
      const end = (to: number | null) => {
        const moved = dragged.current;
        dragged.current = null;
        setOver(null);
        if (moved && to !== null) edit((now) => moveCheckpoint(now, moved, to));
      };
      return (
        <KnotRow data-chosen={id === chosen || undefined} data-over={over === place || undefined}>
          <button
            type="button"
            aria-current={id === chosen ? 'true' : undefined}
            title="Alt with the arrows moves it"
            onClick={() => choose(id)}
            onKeyDown={(event) => {
              const step = event.altKey && { ArrowUp: -1, ArrowDown: 1 }[event.key];
              if (!step) return;
              event.preventDefault();
              edit((now) => moveCheckpoint(now, id, placeOf(now, id) + step));
            }}
          >
            <strong>
              {place + 1} {title || <i>untitled</i>}
            </strong>{' '}
            <Quiet as="span">
              {kind}, {Math.round(belief)} %
            </Quiet>
          </button>
          <span
            data-grip
            aria-hidden
            onPointerDown={(event) => {
              dragged.current = id;
              event.currentTarget.setPointerCapture(event.pointerId);
            }}
            onPointerMove={(event) => dragged.current && setOver(placeUnder(event.clientY))}
            onPointerUp={(event) => end(placeUnder(event.clientY))}
            onPointerCancel={() => end(null)}
          >
            ⠿
          </span>
        </KnotRow>
      );
    },
    [knots, chosen, over, edit, choose, placeUnder],
  );
  return (
    <div ref={list}>
      <Strand
        label="Checkpoints"
        knots={knots}
        links={links}
        spans={spans}
        selected={chosen}
        rowHeight={rowHeight}
        width={104}
        row={row}
      />
    </div>
  );
});
