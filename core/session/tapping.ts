import type { Breakdown, Id } from '../breakdown';
import { otherSide } from '../breakdown';
import type { Rep, Rung } from '../rep';
import type { Ending } from './paper';
import type { Pair, Turn } from './turn';

/** What a tap on a knot means: the rep stopped there; it failed there and finished all the same; it held up to there. */
export type Tapping = 'stop' | 'forced' | 'not judged';

/** What a coach has begun on a pair and not logged yet. */
export interface Begun {
  tapping: Tapping;
  soft: ReadonlySet<Id>;
  failed: ReadonlySet<Id>;
}

const none: ReadonlySet<Id> = new Set();
export const nothingBegun: Begun = { tapping: 'stop', soft: none, failed: none };

/** What can be done on the open pair. */
export type Tap =
  | { do: 'knot'; checkpoint: Id }
  | { do: 'ring' }
  | { do: 'soften'; checkpoint: Id }
  | { do: 'mean'; tapping: Tapping }
  | { do: 'swap' }
  | { do: 'change side' };

/** The pair that is open, as a tap finds it. */
export interface OpenPair {
  breakdown: Pick<Breakdown, 'checkpoints'>;
  members: Pair;
  turn: Turn;
  span: { from: Id | null; to: Id | null };
}

/** What came of a tap: what is begun now, the rep that it ended, if any, and what is said. */
export interface Tapped {
  begun: Begun;
  ending: Ending | null;
  /** The turn that is to be set, as a fact of the session; null where it is as it was. */
  turned: Turn | null;
}

const flipped = (set: ReadonlySet<Id>, id: Id): ReadonlySet<Id> =>
  new Set(set.has(id) ? [...set].filter((one) => one !== id) : [...set, id]);

/** Is a checkpoint in the span that the pair drills? */
export function isDrilled(
  { breakdown, span }: Pick<OpenPair, 'breakdown' | 'span'>,
  checkpoint: Id,
): boolean {
  const placeOf = (id: Id) => breakdown.checkpoints.findIndex((one) => one.id === id);
  const place = placeOf(checkpoint);
  const first = span.from === null ? 0 : placeOf(span.from);
  const last = span.to === null ? breakdown.checkpoints.length - 1 : placeOf(span.to);
  return place >= 0 && place >= first && place <= last;
}

/** What a tap comes to. Nothing is logged here: the rep is made of the ending by whoever knows the time and the coach. */
export function tapped(begun: Begun, tap: Tap, pair: OpenPair): Tapped {
  const still = (next: Partial<Begun> = {}): Tapped => ({
    begun: { ...begun, ...next },
    ending: null,
    turned: null,
  });
  const ends = (ending: Ending): Tapped => ({ begun: nothingBegun, ending, turned: null });
  const turns = (next: Turn): Tapped => ({ begun, ending: null, turned: next });
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
      if (begun.tapping === 'stop') return ends({ outcome: 'finished' });
      const failed = pair.breakdown.checkpoints.map(({ id }) => id).filter((id) => begun.failed.has(id));
      return failed.length > 0 ? ends({ outcome: 'forced', failed }) : still();
    }
    case 'soften':
      return isDrilled(pair, tap.checkpoint) ? still({ soft: flipped(begun.soft, tap.checkpoint) }) : still();
    case 'mean':
      return still({ tapping: tap.tapping, failed: none });
    case 'swap': {
      const { members } = pair;
      const after = (id: Id) => members[(members.indexOf(id) + 1) % members.length]!;
      const student = after(turn.student);
      return turns({ ...turn, student, partner: members.length > 1 ? after(student) : null, done: 0 });
    }
    case 'change side':
      return turns({ ...turn, side: otherSide(turn.side), done: 0 });
  }
}

/** Who logs a rep, when, and what of it the pair does not say. */
export interface Logged {
  id: string;
  session: string;
  at: string;
  observer: Id;
  technique: Id;
  edition: number;
  rung: Rung;
}

/** The rep of an ending, with what was begun before it. */
export const repOf = (ending: Ending, begun: Begun, pair: OpenPair, logged: Logged): Rep => {
  const { student, partner, side } = pair.turn;
  return {
    ...logged,
    student,
    partner,
    side,
    from: pair.span.from,
    to: pair.span.to,
    soft: [...begun.soft].filter((id) => !begun.failed.has(id)),
    cause: null,
    source: 'mat',
    note: '',
    ...ending,
  };
};

/**
 * The rep as it should have been: another student, partner or side, and nothing else. The one that it takes the place of is
 * voided along with it.
 */
export const movedRep = (
  rep: Rep,
  to: Pick<Rep, 'student' | 'partner' | 'side'>,
  by: Pick<Rep, 'id' | 'observer'>,
): Rep => ({ ...rep, ...to, ...by });
