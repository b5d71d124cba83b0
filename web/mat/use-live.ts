import { type Door, placeOf, readFor } from '@ulkret/core/breakdown';
import type { CareNote } from '@ulkret/core/care';
import type { Entry } from '@ulkret/core/facts';
import { type Rep, type Rung, stepWith } from '@ulkret/core/rep';
import {
  halfOf,
  leftOf,
  type Begun,
  doorsIn,
  nothingBegun,
  type OpenPair,
  repOf,
  sameTurn,
  sessionNow,
  type Tap,
  tapped,
  type Tapping,
  toggled,
  movedStep,
  pairKey,
  type Turn,
  type Turning,
  turnOf,
} from '@ulkret/core/session';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { uuidv7 } from 'uuidv7';
import { clock as timepiece } from '../api/clock';
import { useHere } from '../api/signed-in';
import { today } from '../device/kit';
import { stamp, useStanding } from '../device/session-log';
import type { Asker } from './Causes';
import { chosenKeys, useMatKeys } from './keys';
import type { Opened } from './OfSession';
import { type Common, goneOn, usePairViews } from './pair-view';
import { useBegun } from './use-begun';
import { guestNamed, useKeepGuest } from './use-guest';
import { play, type Signal } from './signals';

/** What lies over the Mat. */
export type Over =
  | { is: 'keys' }
  | { is: 'care'; note: CareNote; people: readonly string[] }
  | { is: 'let' }
  | { is: 'pairs' }
  | { is: 'play' }
  | { is: 'reps' }
  | { is: 'work' };

/** How long the clock's signal stays on the screen. */
const flashForMs = 2500;
const silentKey = 'ulkret-mat-silent';

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

/** What is said when the next knot means something else. */
const meanings: Readonly<Record<Tapping, string>> = {
  stop: '',
  forced: 'Forced: tap every knot that failed, then the ring.',
  'not judged': 'Not judged: tap the last knot that held, or the ring if nothing was seen.',
};

