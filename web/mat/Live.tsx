import { isDrilled } from '@ulkret/core/session';
import { Suspense, useEffect, useMemo, useRef } from 'react';
import styled from 'styled-components';
import { useUnkept } from '../device/use-outbox';
import { part } from '../ui/part';
import { many } from '../ui/words';
import { Advice } from './Advice';
import { Bar } from './Bar';
import { Causes, causesHeight } from './Causes';
import { Finish } from './Finish';
import { narrow, sideways, upright } from './held';
import { Knots } from './Knots';
import { LogBar } from './LogBar';
import { OfSession, type Opened } from './OfSession';
import { pairingOfTurn, workShort } from './pair-view';
import { PairTile } from './PairTile';
import { Played } from './Played';
import { signalWords } from './signals';
import { useDrawn } from './late';
import { useLive } from './use-live';
import { useRowHeight } from './use-row-height';
import { useWakeLock } from './use-wake-lock';
import { useWatchNext } from './use-watch-next';

// What is opened over the Mat now and then is loaded then; offline, from what this device has.
const CarePanel = part(() => import('./CarePanel'));
const KeyList = part(() => import('./KeyList'));
const OverridePanel = part(() => import('./OverridePanel'));
const RepsPanel = part(() => import('./RepsPanel'));
const PairsPanel = part(() => import('./PairsPanel'));
const PlayPanel = part(() => import('./PlayPanel'));
const WorkPanel = part(() => import('./WorkPanel'));
const panels = [CarePanel, KeyList, OverridePanel, RepsPanel, PairsPanel, PlayPanel, WorkPanel];
const noTask = { task: [], called: false };
/** When the Mat has been opened: the network may be gone when a panel is wanted. */
const fetchPanelsMs = 2000;
/** As many tiles as fit on a tablet: the others come a frame later, so that the first tap can be made sooner. */
const firstTiles = 7;

/** The one screen of a round: everything in view, nothing moves under a finger. */
const Mat = styled.main`
  height: calc(100dvh - var(--strip, 0px));
  display: grid;
  grid-template:
    'top top' auto 'tiles advice' auto 'tiles stage' minmax(0, 1fr) 'tiles endings' auto
    'log log' auto / 17.5rem minmax(0, 1fr);
  gap: 0.5rem 0.8rem;
  padding: 0.5rem 0.8rem;
  overflow: hidden;
  ${upright} {
    grid-template:
      'top' auto 'tiles' auto 'advice' auto 'stage' minmax(0, 1fr) 'endings' auto 'log' auto
      / minmax(0, 1fr);
  }
  ${narrow} {
    gap: 0.35rem;
    padding: 0.35rem 0.5rem;
  }
  ${sideways} {
    grid-template:
      'top top top' auto 'tiles advice endings' auto 'tiles stage endings' minmax(0, 1fr)
      'log stage endings' auto / clamp(7.2rem, 19vw, 10rem) minmax(0, 1fr) clamp(6rem, 16vw, 8.5rem);
    gap: 0.35rem 0.5rem;
    padding: 0.35rem 0.5rem;
  }
`;

const Tiles = styled.nav`
  contain: layout style;
  grid-area: tiles;
  display: flex;
  flex-direction: column;
  gap: 0.45rem;
  overflow-y: auto;
  padding: 3px;
  > div {
    display: none;
    gap: 0.35rem;
    button {
      flex: 1;
    }
  }
  > div button,
  > :last-child {
    flex: none;
    min-height: 48px;
    border: 0;
    border-radius: 8px;
    background: transparent;
    color: var(--action);
    font-weight: 600;
    cursor: pointer;
  }
  ${upright} {
    flex-direction: row;
    overflow: auto hidden;
    > button {
      flex: 0 0 13.6rem;
    }
    > :last-child {
      flex: 0 0 6rem;
    }
  }
  /* One pair is in view, with arrows to the next. */
  ${sideways} {
    overflow: hidden auto;
    > button:not([aria-pressed='true'], :last-child) {
      display: none;
    }
    > div {
      display: flex;
      button {
        flex: 1;
        background: var(--surface);
        font-size: 1.4rem;
      }
    }
    > :last-child {
      background: var(--surface);
    }
  }
`;

const Stage = styled.section`
  contain: style;
  grid-area: stage;
  position: relative;
  overflow-y: auto;
  padding: 3px;
  /* The right-hand lane belongs to the causes, so that they never come up under a finger that means a knot; where the device stands, the room below the knots does. */
  > div:first-child {
    padding-right: var(--lane);
  }
  ol > svg {
    z-index: 1;
  }
  --lane: min(21rem, 40%);
  ${upright} {
    --lane: 0px;
    padding-bottom: ${causesHeight}px;
  }
  ${sideways} {
    --lane: 0px;
    padding-bottom: ${causesHeight}px;
  }
`;

