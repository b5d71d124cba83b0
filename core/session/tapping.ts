import {
  type Breakdown,
  causesAt,
  type Door,
  doorsOf,
  type Id,
  otherSide,
  placeOf,
  type Side,
} from '../breakdown';
import { onlySeen, type Rep, type Rung } from '../rep';
import type { Ending } from './paper';
import { type Pair, partnerOf, type Turn } from './turn';

/**
 * What a tap on a checkpoint means: the rep stopped there; it failed there and finished anyway; it held up to there.
 */
export type Tapping = 'stop' | 'forced' | 'not judged';

/** What a coach has begun on a pair and not logged yet. */
export interface Begun {
  tapping: Tapping;
  soft: ReadonlySet<Id>;
  failed: ReadonlySet<Id>;
  /** By the defence: what was done about it, and whether it worked. */
  met: ReadonlyMap<Id, { answer: Id | null; worked: boolean; became?: Id }>;
  /** The measured values, by checkpoint. */
  measured: ReadonlyMap<Id, number>;
  /** Seconds to a checkpoint that has a time. */
  timed: ReadonlyMap<Id, number>;
  /** The defence that was called for this rep, where they are called. */
  called: Id | null;
}

const none: ReadonlySet<Id> = new Set();
export const nothingBegun: Begun = {
  tapping: 'stop',
  soft: none,
  failed: none,
  met: new Map(),
  measured: new Map(),
  timed: new Map(),
  called: null,
};

/** The possible actions on the open pair. */
export type Tap =
  | { do: 'knot'; checkpoint: Id }
  /** The rep is through, by one of several finishes if it says which. */
  | { do: 'ring'; finish?: Id }
  | { do: 'soften'; checkpoint: Id }
  | { do: 'mean'; tapping: Tapping }
  /** A defence was met: once, it was answered; twice, the answer did not work; then what it became, if it can; then it was not. */
  | { do: 'meet'; defence: Id; answer: Id | null }
  | { do: 'call'; defence: Id }
  | { do: 'measure'; checkpoint: Id; value: number | null }
  | { do: 'time'; checkpoint: Id; seconds: number | null }
  /** The pair goes on to something else, from a checkpoint that held. */
  | { do: 'leave'; heldTo: Id | null; by: Id | null }
  | { do: 'swap' }
  | { do: 'change side' }
  /** Somebody of the pair attacks on a side from now on. */
  | { do: 'attack'; student: Id; side: Side };

/** The pair that is open, as a tap finds it. */
export interface OpenPair {
  breakdown: Pick<Breakdown, 'checkpoints' | 'defences' | 'mistakes' | 'entries' | 'finishes'>;
  members: Pair;
  turn: Turn;
  span: { from: Id | null; to: Id | null };
  /** The ways that hold for the two, and what the partner was told to play. */
  ways?: readonly Id[];
  task?: readonly Id[];
  /** The entry by which the pair's reps begin. */
  entry?: Id | null;
  /** The rep that the next one goes on from. */
  follows?: Rep['follows'];
}

/** The result of a tap: the state that follows, a finished rep if there is one, and the notice. */
export interface Tapped {
  begun: Begun;
  ending: Ending | null;
  /** The turn that is to be set, as a fact of the session; null where it is as it was. */
  turned: Turn | null;
  /** Why the tap came to nothing, where that has to be said. */
  refused: 'an answer failed' | null;
}

const flipped = (set: ReadonlySet<Id>, id: Id): ReadonlySet<Id> =>
  new Set(set.has(id) ? [...set].filter((one) => one !== id) : [...set, id]);

/** Is a checkpoint in the span that the pair drills? */
export function isDrilled(
  { breakdown, span }: Pick<OpenPair, 'breakdown' | 'span'>,
  checkpoint: Id,
): boolean {
  const place = placeOf(breakdown, checkpoint);
  const first = span.from === null ? 0 : placeOf(breakdown, span.from);
  const last = span.to === null ? breakdown.checkpoints.length - 1 : placeOf(breakdown, span.to);
  return place >= 0 && place >= first && place <= last;
}

