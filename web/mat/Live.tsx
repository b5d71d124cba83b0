import { otherSide, placeOf } from '@ulkret/core/breakdown';
import { type CareNote, neutralRules } from '@ulkret/core/care';
import { signOffShort } from '@ulkret/core/prescription';
import { type Rep, type Rung } from '@ulkret/core/rep';
import {
  type Ending,
  halfOf,
  leftOf,
  sameTurn,
  sessionNow,
  toggled,
  type Turn,
  type Turning,
  turnOf,
} from '@ulkret/core/session';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { uuidv7 } from 'uuidv7';
import { clock as timepiece } from '../api/clock';
import type { Entry } from '@ulkret/core/facts';
import styled from 'styled-components';
import { useUnkept } from '../device/use-outbox';
import { useHere } from '../api/signed-in';
import { many } from '../ui/words';
import { Advice } from './Advice';
import { Bar } from './Bar';
import { type Asker, Causes } from './Causes';
import { CarePanel } from './CarePanel';
import { Finish, type Tapping } from './Finish';
import { KeyList } from './KeyList';
import { chosenKeys, useMatKeys } from './keys';
import { Knots } from './Knots';
import { LogBar } from './LogBar';
import { OfSession, type Opened } from './OfSession';
import { OverridePanel } from './OverridePanel';
import { type Common, usePairViews, permitOfTurn, capsOfPartner, workOf, type PairView } from './pair-view';
import { PairsPanel } from './PairsPanel';
import { PairTile } from './PairTile';
import { play, type Signal, signalWords } from './signals';
import { today } from '../device/kit';
import { useRowHeight } from './use-row-height';
import { stamp, useStanding } from '../device/session-log';
import { useWakeLock } from './use-wake-lock';

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

/** Always there, always in the same place. */
const SafetyBar = styled.button`
  grid-area: safety;
  height: 48px;
  border: 0;
  border-radius: 10px;
  background: var(--stop);
  color: var(--surface);
  font-size: 1.12rem;
  font-weight: 650;
  cursor: pointer;
  touch-action: manipulation;
  &:active {
    filter: brightness(0.85);
  }
`;

const Stage = styled.section`
  contain: style;
  grid-area: stage;
  position: relative;
  overflow-y: auto;
  padding: 3px;
  /* The right-hand lane belongs to the causes, so that they never come up under a finger that means a knot. */
  > ol {
    padding-right: var(--lane);
  }
  > ol > svg {
    z-index: 1;
  }
  --lane: min(21rem, 40%);
  @media (max-width: 1000px) {
    --lane: 0px;
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
  > :last-child {
    flex: none;
    min-height: 48px;
    border: 0;
    background: transparent;
    color: var(--action);
    font-weight: 600;
    cursor: pointer;
  }
  @media (max-width: 760px) {
    flex-direction: row;
    overflow: auto hidden;
    > button {
      flex: 0 0 13.6rem;
    }
    > :last-child {
      flex: 0 0 6rem;
    }
  }
`;

/** The one screen of a round: everything in view, nothing moves under a finger. */
const Mat = styled.main`
  height: calc(100dvh - var(--strip, 0px));
  display: grid;
  grid-template:
    'top top' auto 'tiles advice' auto 'tiles stage' minmax(0, 1fr) 'tiles endings' auto 'safety safety' auto
    'log log' auto / 17.5rem minmax(0, 1fr);
  gap: 0.5rem 0.8rem;
  padding: 0.5rem 0.8rem;
  overflow: hidden;
  @media (max-width: 760px) {
    grid-template:
      'top' auto 'tiles' auto 'advice' auto 'stage' minmax(0, 1fr) 'endings' auto 'safety' auto 'log' auto
      / minmax(0, 1fr);
    gap: 0.35rem;
    padding: 0.35rem 0.5rem;
  }
`;

const none: ReadonlySet<string> = new Set();

