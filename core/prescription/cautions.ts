import type { Breakdown, Id } from '../breakdown';
import type { Drill } from '../drills';

/** The warnings that belong to a correction: those of its checkpoint, of the variants that the body calls for, and of its drill. */
export function cautionsOf(
  { checkpoints }: Pick<Breakdown, 'checkpoints'>,
  checkpoint: Id,
  { drill, ways }: { drill: Pick<Drill, 'caution'> | null | undefined; ways: readonly (Id | null)[] },
): string[] {
  const at = checkpoints.find(({ id }) => id === checkpoint);
  const variants = (at?.variants ?? []).filter(({ id }) => ways.includes(id));
  return [at?.caution, ...variants.map(({ caution }) => caution), drill?.caution].flatMap((one) => one || []);
}
