import type { Id } from '../breakdown';
import type { Observation, Rep } from '../rep';
import { type Editions, observations } from './tally';

/** The reps that reached a checkpoint and what each says about it, latest first: what a hazard's n is made of. */
export const evidenceAt = (
  editions: Editions,
  reps: readonly Rep[],
  checkpoint: Id,
): { rep: Rep; observation: Exclude<Observation, 'not seen'> }[] =>
  [...observations(editions, reps)]
    .flatMap(({ rep, checkpoint: id, observation }) =>
      id === checkpoint && observation !== 'not seen' ? [{ rep, observation }] : [],
    )
    .sort((a, b) => Date.parse(b.rep.at) - Date.parse(a.rep.at));
