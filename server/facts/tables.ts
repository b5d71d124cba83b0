import type { FactList } from '@ulkret/core/facts';
import type { AnyPgColumn, AnyPgTable } from 'drizzle-orm/pg-core';
import { careNotes, causeTags, changes, overrides, reps, secondOpinions, steps, voids } from '../db/schema';

/** A table of facts: what every fact has, the session or the rep by which it is found, and what its kind says. */
export type FactTable = AnyPgTable & {
  academyId: AnyPgColumn;
  id: AnyPgColumn;
  session?: AnyPgColumn;
  rep?: AnyPgColumn;
};

/** The table of each kind. Its columns are the fields of the fact, with `academy_id` before them. */
export const factTables: Record<FactList, FactTable> = {
  reps,
  voids,
  tags: causeTags,
  looks: secondOpinions,
  notes: careNotes,
  overrides,
  changes,
  steps,
};