/** A running session: what is begun and open on this device, and all that can be done. What a tap comes to, `tapped` says. */
export function useLive({ work, breakdown, technique, library, students, notes, rules }: Opened) {
  const { session, add } = work;
  const log = useStanding(work);
  const { coach } = useHere();
  const [active, setActive] = useState(0);
  const [chosenRung, setRung] = useState<Rung | null>(null);
  const keepGuest = useKeepGuest();
  const [begunOf, begin] = useBegun(session.id);
  const asker = useRef<Asker>(null);
  const [said, setSaid] = useState('');
  const [over, setOver] = useState<Over | null>(null);
  const [keys, setKeys] = useState(chosenKeys);
  const [silent, setSilent] = useState(() => localStorage.getItem(silentKey) === 'yes');
  const [flash, setFlash] = useState<Signal | null>(null);

  const people = useMemo(() => new Map(students.map((one) => [one.id, one])), [students]);
  const nameOf = useCallback((id: string) => people.get(id)?.name ?? id, [people]);
  const numberOf = useCallback(
    (checkpoint: string, of: string = technique.id) =>
      placeOf((of === technique.id ? null : library.get(of)?.breakdown) ?? breakdown, checkpoint) + 1,
    [breakdown, technique.id, library],
  );
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
      library,
      students: people,
      prescribed: now.prescribed,
      session,
      rules,
      today: today(),
      earlierNotes: notes,
      rung,
      turning,
    }),
    [log, now, breakdown, technique, library, people, session, notes, rules, rung, turning],
  );
  const pairViews = usePairViews(common);
  const at = Math.min(active, pairViews.length - 1);
  const view = pairViews[at]!;
  const { members } = view;
  const begun = begunOf(members);
  /** What the open pair does next: the technique of the class, or what it has gone on to. */
  const { carried } = view;
  const gone = carried && library.get(carried.technique);
  const doing = useMemo(
    () => (gone && carried ? goneOn(common, members, view, carried, gone) : view),
    [common, members, view, carried, gone],
  );
  const drilled = gone?.breakdown ?? breakdown;
  const { turn } = doing;
  const set = now.tasks.get(pairKey(members));
  const open: OpenPair = {
    breakdown: drilled,
    members,
    turn,
    span: doing.span,
    ways: doing.ways.map(({ variant }) => variant.id),
    task: gone || !set || set.called ? [] : set.task,
    ...(gone && carried && { follows: carried.follows }),
  };
  /** What ended a rep, as its cause is called; null where nobody has said. */
  const causeOf = useCallback(
    ({ cause, side }: Rep) => {
      const known = [...breakdown.mistakes, ...breakdown.defences].find(({ id }) => id === cause);
      return known ? readFor(known.title, side) : null;
    },
    [breakdown],
  );
  useEffect(() => {
    if (!flash) return;
    const timer = setTimeout(() => setFlash(null), flashForMs);
    return () => clearTimeout(timer);
  }, [flash]);

  const made = () => ({ id: uuidv7(), session: session.id, at: stamp(), observer: coach.id });
  const aboutRep = () => ({ id: uuidv7(), at: stamp(), observer: coach.id });
  const change = (set: Extract<Entry, { is: 'changes' }>['fact']['set']) =>
    add({ is: 'changes', fact: { ...made(), set } });
  const sayTurn = (next: Turn) =>
    setSaid(
      `${nameOf(next.student)} attacks${next.partner ? ` ${nameOf(next.partner)}` : ''}, ${next.side} side`,
    );
  const why = (): string | null =>
    now.endedAt !== null
      ? 'Not logged: this class has ended. Reopen it first.'
      : view.stopped
        ? 'Not logged: this pair was stopped for safety. Say what went wrong first.'
        : doing.permit.verdict === 'not allowed'
          ? `Not logged: ${doing.permit.reasons[0]?.words ?? 'not allowed'}`
          : null;

  /** A tap on the open pair: what it begins, and the rep that it ends. */
  const tap = (one: Tap, from: Begun = begun, door?: Door): void => {
    const so = tapped(from, one, open);
    if (so.refused) return setSaid('The answer did not work: tap the knot where the rep was lost to it.');
    if (so.ending) {
      const refused = why();
      if (refused !== null) return setSaid(refused);
      const { technique: of, edition } = drilled;
      const rep = repOf(so.ending, from, open, { ...made(), technique: of, edition, rung });
      add({ is: 'reps', fact: rep });
      asker.current?.ask(
        rep.outcome === 'stopped' && rep.cause === null
          ? { rep: rep.id, breakdown: drilled, place: placeOf(drilled, rep.stop), side: rep.side }
          : null,
      );
      const next = turnOf(members, [...view.reps, rep], turning, now.turns.get(pairKey(members)));
      const onwards = door && (library.get(door.technique)?.technique.name ?? door.technique);
      if (onwards) setSaid(`${nameOf(rep.student)} goes on: ${onwards}`);
      else if (gone) setSaid(`Back to ${technique.name}`);
      else if (sameTurn(next, turn)) setSaid('');
      else sayTurn(next);
    }
    if (so.begun !== begun) begin(members, so.begun);
    if (so.turned) {
      const { student, partner, side } = so.turned;
      const during = turning.repsPerSide === null ? { round: turning.round, half: turning.half } : null;
      change({ is: 'turn', pair: [...members], student, partner, side, during });
      sayTurn(so.turned);
    }
  };
  /** The pair goes on to another technique; the answer by which it does has worked. */
  const goOn = (door: Door) => {
    const met = new Map(begun.met);
    if (door.answers !== null) met.set(door.answers, { answer: door.by, worked: true });
    tap({ do: 'leave', heldTo: door.heldTo, by: door.by }, { ...begun, met }, door);
  };
  /** A defence was met and answered: another technique is gone on to at once. */
  const meet = (defence: string, answer: string | null) => {
    const door = doorsIn(drilled, doing.span).find(({ by, answers }) => by === answer && answers === defence);
    if (door && library.has(door.technique)) goOn(door);
    else tap({ do: 'meet', defence, answer });
  };
  /** One of the chosen defences is called to the partner, by sound and in words. */
  const call = () => {
    if (!set || set.task.length === 0) return;
    const defence = set.task[Math.floor(Math.random() * set.task.length)]!;
    tap({ do: 'call', defence });
    if (!silent) play('start');
    const title = drilled.defences.find(({ id }) => id === defence)?.title ?? defence;
    setSaid(`Partner: ${readFor(title, turn.side)}`);
  };
  const comeBack = () => {
    begin(members, nothingBegun);
    if (carried) change({ is: 'back', pair: [...members], rep: carried.follows.rep });
  };
  const what = (rep: Rep) =>
    rep.outcome === 'stopped' ? `stopped at ${numberOf(rep.stop, rep.technique)}` : rep.outcome;
  const onKnot = (place: number, does: 'knot' | 'soften') => {
    const checkpoint = drilled.checkpoints[place]?.id;
    if (checkpoint !== undefined) tap({ do: does, checkpoint });
  };
  const undo = (rep: Rep | undefined) => {
    if (!rep) return;
    // What goes on from a rep goes with it: the whole step is taken back.
    for (const { id } of stepWith(rep, log.of(rep.student)))
      add({ is: 'voids', fact: { ...aboutRep(), rep: id, ofImport: false } });
    asker.current?.ask(null);
    setSaid(`Undone: ${nameOf(rep.student)}, ${what(rep)}`);
  };
  /** A rep of somebody else, or of the other side, is put where it belongs: one step, and both stay on record. */
  const move = (rep: Rep, to: Pick<Rep, 'student' | 'partner' | 'side'>) => {
    const step = stepWith(rep, log.of(rep.student));
    for (const fact of movedStep(step, rep, to, { observer: coach.id, id: uuidv7 }))
      add({ is: 'reps', fact });
    for (const { id } of step) add({ is: 'voids', fact: { ...aboutRep(), rep: id, ofImport: false } });
    setSaid(`Moved: ${nameOf(to.student)}, ${to.side} side, ${what(rep)}`);
  };
  /** Somebody who visits came late; null where this device cannot keep them. */
  const addGuest = async (name: string): Promise<string | null> => {
    try {
      const guest = guestNamed(name);
      await keepGuest(guest);
      return guest.id;
    } catch {
      setSaid('This device could not keep the guest: its storage is full. Free some, then add them again.');
      return null;
    }
  };
  const choosePair = (place: number) => {
    setActive(place);
    asker.current?.ask(null);
  };
  const mean = (tapping: Tapping) => {
    tap({ do: 'mean', tapping });
    setSaid(meanings[tapping]);
  };
  const signal = (one: Signal) => {
    if (!silent) play(one);
    setFlash(one);
  };
  const stepRung = (step: number) =>
    setRung((chosen) => Math.min(4, Math.max(0, (chosen ?? rung) + step)) as Rung);

  const actions = {
    stopAt: (place: number) => onKnot(place, 'knot'),
    soften: (place: number) => onKnot(place, 'soften'),
    finish: () => tap({ do: 'ring' }),
    stopAtWork: () => {
      if (view.work && !gone) onKnot(view.work.place, 'knot');
      else setSaid(`Nothing is prescribed to ${nameOf(turn.student)} here: tap the knot.`);
    },
    pairBefore: () => choosePair((at - 1 + pairViews.length) % pairViews.length),
    nextPair: () => choosePair((at + 1) % pairViews.length),
    swap: () => tap({ do: 'swap' }),
    changeSide: () => tap({ do: 'change side' }),
    rungDown: () => stepRung(-1),
    rungUp: () => stepRung(1),
    clock: () => {
      const next = toggled(now.clock, timepiece.now(), roundSeconds);
      change({ is: 'clock', clock: next });
      if (next.since !== null && next.ranMs === 0) signal('start');
    },
    undo: () => undo(log.last.findLast(({ observer }) => observer === coach.id)),
    forced: () => mean(begun.tapping === 'forced' ? 'stop' : 'forced'),
    notJudged: () => mean(begun.tapping === 'not judged' ? 'stop' : 'not judged'),
    safety: () => {
      const note: CareNote = {
        ...made(),
        person: turn.partner ?? turn.student,
        why: 'not said',
        regions: [],
        side: null,
        until: today(),
        words: '',
        replaces: null,
      };
      add({ is: 'notes', fact: note });
      setOver({ is: 'care', note, people: members });
      asker.current?.ask(null);
    },
    help: () => setOver(over?.is === 'keys' ? null : { is: 'keys' }),
    silence: () => {
      localStorage.setItem(silentKey, silent ? 'no' : 'yes');
      setSilent(!silent);
    },
    signal,
  };
  useMatKeys(actions, keys);
  const tag = (rep: string, cause: string) =>
    add({ is: 'tags', fact: { ...aboutRep(), rep, cause, words: null } });
  // What the tiles and knots are given never changes, so that a tap redraws only what it changed.
  const latest = {
    ...actions,
    choosePair,
    mean,
    tag,
    meet,
    call,
    comeBack,
    undoRep: undo,
    showReps: () => setOver({ is: 'reps' }),
    showPlay: () => setOver({ is: 'play' }),
  };
  const on = useRef(latest);
  useLayoutEffect(() => {
    on.current = latest;
  });
  const [stable] = useState(() => ({
    stop: (place: number) => on.current.stopAt(place),
    finish: () => on.current.finish(),
    mean: (tapping: Tapping) => on.current.mean(tapping),
    soften: (place: number) => on.current.soften(place),
    undo: (rep: Rep) => on.current.undoRep(rep),
    all: () => on.current.showReps(),
    play: () => on.current.showPlay(),
    tag: (rep: string, cause: string) => on.current.tag(rep, cause),
    meet: (defence: string, answer: string | null) => on.current.meet(defence, answer),
    call: () => on.current.call(),
    comeBack: () => on.current.comeBack(),
    choose: (place: number) => on.current.choosePair(place),
  }));

  const live = {
    /** What is shown. */
    log,
    now,
    pairViews,
    at,
    common,
    /** The open pair as it does next: the technique of the class, or what it has gone on to. */
    view: doing,
    drilled,
    gone: gone?.technique ?? null,
    set,
    tap,
    goOn,
    turn,
    rung,
    begun,
    said,
    flash,
    silent,
    over,
    keys,
    people,
    nameOf,
    numberOf,
    causeOf,
    told: (rep: Rep) => `${rep.observer === coach.id ? 'yours' : 'theirs'}: ${what(rep)}`,
    /** What can be done; `stable` never changes. */
    stable,
    actions,
    add,
    made,
    change,
    undo,
    move,
    addGuest,
    choosePair,
    setOver,
    setKeys,
  };
  /** Beside it the asker of causes, and what can be done as it is at the latest. */
  return [live, asker, on] as const;
}
