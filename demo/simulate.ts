import { type Breakdown, causesAt, type Id, type Side } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import { type Rep, Rep as RepSchema, type Rung } from '@ulkret/core/rep';
import type { CauseTag } from '@ulkret/core/facts';
import { pairByMass, Session } from '@ulkret/core/session';
import { randomLcg, randomNormal } from 'd3-random';
import { UUID } from 'uuidv7';

const logit = (p: number): number => Math.log(p / (1 - p));
const logistic = (x: number): number => 1 / (1 + Math.exp(-x));

/** A place in the term: which class it is, from 0, and what is being tried on whom. */
export interface Attempt {
  student: Student;
  partner: Student;
  side: Side;
  rung: Rung;
  /** Class of the term, from 0. */
  lesson: number;
}

/** A story sets the hazard of one checkpoint for the attempts it is about; null leaves it to chance. */
export type Story = (attempt: Attempt, checkpoint: Id) => number | null;
/** Why stops at a checkpoint happen, where a story says so. */
export type CauseStory = (attempt: Attempt, checkpoint: Id) => Id | null;

/** The squad as it truly is: known, because it was made up. */
export interface Truth {
  /** P(stop at checkpoint | reached), 0…1. */
  hazard(attempt: Attempt, checkpoint: Id): number;
  cause(attempt: Attempt, checkpoint: Id): Id | null;
}

const rungShift: Readonly<Record<Rung, number>> = { 0: -1, 1: -0.5, 2: 0, 3: 0.55, 4: 1 };

/** Hazards of a made-up squad: normal on the log-odds scale for checkpoint, student and their deviation, then the stories. */
export function truthOf(
  breakdown: Breakdown,
  squad: readonly Student[],
  seed: number,
  levels: Readonly<Record<Id, number>>,
  stories: readonly Story[],
  causeStories: readonly CauseStory[],
): Truth {
  const source = randomLcg(seed);
  const student = randomNormal.source(source)(0, 0.4);
  const deviation = randomNormal.source(source)(0, 0.45);
  const skill = new Map(squad.map(({ id }) => [id, student()]));
  const own = new Map(
    squad.flatMap(({ id }) =>
      breakdown.checkpoints.map((checkpoint) => [`${id} ${checkpoint.id}`, deviation()]),
    ),
  );
  return {
    hazard(attempt, checkpoint) {
      for (const story of stories) {
        const told = story(attempt, checkpoint);
        if (told !== null) return told;
      }
      const { student: who, partner, side, rung } = attempt;
      const mass = who.massKg && partner.massKg ? Math.log(partner.massKg / who.massKg) : 0;
      return logistic(
        logit(levels[checkpoint] ?? 0.15) +
          skill.get(who.id)! +
          own.get(`${who.id} ${checkpoint}`)! +
          rungShift[rung] +
          (side === who.mainSide ? 0 : 0.25) +
          0.8 * mass,
      );
    },
    cause(attempt, checkpoint) {
      for (const story of causeStories) {
        const told = story(attempt, checkpoint);
        if (told !== null) return told;
      }
      return null;
    },
  };
}

/** Ids and chance for facts that a seed always gives: UUIDv7 of the fact's own instant. */
export function maker(seed: number) {
  const chance = randomLcg(seed);
  const bits = (n: number) => Math.floor(chance() * 2 ** n);
  return {
    chance,
    id: (instant: number): string => UUID.fromFieldsV7(instant, bits(12), bits(30), bits(32)).toString(),
    pick: <T>(list: readonly T[], weights: readonly number[]): T => {
      let left = chance() * weights.reduce((sum, weight) => sum + weight, 0);
      return list[weights.findIndex((weight) => (left -= weight) < 0)] ?? list.at(-1)!;
    },
  };
}

/** Pairs people across an order: the first with the one in the middle, and so on; an odd one joins the last pair. */
function acrossPairs(order: readonly Id[]): Id[][] {
  const half = Math.floor(order.length / 2);
  const pairs = Array.from({ length: half }, (_, i) => [order[i]!, order[i + half]!]);
  if (order.length % 2 === 1) pairs.at(-1)?.push(order.at(-1)!);
  return pairs;
}

