import { type Breakdown, CheckpointKind, Id } from '../breakdown';
import { cohenKappa, type TwoByTwo } from '../math';
import { observe, type Rep, type SecondOpinion } from '../rep';
import type { EditionsByNumber } from './tally';
import { z } from 'zod';

/** κ under which a criterion is suspect rather than the student. */
export const agreementWanted = 0.6;
/** Verdicts on the same checkpoint below which κ says nothing. */
export const fewestVerdicts = 10;

/** How two observers judged the same reps at one checkpoint, or at all of one kind: in how many it failed to both, to one, or to neither. */
const Verdicts = z.object({
  bothFailed: z.int(),
  firstOnly: z.int(),
  secondOnly: z.int(),
  bothHeld: z.int(),
  n: z.int(),
  /** Cohen's κ; null where there are too few verdicts, or none that could differ. */
  kappa: z.number().nullable(),
});
export type Verdicts = z.infer<typeof Verdicts>;

export const Agreement = z.object({
  looks: z.int(),
  byKind: z.array(Verdicts.extend({ kind: CheckpointKind })),
  byCheckpoint: z.array(Verdicts.extend({ checkpoint: Id })),
});
export type Agreement = z.infer<typeof Agreement>;

const none = (): TwoByTwo => ({ a: 0, b: 0, c: 0, d: 0 });
const verdicts = (table: TwoByTwo): Verdicts => {
  const { a, b, c, d } = table;
  const n = a + b + c + d;
  return {
    bothFailed: a,
    firstOnly: b,
    secondOnly: c,
    bothHeld: d,
    n,
    kappa: n < fewestVerdicts ? null : cohenKappa(table),
  };
};

/** The rep as the second observer would have logged it. */
const asSeenBy = (rep: Rep, { stop, observer }: SecondOpinion): Rep => {
  const told = { ...rep, observer, soft: [], cause: null };
  return (stop === null ? { ...told, outcome: 'finished' } : { ...told, outcome: 'stopped', stop }) as Rep;
};

/** Compares each second look with the rep it is about, at every checkpoint that both saw. */
export function agreementOf(
  breakdown: Breakdown,
  editions: EditionsByNumber,
  reps: readonly Rep[],
  looks: readonly SecondOpinion[],
): Agreement {
  const repOf = new Map(reps.map((rep) => [rep.id, rep]));
  const tables = new Map(breakdown.checkpoints.map(({ id }) => [id, none()]));
  let counted = 0;
  for (const look of looks) {
    const rep = repOf.get(look.rep);
    const edition = rep && editions.get(rep.edition);
    if (!edition) continue;
    counted += 1;
    const first = observe(edition, rep);
    const second = observe(edition, asSeenBy(rep, look));
    for (const [id, table] of tables) {
      const [one, other] = [first.get(id) ?? 'not seen', second.get(id) ?? 'not seen'];
      if (one === 'not seen' || other === 'not seen') continue;
      if (one === 'failed') table[other === 'failed' ? 'a' : 'b'] += 1;
      else table[other === 'failed' ? 'c' : 'd'] += 1;
    }
  }
  return {
    looks: counted,
    byCheckpoint: [...tables].map(([checkpoint, table]) => ({ checkpoint, ...verdicts(table) })),
    byKind: CheckpointKind.options.flatMap((kind) => {
      const own = breakdown.checkpoints.filter((one) => one.kind === kind).map(({ id }) => tables.get(id)!);
      if (own.length === 0) return [];
      const total = own.reduce(
        (sum, { a, b, c, d }) => ({ a: sum.a + a, b: sum.b + b, c: sum.c + c, d: sum.d + d }),
        none(),
      );
      return [{ kind, ...verdicts(total) }];
    }),
  };
}
