import { z } from 'zod';
import { Breakdown, Technique } from '../breakdown';

/** Techniques with their breakdowns as a file: one, or a whole library. Documented in docs/formats.md. */
export const BreakdownFile = z.object({
  format: z.literal('ulkret.breakdown/1'),
  techniques: z.array(z.object({ technique: Technique, editions: z.array(Breakdown).min(1) })),
});
export type BreakdownFile = z.infer<typeof BreakdownFile>;