/**
 * The ways out of what is drilled: not those from beyond its end; from one before its beginning nothing of the span was seen.
 */
export function doorsIn(breakdown: Breakdown, span: OpenPair['span']): Door[] {
  const first = span.from === null ? 0 : placeOf(breakdown, span.from);
  return doorsOf(breakdown).flatMap((door) => {
    if (door.heldTo === null || placeOf(breakdown, door.heldTo) < first) return [{ ...door, heldTo: null }];
    return isDrilled({ breakdown, span }, door.heldTo) ? [door] : [];
  });
}

/**
 * The result of a tap. Nothing is logged here: the caller, who knows the time and the coach, makes the rep from the
 * ending.
 */
export function tapped(begun: Begun, tap: Tap, pair: OpenPair): Tapped {
  const still = (next: Partial<Begun> = {}): Tapped => ({
    begun: { ...begun, ...next },
    ending: null,
    turned: null,
    refused: null,
  });
  const lost = [...begun.met].find(([, { worked, became }]) => !worked && became === undefined)?.[0];
  /** Where an answer did not work, the rep ends by that defence and in no other way. */
  const ends = (ending: Ending): Tapped =>
    lost !== undefined && !endsBy(ending, lost, pair.breakdown)
      ? { ...still(), refused: 'an answer failed' }
      : { begun: nothingBegun, ending, turned: null, refused: null };
  const turns = (next: Turn): Tapped => ({ begun, ending: null, turned: next, refused: null });
  const { turn } = pair;
  switch (tap.do) {
    case 'knot': {
      const { checkpoint } = tap;
      if (!isDrilled(pair, checkpoint)) return still();
      if (begun.tapping === 'forced') return still({ failed: flipped(begun.failed, checkpoint) });
      return begun.tapping === 'not judged'
        ? ends({ outcome: 'not judged', heldTo: checkpoint })
        : ends({ outcome: 'stopped', stop: checkpoint });
    }
    case 'ring': {
      if (begun.tapping === 'not judged') return ends({ outcome: 'not judged', heldTo: null });
      const { finish } = tap;
      if (begun.tapping === 'stop') return ends({ outcome: 'finished', ...(finish && { finish }) });
      const failed = pair.breakdown.checkpoints.map(({ id }) => id).filter((id) => begun.failed.has(id));
      return failed.length > 0 ? ends({ outcome: 'forced', failed, ...(finish && { finish }) }) : still();
    }
    case 'soften':
      return isDrilled(pair, tap.checkpoint) ? still({ soft: flipped(begun.soft, tap.checkpoint) }) : still();
    case 'meet': {
      const before = begun.met.get(tap.defence);
      const met = new Map(begun.met);
      const { becomes } = pair.breakdown.defences.find(({ id }) => id === tap.defence) ?? {};
      if (!before || before.answer !== tap.answer) met.set(tap.defence, { answer: tap.answer, worked: true });
      else if (before.worked) met.set(tap.defence, { answer: tap.answer, worked: false });
      else if (before.became === undefined && becomes !== undefined) {
        // What it became is met by now; what was done about that, its own tap says.
        met.set(tap.defence, { answer: tap.answer, worked: false, became: becomes });
      } else met.delete(tap.defence);
      return still({ met });
    }
    case 'call':
      return still({ called: tap.defence });
    case 'measure': {
      const measured = new Map(begun.measured);
      if (tap.value === null) measured.delete(tap.checkpoint);
      else measured.set(tap.checkpoint, tap.value);
      return still({ measured });
    }
    case 'time': {
      const timed = new Map(begun.timed);
      if (tap.seconds === null) timed.delete(tap.checkpoint);
      else timed.set(tap.checkpoint, tap.seconds);
      return still({ timed });
    }
    case 'leave':
      return ends({ outcome: 'left', heldTo: tap.heldTo, by: tap.by });
    case 'mean':
      return still({ tapping: tap.tapping, failed: none });
    case 'swap': {
      const { members } = pair;
      const student = members[(members.indexOf(turn.student) + 1) % members.length]!;
      return turns({ ...turn, student, partner: partnerOf(members, student), done: 0 });
    }
    case 'attack': {
      const { student, side } = tap;
      const partner = student === turn.student ? turn.partner : partnerOf(pair.members, student);
      return turns({ student, partner, side, done: 0 });
    }
    case 'change side':
      return turns({ ...turn, side: otherSide(turn.side), done: 0 });
  }
}

