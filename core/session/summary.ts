import type { Id, Side } from '../breakdown';
import type { Rep } from '../rep';
import type { Pair } from './turn';

/** One person's reps in a session. */
export interface PersonSummary {
  student: Id;
  /** Reps as the attacker, by lead side. */
  reps: Readonly<Record<Side, number>>;
  finished: number;
  asPartner: number;
  /** Untagged stops. */
  untagged: number;
  /** Far fewer reps than the others: not seen enough to say anything. */
  seldomSeen: boolean;
  /** One side was drilled more than twice as often as the other. */
  uneven: boolean;
}

export interface SessionSummary {
  reps: number;
  finished: number;
  forced: number;
  notJudged: number;
  left: number;
  /** Everybody who was paired or has a rep, those seen least first. */
  people: readonly PersonSummary[];
  /** Stops without a cause, in order of time. */
  untagged: readonly Rep[];
}

/** Under this share of the median a student was not seen enough. */
const seldomShare = 0.5;

/** With fewer reps than this on a side, a difference says nothing. */
const leastForUneven = 3;

/** What became of a session: `reps` are its standing reps in order of time; of some the cause was told in words. */
export function summaryOf(
  pairs: readonly Pair[],
  reps: readonly Rep[],
  wordsOf: (rep: string) => string | null = () => null,
): SessionSummary {
  const people = new Map<
    Id,
    { right: number; left: number; finished: number; asPartner: number; untagged: number }
  >();
  const of = (id: Id) => {
    const known = people.get(id) ?? { right: 0, left: 0, finished: 0, asPartner: 0, untagged: 0 };
    people.set(id, known);
    return known;
  };
  for (const id of pairs.flat()) of(id);
  const count = { finished: 0, forced: 0, 'not judged': 0, left: 0, stopped: 0 };
  const untagged = reps.filter(
    ({ id, outcome, cause }) => outcome === 'stopped' && cause === null && wordsOf(id) === null,
  );
  for (const rep of reps) {
    count[rep.outcome]++;
    const attacker = of(rep.student);
    attacker[rep.side]++;
    if (rep.outcome === 'finished') attacker.finished++;
    if (rep.partner !== null) of(rep.partner).asPartner++;
  }
  for (const { student } of untagged) of(student).untagged++;
  const totals = [...people.values()].map(({ right, left }) => right + left).sort((a, b) => a - b);
  const median = totals[Math.floor(totals.length / 2)] ?? 0;
  return {
    reps: reps.length,
    finished: count.finished,
    forced: count.forced,
    notJudged: count['not judged'],
    left: count.left,
    untagged,
    people: [...people]
      .map(([student, { right, left, ...rest }]): PersonSummary => {
        const [less, more] = [Math.min(right, left), Math.max(right, left)];
        return {
          student,
          reps: { right, left },
          ...rest,
          seldomSeen: right + left < seldomShare * median || (reps.length > 0 && right + left === 0),
          uneven: more >= leastForUneven && more > 2 * less,
        };
      })
      .sort(
        (a, b) =>
          a.reps.right + a.reps.left - (b.reps.right + b.reps.left) || (a.student < b.student ? -1 : 1),
      ),
  };
}