/** How long the clock's signal stays on the screen. */
const flashForMs = 2500;

export default function LivePage() {
  return <OfSession>{(opened) => <Live {...opened} />}</OfSession>;
}

/** What lies over the Mat. */
type Over =
  | { is: 'keys' }
  | { is: 'care'; note: CareNote; people: readonly string[] }
  | { is: 'let' }
  | { is: 'pairs' };

/** The half of the round, which changes by itself at half time. */
function useHalf(clock: Parameters<typeof halfOf>[0], roundSeconds: number): 'first' | 'second' {
  const [half, setHalf] = useState(() => halfOf(clock, timepiece.now(), roundSeconds));
  useEffect(() => {
    const look = () => setHalf(halfOf(clock, timepiece.now(), roundSeconds));
    look();
    if (clock.since === null) return;
    const untilHalf = (leftOf(clock, timepiece.now(), roundSeconds) - roundSeconds / 2) * 1000;
    if (untilHalf < 0) return;
    const timer = setTimeout(look, untilHalf + 50);
    return () => clearTimeout(timer);
  }, [clock, roundSeconds]);
  return half;
}

const silentKey = 'ulkret-mat-silent';

function Live({ work, breakdown, technique, students, notes }: Opened) {
  const { session, add } = work;
  const log = useStanding(work);
  const { coach } = useHere();
  const unkept = useUnkept();
  const [active, setActive] = useState(0);
  const [chosenRung, setRung] = useState<Rung | null>(null);
  const [changed, setChanged] = useState<Turn | null>(null);
  const [soft, setSoft] = useState<ReadonlySet<string>>(none);
  const [failed, setFailed] = useState<ReadonlySet<string>>(none);
  const [mode, setMode] = useState<Tapping>('stop');
  const asker = useRef<Asker>(null);
  const [said, setSaid] = useState('');
  const [over, setOver] = useState<Over | null>(null);
  const [keys, setKeys] = useState(chosenKeys);
  const [silent, setSilent] = useState(() => localStorage.getItem(silentKey) === 'yes');
  const [flash, setFlash] = useState<Signal | null>(null);
  const stage = useRef<HTMLDivElement>(null);
  const { rowHeight, width } = useRowHeight(stage, breakdown.checkpoints.length);

  const people = useMemo(() => new Map(students.map((one) => [one.id, one])), [students]);
  const nameOf = useCallback((id: string) => people.get(id)?.name ?? id, [people]);
  const numberOf = useCallback((checkpoint: string) => placeOf(breakdown, checkpoint) + 1, [breakdown]);
  const { changes } = log;
  const now = useMemo(() => sessionNow(session, changes), [session, changes]);
  const half = useHalf(now.clock, session.roundSeconds);
  const { repsPerSide, roundSeconds } = session;
  const turning = useMemo(
    (): Turning => (repsPerSide === null ? { repsPerSide, round: now.clock.round, half } : { repsPerSide }),
    [repsPerSide, now.clock.round, half],
  );
  // The rung of this coach's last rep: it outlives a reload.
  const rung = chosenRung ?? log.last.findLast(({ observer }) => observer === coach.id)?.rung ?? session.rung;
  const common: Common = useMemo(
    () => ({
      log,
      now,
      breakdown,
      technique,
      students: people,
      prescribed: session.prescribed,
      session,
      rules: neutralRules,
      today: today(),
      earlierNotes: notes,
      rung,
      turning,
    }),
    [log, now, breakdown, technique, people, session, notes, rung, turning],
  );
  const pairViews = usePairViews(common);
  const at = Math.min(active, pairViews.length - 1);
  const base = pairViews[at]!;
  const { members, span } = base;
  const turn = changed && members.includes(changed.student) ? changed : base.turn;
  const view: PairView = sameTurn(turn, base.turn)
    ? base
    : {
        ...base,
        turn,
        permit: permitOfTurn(common, turn),
        caps: base.caps.length > 0 ? capsOfPartner(common, turn.partner) : [],
        work: workOf(common, turn.student),
      };
  const ids = useMemo(() => breakdown.checkpoints.map(({ id }) => id), [breakdown]);
  const first = span.from === null ? 0 : ids.indexOf(span.from);
  const last = span.to === null ? ids.length - 1 : ids.indexOf(span.to);
  const drilled = (place: number) => place >= first && place <= last;
  const unseen = useMemo(
    () => new Set(ids.filter((_, place) => place < first || place > last)),
    [ids, first, last],
  );
  useWakeLock(now.clock.since !== null);

  useEffect(() => {
    if (!flash) return;
    const timer = setTimeout(() => setFlash(null), flashForMs);
    return () => clearTimeout(timer);
  }, [flash]);

  const made = () => ({ id: uuidv7(), session: session.id, at: stamp(), observer: coach.id });
  const sayTurn = (next: Turn) =>
    setSaid(
      `${nameOf(next.student)} attacks${next.partner ? ` ${nameOf(next.partner)}` : ''}, ${next.side} side`,
    );
  const change = (set: Extract<Entry, { is: 'changes' }>['fact']['set']) =>
    add({ is: 'changes', fact: { ...made(), set } });

  const logRep = (ending: Ending) => {
    if (view.stopped || view.permit.verdict === 'not allowed') {
      setSaid(
        view.stopped
          ? 'Not logged: this pair was stopped for safety; they go on in the next round.'
          : `Not logged: ${view.permit.reasons[0]?.words ?? 'not allowed'}`,
      );
      return;
    }
    const rep: Rep = {
      ...made(),
      technique: breakdown.technique,
      edition: breakdown.edition,
      student: turn.student,
      partner: turn.partner,
      side: turn.side,
      rung,
      from: span.from,
      to: span.to,
      soft: [...soft].filter((id) => !failed.has(id)),
      cause: null,
      source: 'mat',
      note: '',
      ...ending,
    };
    add({ is: 'reps', fact: rep });
    if (soft.size > 0) setSoft(none);
    if (failed.size > 0) setFailed(none);
    setMode('stop');
    setChanged(null);
    asker.current?.ask(
      ending.outcome === 'stopped' ? { rep: rep.id, place: ids.indexOf(ending.stop), side: turn.side } : null,
    );
    const next = turnOf(members, [...base.reps, rep], turning);
    if (sameTurn(next, turn)) setSaid('');
    else sayTurn(next);
  };
  const stopAt = (place: number) => {
    const id = ids[place];
    if (!id || !drilled(place)) return;
    if (mode === 'forced')
      setFailed(
        (marked) => new Set(marked.has(id) ? [...marked].filter((one) => one !== id) : [...marked, id]),
      );
    else if (mode === 'not judged') logRep({ outcome: 'not judged', heldTo: id });
    else logRep({ outcome: 'stopped', stop: id });
  };
  const soften = (place: number) => {
    const id = ids[place];
    if (!id || !drilled(place)) return;
    setSoft((marked) => new Set(marked.has(id) ? [...marked].filter((one) => one !== id) : [...marked, id]));
  };
  const finish = () => {
    if (mode === 'forced') {
      if (failed.size > 0) logRep({ outcome: 'forced', failed: ids.filter((id) => failed.has(id)) });
    } else if (mode === 'not judged') logRep({ outcome: 'not judged', heldTo: null });
    else logRep({ outcome: 'finished' });
  };
  const choose = (next: Tapping) => {
    setMode(next);
    setFailed(none);
    setSaid(
      next === 'forced'
        ? 'Forced: tap every knot that failed, then the ring.'
        : next === 'not judged'
          ? 'Not judged: tap the last knot that held, or the ring if nothing was seen.'
          : '',
    );
  };
  const what = (rep: Rep) => (rep.outcome === 'stopped' ? `stopped at ${numberOf(rep.stop)}` : rep.outcome);
  const undo = (rep: Rep | undefined) => {
    if (!rep) return;
    const { session: _, ...voided } = made();
    add({ is: 'voids', fact: { ...voided, rep: rep.id } });
    asker.current?.ask(null);
    setSaid(`Undone: ${nameOf(rep.student)}, ${what(rep)}`);
  };
  const changeTurn = (next: Turn) => {
    setChanged(next);
    sayTurn(next);
  };
  const choosePair = (place: number) => {
    setActive(place);
    setChanged(null);
    setSoft(none);
    setFailed(none);
    setMode('stop');
    asker.current?.ask(null);
  };
  const stopForSafety = () => {
    const partner = turn.partner ?? turn.student;
    const note: CareNote = {
      ...made(),
      person: partner,
      why: 'tap out',
      regions: [...technique.regions],
      side: null,
      until: today(),
      words: '',
      replaces: null,
    };
    add({ is: 'notes', fact: note });
    setOver({ is: 'care', note, people: members });
    asker.current?.ask(null);
  };
  const signal = (one: Signal) => {
    if (!silent) play(one);
    setFlash(one);
  };
  const tag = (rep: string, cause: string) => {
    const { session: _, ...told } = made();
    add({ is: 'tags', fact: { ...told, rep, cause } });
  };
  const actions = {
    stopAt,
    soften,
    finish,
    stopAtWork: () => {
      if (view.work) stopAt(view.work.place);
      else setSaid(`Nothing is prescribed to ${nameOf(turn.student)} here: tap the knot.`);
    },
    pairBefore: () => choosePair((at - 1 + pairViews.length) % pairViews.length),
    nextPair: () => choosePair((at + 1) % pairViews.length),
    swap: () => {
      const next = members[(members.indexOf(turn.student) + 1) % members.length]!;
      changeTurn({
        ...turn,
        student: next,
        partner: members.length > 1 ? members[(members.indexOf(next) + 1) % members.length]! : null,
        done: 0,
      });
    },
    changeSide: () => changeTurn({ ...turn, side: otherSide(turn.side), done: 0 }),
    rungDown: () => setRung((chosen) => Math.max(0, (chosen ?? rung) - 1) as Rung),
    rungUp: () => setRung((chosen) => Math.min(4, (chosen ?? rung) + 1) as Rung),
    clock: () => {
      const next = toggled(now.clock, timepiece.now(), roundSeconds);
      change({ is: 'clock', clock: next });
      if (next.since !== null && next.ranMs === 0) signal('start');
    },
    undo: () => undo(log.last.findLast(({ observer }) => observer === coach.id)),
    forced: () => choose(mode === 'forced' ? 'stop' : 'forced'),
    notJudged: () => choose(mode === 'not judged' ? 'stop' : 'not judged'),
    safety: stopForSafety,
    help: () => setOver(over?.is === 'keys' ? null : { is: 'keys' }),
    silence: () => {
      localStorage.setItem(silentKey, silent ? 'no' : 'yes');
      setSilent(!silent);
    },
    signal,
  };
  useMatKeys(actions, keys);
  // What the tiles and knots are given never changes, so that a tap redraws only what it changed.
  const latest = { ...actions, choosePair, choose, tag, undoRep: undo };
  const latestActions = useRef(latest);
  useLayoutEffect(() => {
    latestActions.current = latest;
  });
  const onStop = useCallback((place: number) => latestActions.current.stopAt(place), []);
  const onFinish = useCallback(() => latestActions.current.finish(), []);
  const onMode = useCallback((next: Tapping) => latestActions.current.choose(next), []);
  const onSoft = useCallback((place: number) => latestActions.current.soften(place), []);
  const onUndo = useCallback((rep: Rep) => latestActions.current.undoRep(rep), []);
  const onTag = useCallback((rep: string, cause: string) => latestActions.current.tag(rep, cause), []);
  const onChoose = useCallback((place: number) => latestActions.current.choosePair(place), []);

  const spanWords = span.from || span.to ? `checkpoints ${first + 1} to ${last + 1}` : 'whole';
  return (
    <Mat>
      <Bar
        session={session.id}
        technique={technique}
        span={spanWords}
        clock={now.clock}
        roundSeconds={roundSeconds}
        rounds={session.rounds}
        byTheClock={repsPerSide === null}
        rung={rung}
        side={turn.side}
        silent={silent}
        on={latestActions}
      />
      <Tiles aria-label="Pairs">
        {pairViews.map((one, i) => (
          <PairTile
            key={one.members.join()}
            place={i}
            view={i === at ? view : one}
            turn={i === at ? turn : one.turn}
            repsPerSide={repsPerSide}
            active={i === at}
            nameOf={nameOf}
            numberOf={numberOf}
            onChoose={onChoose}
          />
        ))}
        <button type="button" onClick={() => setOver({ is: 'pairs' })}>
          Change pairs
        </button>
      </Tiles>
      <Advice
        view={view}
        breakdown={breakdown}
        said={said}
        rung={rung}
        nameOf={nameOf}
        told={(rep) => `${rep.observer === coach.id ? 'yours' : 'theirs'}: ${what(rep)}`}
        onSwap={actions.swap}
        onSpan={(to) => change({ is: 'span', pair: [...members], from: session.from, to: to ?? session.to })}
        onVoid={undo}
        onOverride={() => setOver({ is: 'let' })}
        onNote={() => view.stopped && setOver({ is: 'care', note: view.stopped, people: members })}
      />
      <Stage ref={stage}>
        <Knots
          breakdown={breakdown}
          label={`${nameOf(turn.student)} attacks on the ${turn.side}: tap where the rep stopped`}
          side={turn.side}
          mode={mode}
          soft={soft}
          failed={failed}
          unseen={unseen}
          workPlace={view.work?.place ?? -1}
          workWords={view.work ? signOffShort(view.work.test) : ''}
          rowHeight={rowHeight}
          width={width}
          onStop={onStop}
          onSoft={onSoft}
        />
        <Causes ref={asker} breakdown={breakdown} rowHeight={rowHeight} onTag={onTag} />
      </Stage>
      <Finish
        mode={mode}
        failed={ids
          .filter((id) => failed.has(id))
          .map(numberOf)
          .join(', ')}
        onFinish={onFinish}
        onMode={onMode}
      />
      <SafetyBar type="button" onClick={stopForSafety}>
        Tap out / stop for safety
      </SafetyBar>
      <LogBar
        reps={log.last}
        said={
          unkept > 0
            ? `This device is full: ${many(unkept, 'entry', 'entries')} could not be stored. Keep this page open until all is sent, or note them on paper.`
            : said
        }
        nameOf={nameOf}
        numberOf={numberOf}
        onUndo={onUndo}
      />
      {flash && (
        <SignalFlash data-signal={flash} role="alert">
          <strong>{signalWords[flash]}</strong>
        </SignalFlash>
      )}
      {over?.is === 'keys' && <KeyList keys={keys} onKeys={setKeys} close={() => setOver(null)} />}
      {over?.is === 'care' && (
        <CarePanel
          note={over.note}
          people={over.people}
          nameOf={nameOf}
          onKeep={(next) =>
            add({
              is: 'notes',
              fact: {
                ...over.note,
                ...made(),
                replaces: over.note.id,
                ...(next === 'lift' ? { regions: [], words: 'It was nothing.' } : next),
              },
            })
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
      {over?.is === 'pairs' && (
        <PairsPanel
          pairs={now.pairs}
          students={people}
          technique={technique}
          rung={rung}
          notes={[...notes, ...log.notes]}
          onPairs={(pairs) => {
            change({ is: 'pairs', pairs });
            choosePair(0);
          }}
          close={() => setOver(null)}
        />
      )}
    </Mat>
  );
}