/** Can a rep end like this by that defence: does it stop where the defence is open? */
const endsBy = (ending: Ending, defence: Id, breakdown: OpenPair['breakdown']): boolean =>
  ending.outcome === 'stopped' && causesAt(breakdown, ending.stop).some(({ id }) => id === defence);

/** Who logs a rep, when, and what of it the pair does not say. */
export interface Logged {
  id: string;
  session: string;
  at: string;
  observer: Id;
  technique: Id;
  edition: number;
  rung: Rung;
  device?: string;
}

/** The rep of an ending, with what was begun before it. */
export const repOf = (ending: Ending, begun: Begun, pair: OpenPair, logged: Logged): Rep => {
  const { student, partner, side } = pair.turn;
  const { ways = [], task = [], entry, follows } = pair;
  const told = begun.called === null ? task : [begun.called];
  const met = [...begun.met].map(([defence, how]) => ({ defence, ...how }));
  const measured = [...begun.measured].flatMap(([checkpoint, value]) =>
    isDrilled(pair, checkpoint) ? [{ checkpoint, value }] : [],
  );
  const timed = [...begun.timed].flatMap(([checkpoint, seconds]) =>
    isDrilled(pair, checkpoint) ? [{ checkpoint, seconds }] : [],
  );
  const rep: Rep = {
    ...logged,
    student,
    partner: logged.rung === 0 ? null : partner,
    side,
    from: pair.span.from,
    to: pair.span.to,
    soft: [...begun.soft],
    cause: met.find(({ worked, became }) => !worked && became === undefined)?.defence ?? null,
    source: 'mat',
    note: '',
    ...(ways.length > 0 && { ways: [...ways] }),
    ...(told.length > 0 && { task: [...told] }),
    ...(met.length > 0 && { met }),
    ...(measured.length > 0 && { measured }),
    ...(timed.length > 0 && { timed }),
    ...(entry && { entry }),
    ...(follows && { follows }),
    ...ending,
  };
  return onlySeen(pair.breakdown, rep);
};

/**
 * The rep as it should have been: another student, partner or side, and nothing else. The one that it takes the place of is
 * voided along with it.
 */
export const movedRep = (
  rep: Rep,
  to: Pick<Rep, 'student' | 'partner' | 'side'>,
  by: Pick<Rep, 'id' | 'observer' | 'device'>,
): Rep => ({ ...rep, ...to, ...(rep.rung === 0 && { partner: null }), ...by });

/**
 * A whole step that should have been somebody else's: the rep on that side, those on the other side still on the other, and
 * each going on from the moved one before it. `by` gives the new ids.
 */
export function movedStep(
  step: readonly Rep[],
  rep: Rep,
  to: Pick<Rep, 'student' | 'partner' | 'side'>,
  by: { observer: Id; device?: string; id: () => string },
): Rep[] {
  const next = new Map(step.map(({ id }) => [id, by.id()]));
  return step.map((one) => {
    const side = one.side === rep.side ? to.side : otherSide(to.side);
    const { observer, device } = by;
    const moved = movedRep(
      one,
      { ...to, side },
      { id: next.get(one.id)!, observer, ...(device && { device }) },
    );
    const before = one.follows && next.get(one.follows.rep);
    return before ? { ...moved, follows: { ...one.follows!, rep: before } } : moved;
  });
}