/** What the clock says, over everything for a moment and in nobody's way. */
const SignalFlash = styled.div`
  position: fixed;
  inset: 0;
  z-index: 15;
  pointer-events: none;
  display: grid;
  place-items: center;
  border: 14px solid var(--action);
  strong {
    padding: 0.3rem 1.5rem;
    border-radius: 12px;
    background: var(--action);
    color: var(--on-action);
    font-size: clamp(2.6rem, 9vw, 6rem);
    line-height: 1.1;
    text-align: center;
  }
  &[data-signal='end'] {
    border-color: var(--stop);
    strong {
      background: var(--stop);
      color: var(--surface);
    }
  }
`;

export default function LivePage() {
  return <OfSession>{(opened) => <Live {...opened} />}</OfSession>;
}

function Live(opened: Opened) {
  const { work, technique, notes, rules, library } = opened;
  const { session } = work;
  const [live, asker, on] = useLive(opened);
  const {
    drilled: breakdown,
    set,
    gone,
    log,
    now,
    pairViews,
    at,
    view,
    turn,
    rung,
    begun,
    said,
    flash,
    over,
    nameOf,
    numberOf,
  } = live;
  const { stable, actions, add, made, change, setOver } = live;
  const watched = useWatchNext(session, live.common.breakdown, live.pairViews, live.log);
  const unkept = useUnkept();
  const drawn = useDrawn();
  const stage = useRef<HTMLDivElement>(null);
  const { rowHeight, columns, width } = useRowHeight(stage, breakdown.checkpoints.length);
  const { repsPerSide, roundSeconds } = session;
  const { members, span } = view;
  const ids = useMemo(() => breakdown.checkpoints.map(({ id }) => id), [breakdown]);
  const unseen = useMemo(
    () => new Set(ids.filter((id) => !isDrilled({ breakdown, span }, id))),
    [ids, breakdown, span],
  );
  const [first, last] = [span.from ?? ids[0]!, span.to ?? ids.at(-1)!];
  useEffect(() => {
    const timer = setTimeout(
      () => void Promise.allSettled(panels.map((panel) => panel.load())),
      fetchPanelsMs,
    );
    return () => clearTimeout(timer);
  }, []);
  useWakeLock(now.clock.since !== null);

  const spanWords =
    span.from || span.to
      ? `checkpoints ${numberOf(first, breakdown.technique)} to ${numberOf(last, breakdown.technique)}`
      : 'whole';
  return (
    <Mat>
      <Bar
        session={session.id}
        technique={gone ?? technique}
        span={spanWords}
        clock={now.clock}
        roundSeconds={roundSeconds}
        rounds={session.rounds}
        byTheClock={repsPerSide === null}
        rung={rung}
        side={turn.side}
        silent={live.silent}
        on={on}
      />
      <Tiles aria-label="Pairs">
        {pairViews.slice(0, drawn ? undefined : Math.max(firstTiles, at + 1)).map((one, i) => (
          <PairTile
            key={one.members.join()}
            place={i}
            view={i === at && !gone ? view : one}
            turn={i === at ? turn : one.turn}
            gone={one.carried && (library.get(one.carried.technique)?.technique.name ?? null)}
            repsPerSide={repsPerSide}
            active={i === at}
            watch={watched?.student === one.turn.student ? watched : null}
            nameOf={nameOf}
            numberOf={numberOf}
            onChoose={stable.choose}
          />
        ))}
        <div>
          <button type="button" aria-label="The pair before" onClick={actions.pairBefore}>
            ‹
          </button>
          <button type="button" aria-label="The next pair" onClick={actions.nextPair}>
            ›
          </button>
        </div>
        <button type="button" onClick={() => setOver({ is: 'pairs' })}>
          Change pairs
        </button>
      </Tiles>
      <Advice
        view={view}
        watch={watched?.student === turn.student ? watched : null}
        breakdown={breakdown}
        technique={gone ?? technique}
        gone={gone}
        onBack={stable.comeBack}
        tap={rules.tap}
        said={said}
        rung={rung}
        nameOf={nameOf}
        told={live.told}
        onSwap={actions.swap}
        onSpan={(to) => change({ is: 'span', pair: [...members], from: session.from, to: to ?? session.to })}
        onVoid={live.undo}
        ended={now.endedAt !== null}
        onReopen={() => change({ is: 'go on' })}
        onOverride={() => setOver({ is: 'let' })}
        onWork={() => setOver({ is: 'work' })}
        onNote={() => view.stopped && setOver({ is: 'care', note: view.stopped, people: members })}
      />
      <Stage ref={stage}>
        <Knots
          breakdown={breakdown}
          label={`${nameOf(turn.student)} attacks on the ${turn.side}: tap where the rep stopped`}
          side={turn.side}
          mode={begun.tapping}
          soft={begun.soft}
          failed={begun.failed}
          ways={view.ways}
          unseen={unseen}
          workPlace={view.work?.place ?? -1}
          workWords={view.work ? workShort(view.work) : ''}
          rowHeight={rowHeight}
          columns={columns}
          width={width}
          onStop={stable.stop}
          onSoft={stable.soften}
        />
        <Causes ref={asker} rowHeight={rowHeight} onTag={stable.tag}>
          {set && set.task.length > 0 && !gone && (
            <Played
              breakdown={breakdown}
              side={turn.side}
              set={set}
              begun={begun}
              onMeet={stable.meet}
              onCall={stable.call}
            />
          )}
        </Causes>
      </Stage>
      <Finish
        mode={begun.tapping}
        failed={ids
          .filter((id) => begun.failed.has(id))
          .map((id) => numberOf(id, breakdown.technique))
          .join(', ')}
        onFinish={stable.finish}
        onMode={stable.mean}
      />
      <LogBar
        reps={log.last}
        said={
          unkept > 0
            ? `This device is full: ${many(unkept, 'entry', 'entries')} could not be stored. Keep this page open until all is sent, or note them on paper.`
            : said
        }
        nameOf={nameOf}
        numberOf={numberOf}
        causeOf={live.causeOf}
        onUndo={stable.undo}
        onAll={stable.all}
        onPair={stable.play}
      />
      {flash && (
        <SignalFlash data-signal={flash} role="alert">
          <strong>{signalWords[flash]}</strong>
        </SignalFlash>
      )}
      <Suspense>
        {over?.is === 'keys' && (
          <KeyList keys={live.keys} onKeys={live.setKeys} close={() => setOver(null)} />
        )}
        {over?.is === 'care' && (
          <CarePanel
            note={over.note}
            people={over.people}
            nameOf={nameOf}
            onKeep={(next) =>
              add({ is: 'notes', fact: { ...over.note, ...made(), replaces: over.note.id, ...next } })
            }
            close={() => setOver(null)}
          />
        )}
        {over?.is === 'let' && (
          <OverridePanel
            permit={view.permit}
            who={`${nameOf(turn.student)}${turn.partner ? ` on ${nameOf(turn.partner)}` : ''}: ${technique.name}`}
            onLet={(reason) =>
              add({
                is: 'overrides',
                fact: {
                  ...made(),
                  student: turn.student,
                  partner: turn.partner,
                  technique: technique.id,
                  reason,
                },
              })
            }
            close={() => setOver(null)}
          />
        )}
        {over?.is === 'work' && view.work && (
          <WorkPanel
            work={view.work}
            breakdown={breakdown}
            side={turn.side}
            name={nameOf(turn.student)}
            startsHere={view.span.from === view.work.how.checkpoint}
            onStart={(here) => {
              const { checkpoint, endAt } = view.work!.how;
              const span = here
                ? { from: checkpoint, to: endAt ?? view.span.to }
                : { from: session.from, to: session.to };
              change({ is: 'span', pair: [...members], ...span });
            }}
            close={() => setOver(null)}
          />
        )}
        {over?.is === 'play' && (
          <PlayPanel
            breakdown={breakdown}
            span={span}
            side={turn.side}
            who={`${nameOf(turn.student)}${turn.partner ? ` on ${nameOf(turn.partner)}` : ''}: ${(gone ?? technique).name}`}
            pairing={pairingOfTurn(live.common, members, turn, gone ?? technique)}
            set={gone || !set ? noTask : set}
            begun={begun}
            library={library}
            onTask={(next) => change({ is: 'task', pair: [...members], ...next, task: [...next.task] })}
            onWays={(ways) => change({ is: 'ways', pair: [...members], ways })}
            onMeasure={(checkpoint, value) => live.tap({ do: 'measure', checkpoint, value })}
            onGoOn={live.goOn}
            close={() => setOver(null)}
          />
        )}
        {over?.is === 'reps' && (
          <RepsPanel
            reps={log.all()}
            pairs={now.pairs}
            people={live.people}
            numberOf={numberOf}
            causeOf={(rep) => live.causeOf(rep) ?? log.wordsOf(rep.id)}
            onUndo={live.undo}
            onMove={live.move}
            close={() => setOver(null)}
          />
        )}
        {over?.is === 'pairs' && (
          <PairsPanel
            pairs={now.pairs}
            students={live.people}
            technique={technique}
            breakdown={opened.breakdown}
            rung={rung}
            notes={[...notes, ...log.notes]}
            rules={opened.rules}
            onGuest={live.addGuest}
            onPairs={(pairs) => {
              change({ is: 'pairs', pairs });
              live.choosePair(0);
            }}
            close={() => setOver(null)}
          />
        )}
      </Suspense>
    </Mat>
  );
}
