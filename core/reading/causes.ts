import { type Breakdown, causesAt, type Id } from '../breakdown';
import type { CauseShare } from './reading';
import { stopsBy } from './tally';
import type { Counts } from './week-tally';

/** Stops that the squad's tags are worth in the attribution of one student's stops. */
const squadTagWeight = 4;

/**
 * What ends the reps at a checkpoint: each mistake and open defence with its tagged stops and its share of all stops
 * there. The share of a stop that nobody tagged is in proportion to this student's tags + 4 × the squad's tag shares +
 * the catalogue's prior shares. Mistakes first; what nobody tagged last, with no share of its own unless the catalogue
 * knows no cause here.
 */
export function causeShares(
  breakdown: Breakdown,
  checkpoint: Id,
  own: Counts,
  squad: Counts = own,
): CauseShare[] {
  const known = causesAt(breakdown, checkpoint);
  const priorOf = (cause: (typeof known)[number]): number =>
    cause.kind === 'mistake' ? cause.mistake.priorShare : cause.defence.priorShare;
  const sum = (list: number[]) => list.reduce((total, x) => total + x, 0);
  const tags = known.map(({ id }) => stopsBy(own, id));
  const squadTags = known.map(({ id }) => stopsBy(squad, id));
  const squadTotal = sum(squadTags);
  const priorTotal = sum(known.map(priorOf));
  const weights = known.map(
    (cause, i) =>
      tags[i]! +
      (squadTotal > 0 ? (squadTagWeight * squadTags[i]!) / squadTotal : 0) +
      priorOf(cause) / priorTotal,
  );
  const total = sum(weights);
  const untagged = own.failed - sum(tags);
  const shares = known.map((cause, i): CauseShare => {
    const share =
      own.failed > 0 ? (tags[i]! + (untagged * weights[i]!) / total) / own.failed : weights[i]! / total;
    const root = cause.kind === 'mistake' ? cause.mistake.root : checkpoint;
    return { cause: cause.id, kind: cause.kind, stops: tags[i]!, share, root };
  });
  const unknown: CauseShare = {
    cause: null,
    kind: 'unknown',
    stops: untagged,
    root: checkpoint,
    share: known.length === 0 ? 1 : 0,
  };
  return untagged > 0 || known.length === 0 ? [...shares, unknown] : shares;
}

/**
 * Where the stops at each checkpoint have their roots: row by row the checkpoint at which reps stop, column by column
 * the one that would have to be fixed. Mistakes move to their root; a defence stays where it stops the rep, because its
 * answer is learnt there. Every row sums to 1. `places` numbers the checkpoints.
 */
export function rootShares(shares: readonly CauseShare[][], places: ReadonlyMap<Id, number>): number[][] {
  return shares.map((list, at) => {
    const row = Array<number>(shares.length).fill(0);
    for (const { share, root } of list) row[places.get(root) ?? at]! += share;
    return row;
  });
}
