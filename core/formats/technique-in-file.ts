import { z } from 'zod';
import { Breakdown, Technique } from '../breakdown';

/** A technique with all its editions, as a file carries them. */
export const TechniqueInFile = z.object({ technique: Technique, editions: z.array(Breakdown).min(1) });
export type TechniqueInFile = z.infer<typeof TechniqueInFile>;

/** What is wrong in a file: the way to it, as `techniques[2].editions[0].mistakes[1].root`, and the reason. */
export const FileFault = z.object({ path: z.string(), reason: z.string() });
export type FileFault = z.infer<typeof FileFault>;
