import type { Id } from '../breakdown';
import type { Observation, Rep } from '../rep';
import { partnerOfBand } from './tallied';
import type { Slice } from './reading';
import { type EditionsByNumber, type Folding, massBandOf, observations } from './tally';
import { weekOf } from './week';

/** Was the rep done as the slice asks, in one of the weeks that are folded? */
export const asked =
  (
    { rung, side, partner }: Slice,
    { asOf, since, weekBegins }: Omit<Folding, 'halfLifeDays'>,
    massOf: (person: Id) => number | null,
  ) =>
  (rep: Rep): boolean => {
    const week = weekOf(rep.at, weekBegins);
    const band = massBandOf(massOf(rep.student), rep.partner === null ? null : massOf(rep.partner));
    return (
      week <= weekOf(asOf, weekBegins) &&
      (since === undefined || week >= since) &&
      (rung === null || rung === rep.rung) &&
      (side === null || side === rep.side) &&
      (partner === null || partner === partnerOfBand(band))
    );
  };

/** The reps that reached a checkpoint and what each says about it, latest first: what a hazard's n is made of. */
export const evidenceAt = (
  editions: EditionsByNumber,
  reps: readonly Rep[],
  checkpoint: Id,
): { rep: Rep; observation: Exclude<Observation, 'not seen'> }[] =>
  [...observations(editions, reps)]
    .flatMap(({ rep, checkpoint: id, observation }) =>
      id === checkpoint && observation !== 'not seen' ? [{ rep, observation }] : [],
    )
    .sort((a, b) => Date.parse(b.rep.at) - Date.parse(a.rep.at));
