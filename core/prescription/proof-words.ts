import { type Breakdown, checkpointWords, readFor, type Side } from '../breakdown';
import { many } from '../words';
import { signOff } from './signoff';
import type { SignOffBy } from './step';

/** What proves that it worked, where the dose itself does not; empty where it does. */
export function proofWords(
  breakdown: Pick<Breakdown, 'checkpoints'>,
  { proof }: { proof?: SignOffBy | undefined },
  lead: Side,
): string {
  if (!proof || proof.by === 'dose') return '';
  const shows = checkpointWords(breakdown, proof.shows, lead);
  if (proof.by === 'test')
    return (
      `These reps end before it would show at ${shows}: they are for learning, and do not count for a sign-off. ` +
      `Then test it: at most ${many(proof.reps, 'rep')} a class as far as ${shows}; ${signOff([]).heldInARowToSettle} held in a row sign it off.`
    );
  const told = proof.sign && readFor(proof.sign.text, lead).replace(/\.?$/, '.');
  return (
    `It shows at ${shows}, where nobody may be taken here: it cannot be signed off by reps. ` +
    (proof.sign === null
      ? 'No sign of it is recorded: add a proof in the Library.'
      : proof.sign.by === 'measure'
        ? `Measure it, and log what was measured: ${told}`
        : `Sign it off by what is ${signVerbs[proof.sign.by]}: ${told}`)
  );
}

const signVerbs = { see: 'seen', feel: 'felt', ask: 'said' } as const;
