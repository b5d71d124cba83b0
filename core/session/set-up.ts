import { type Breakdown, type Id } from '../breakdown';
import type { Rung } from '../rep';
import { type GroupChange, type Groups, regroup } from './groups';
import { attackFirst, type First } from './pairing';
import type { Prescribed, Session, WatchedStudent } from './session';

/** Spans that are drilled: the whole, the entry up to the last grip, or from a checkpoint on. */
export type SpanChoice = 'whole' | 'entry' | 'from';

/** A session while it is set up. */
export interface SetUp {
  technique: Id;
  present: readonly Id[];
  pairs: readonly (readonly Id[])[];
  rung: Rung;
  /** By count of reps a side, or by the clock. */
  turns: 'reps' | 'minutes';
  repsPerSide: number;
  roundMinutes: number;
  rounds: number;
  restSeconds: number;
  span: SpanChoice;
  from: Id | null;
  attacks: First;
  /** What is worn, where the technique allows either; null if it is not recorded. */
  attire: Session['attire'];
  /** The coach's reasons for pairs that the rules refuse, by pair. */
  reasons: Readonly<Record<string, string>>;
}

export const usualSetUp = (technique: Id): SetUp => ({
  technique,
  present: [],
  pairs: [],
  rung: 2,
  turns: 'reps',
  repsPerSide: 10,
  roundMinutes: 5,
  rounds: 3,
  restSeconds: 0,
  span: 'whole',
  from: null,
  attacks: 'as paired',
  attire: null,
  reasons: {},
});

export type SetUpStep =
  | { do: 'set'; to: Partial<Omit<SetUp, 'present' | 'pairs' | 'reasons'>> }
  /** Students present; one who leaves breaks up their pair, and a pair of one is none. */
  | { do: 'present'; ids: readonly Id[] }
  | { do: 'comes'; id: Id }
  | { do: 'goes'; id: Id }
  /** One or more changes of who works with whom. */
  | { do: 'group'; changes: readonly GroupChange[] }
  | { do: 'reason'; pair: readonly Id[]; words: string }
  /** Everything as in a session before; `known` are the people and techniques that are still here. */
  | { do: 'repeat'; session: Session; known: { people: ReadonlySet<Id>; techniques: ReadonlySet<Id> } };

/** Who works with whom in a set-up, and who is here without a partner. */
export const groupsOf = ({ pairs, present }: Pick<SetUp, 'pairs' | 'present'>): Groups => {
  const paired = new Set(pairs.flat());
  return { pairs, waiting: present.filter((id) => !paired.has(id)) };
};

/** The name of a pair among the reasons. */
export const reasonKey = (pair: readonly Id[]): string => pair.join(' ');

export function settingUp(now: SetUp, step: SetUpStep): SetUp {
  switch (step.do) {
    case 'set':
      return { ...now, ...step.to };
    case 'present': {
      const here = new Set(step.ids);
      const pairs = now.pairs.map((pair) => pair.filter((id) => here.has(id)));
      return { ...now, present: step.ids, pairs: pairs.filter(({ length }) => length > 1) };
    }
    case 'comes':
      return { ...now, present: [...new Set([...now.present, step.id])] };
    case 'goes':
      return settingUp(now, { do: 'present', ids: now.present.filter((id) => id !== step.id) });
    case 'group': {
      const { pairs } = step.changes.reduce(regroup, groupsOf(now));
      return { ...now, pairs };
    }
    case 'reason':
      return { ...now, reasons: { ...now.reasons, [reasonKey(step.pair)]: step.words } };
    case 'repeat': {
      const { session, known } = step;
      const still = session.pairs.map((pair) => ({
        left: pair.filter((id) => known.people.has(id)),
        wasAlone: pair.length === 1,
      }));
      return {
        ...now,
        present: still.flatMap(({ left }) => left),
        pairs: still.filter(({ left, wasAlone }) => left.length > (wasAlone ? 0 : 1)).map(({ left }) => left),
        technique: known.techniques.has(session.technique) ? session.technique : now.technique,
        rung: session.rung,
        turns: session.repsPerSide === null ? 'minutes' : 'reps',
        repsPerSide: session.repsPerSide ?? now.repsPerSide,
        roundMinutes: session.roundSeconds / 60,
        rounds: session.rounds,
        restSeconds: session.restSeconds,
        span: session.to !== null ? 'entry' : session.from !== null ? 'from' : 'whole',
        from: session.from,
        attacks: 'as paired',
        attire: session.attire ?? null,
      };
    }
  }
}

/** The last grip of a breakdown: where the entry ends. The first checkpoint where there is none. */
export const lastGripOf = ({ checkpoints }: Pick<Breakdown, 'checkpoints'>) =>
  checkpoints.findLast(({ kind }) => kind === 'grip') ?? checkpoints[0]!;

/** Where a session of the span “from” starts: where it was said, or at the last grip. */
export const startOf = ({ from }: Pick<SetUp, 'from'>, breakdown: Pick<Breakdown, 'checkpoints'>): Id =>
  breakdown.checkpoints.find(({ id }) => id === from)?.id ?? lastGripOf(breakdown).id;

/** The final pairs: who attacks first comes first. */
export const readyPairs = (
  { pairs, attacks }: Pick<SetUp, 'pairs' | 'attacks'>,
  of: Parameters<typeof attackFirst>[2],
): Id[][] => attackFirst(pairs, attacks, of);

/** The session that a set-up comes to; what is prescribed to people who are here, and what their reps would teach, at checkpoints that are there, goes with it. */
export function sessionOf(
  setUp: SetUp,
  breakdown: Pick<Breakdown, 'checkpoints' | 'edition' | 'technique'>,
  {
    id,
    startedAt,
    pairs,
    prescribed,
    watched,
  }: {
    id: string;
    startedAt: string;
    pairs: Id[][];
    prescribed: readonly Prescribed[];
    watched: readonly WatchedStudent[];
  },
): Session {
  const here = new Set(setUp.present);
  const isHere = ({ student, checkpoint }: { student: Id; checkpoint: Id }) =>
    here.has(student) && breakdown.checkpoints.some(({ id: one }) => one === checkpoint);
  return {
    id,
    technique: breakdown.technique,
    edition: breakdown.edition,
    startedAt,
    endedAt: null,
    pairs,
    rung: setUp.rung,
    prescribed: prescribed.filter(isHere),
    watched: watched.filter(isHere),
    from: setUp.span === 'from' ? startOf(setUp, breakdown) : null,
    to: setUp.span === 'entry' ? lastGripOf(breakdown).id : null,
    repsPerSide: setUp.turns === 'reps' ? setUp.repsPerSide : null,
    roundSeconds: Math.round(setUp.roundMinutes * 60),
    rounds: setUp.rounds,
    restSeconds: setUp.restSeconds,
    attire: setUp.attire,
  };
}
