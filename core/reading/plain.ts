import { type Id, otherSide, type Side } from '../breakdown';
import { type Beta, betaDraws, betaEstimate, drawsOf, finished } from '../math';
import type { Tallied } from './tallied';
import { talliedOf } from './tallied';
import { type ReadingQuestion, readSquad, seedOf } from './read';
import { drawCount, reachedForGap, type Sight } from './sight';
import type { Slice, SquadReading } from './reading';
import type { Tally } from './tally';

/** Days after which a rep counts half. */
export const defaultHalfLifeDays = 28;
/** Reps that the squad's rate is worth in a student's estimate, and the general rate in the squad's. */
export const priorWeight = 4;
/** The rate a checkpoint is thought to break at before anybody has tried it: logistic(−1.4), the prior of the full model. */
export const generalHazard = 1 / (1 + Math.exp(1.4));

/** The posterior of a hazard after weighted counts, with a prior rate worth `priorWeight` reps. */
export const posterior = (tally: Pick<Tally, 'weightReached' | 'weightFailed'>, priorRate: number): Beta => ({
  a: priorWeight * priorRate + tally.weightFailed,
  b: priorWeight * (1 - priorRate) + tally.weightReached - tally.weightFailed,
});

const meanOf = ({ a, b }: Beta): number => a / (a + b);

/** P(the second rate is higher), from as many draws of both. */
function chanceHigher(first: Beta, second: Beta, seed: number): number {
  const drawn = betaDraws([first, second], drawCount, seed);
  return drawn.filter(([one, other]) => other! > one!).length / drawCount;
}

/**
 * The instant reading of one technique: counts weighed by age, and for each student and checkpoint a Beta posterior around
 * the squad's rate. Only the reps of the slice count. Deterministic: the same question gives the same answer.
 */
export function plainReading(question: ReadingQuestion): SquadReading {
  const { breakdown, slice, mainSides } = question;
  const { squad } = talliedOf(question.cells.filter(({ technique }) => technique === breakdown.technique));
  const squadAt = (id: Id, at: Slice): Beta => posterior(squad.at(id, at), generalHazard);

  const sight = (
    name: string,
    tallied: Tallied,
    id: Id,
    at: (slice: Slice) => Beta,
    mainSide: Side,
  ): Sight => {
    const beta = at(slice);
    const gap = (first: Partial<Slice>, second: Partial<Slice>): number | null => {
      const slices = [first, second].map((one): Slice => ({ ...slice, ...one }));
      if (slices.some((one) => tallied.at(id, one).reached < reachedForGap)) return null;
      return chanceHigher(at(slices[0]!), at(slices[1]!), seedOf(id));
    };
    return {
      hazard: betaEstimate(beta),
      draws: drawsOf(beta, drawCount, seedOf(`${name} ${id}`)),
      beta,
      heldAt: (condition) => {
        const { a, b } = at({ ...slice, ...condition });
        return betaEstimate({ a: b, b: a });
      },
      sideGap: gap({ side: mainSide }, { side: otherSide(mainSide) }),
      massGap: gap({ partner: 'lighter' }, { partner: 'heavier' }),
    };
  };

  const steps = readSquad(
    question,
    'plain',
    (student, tallied) =>
      breakdown.checkpoints.map(({ id }) =>
        sight(
          student,
          tallied,
          id,
          (at) => posterior(tallied.at(id, at), meanOf(squadAt(id, at))),
          mainSides.get(student) ?? 'right',
        ),
      ),
    (all) =>
      breakdown.checkpoints.map(({ id }) => ({
        ...sight('squad', all, id, (at) => squadAt(id, at), 'right'),
        sideGap: null,
      })),
  );
  return finished(steps);
}