/**
 * A class of the simulated squad: pairs by nearest mass, this many reps on each side, then the roles swap. It drills
 * as people do: a rep ends at the first checkpoint that breaks, and the coach tags some causes.
 */
export function drillClass(
  { chance, id, pick }: ReturnType<typeof maker>,
  truth: Truth,
  breakdown: Breakdown,
  present: readonly Student[],
  {
    lesson,
    start,
    rungs: roundRungs,
    repsPerSide,
    observers,
    pairing = 'by mass',
  }: {
    lesson: number;
    /** Milliseconds since the epoch. */
    start: number;
    rungs: readonly Rung[];
    repsPerSide: number;
    observers: readonly Id[];
    /** Nearest masses together, or the light with the heavy. */
    pairing?: 'by mass' | 'across';
  },
): { session: Session; reps: Rep[]; tags: CauseTag[] } {
  const byId = new Map(present.map((student) => [student.id, student]));
  const { pairs: pairIds } = pairByMass(present);
  if (pairing === 'across') {
    const order = pairIds.flat();
    pairIds.splice(0, Infinity, ...acrossPairs(order));
  }
  const pairs = pairIds.map((pair) => pair.map((one) => byId.get(one)!));
  const roundSeconds = 300;
  const session = Session.parse({
    id: id(start),
    technique: breakdown.technique,
    edition: breakdown.edition,
    startedAt: new Date(start).toISOString(),
    endedAt: new Date(start + 75 * 60_000).toISOString(),
    pairs: pairs.map((pair) => pair.map((one) => one.id)),
    rung: roundRungs[0]!,
    from: null,
    to: null,
    repsPerSide,
    roundSeconds,
  });
  const reps: Rep[] = [];
  const tags: CauseTag[] = [];
  pairs.forEach((pair, place) =>
    roundRungs.forEach((rung, round) => {
      let at = start + (round * 22 + 8) * 60_000 + place * 4_000;
      pair.forEach((student, turn) => {
        const partner = pair[(turn + 1) % pair.length]!;
        for (const side of ['right', 'left'] as const)
          for (let n = 0; n < repsPerSide; n++) {
            at += Math.round((11 + chance() * 9) * 1000);
            const attempt: Attempt = { student, partner, side, rung, lesson };
            const soft: Id[] = [];
            let stop: Id | null = null;
            for (const checkpoint of breakdown.checkpoints) {
              const hazard = truth.hazard(attempt, checkpoint.id);
              if (chance() < hazard) {
                stop = checkpoint.id;
                break;
              }
              if (chance() < hazard * 0.3) soft.push(checkpoint.id);
            }
            const interrupted = stop === null && chance() < 0.02;
            const told = {
              id: id(at),
              session: session.id,
              at: new Date(at).toISOString(),
              technique: breakdown.technique,
              edition: breakdown.edition,
              student: student.id,
              partner: partner.id,
              side,
              rung,
              from: null,
              to: null,
              cause: null,
              observer: observers[place % observers.length]!,
              source: 'mat' as const,
              note: interrupted ? 'time was called' : '',
            };
            const heldTo = breakdown.checkpoints.at(-2)!.id;
            reps.push(
              RepSchema.parse(
                stop
                  ? { ...told, soft, outcome: 'stopped', stop }
                  : interrupted
                    ? {
                        ...told,
                        soft: soft.filter((one) => one !== breakdown.checkpoints.at(-1)!.id),
                        outcome: 'not judged',
                        heldTo,
                      }
                    : { ...told, soft, outcome: 'finished' },
              ),
            );
            if (!stop || chance() > 0.55) continue;
            const causes = causesAt(breakdown, stop);
            const cause =
              truth.cause(attempt, stop) ??
              pick(
                causes.map((one) => one.id),
                causes.map((one) =>
                  one.kind === 'mistake'
                    ? one.mistake.priorShare
                    : one.defence.priorShare * (rung >= 2 ? 1 : 0.1),
                ),
              );
            tags.push({
              id: id(at + 2000),
              rep: told.id,
              cause,
              words: null,
              at: new Date(at + 2000).toISOString(),
              observer: told.observer,
            });
          }
      });
    }),
  );
  return { session, reps, tags };
}
