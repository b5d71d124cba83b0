import { z } from 'zod';
import { ReadingSettings, SquadReading } from '../reading';

/** A reading as a file: what was read, and everything that it depends on. Documented in docs/formats.md. */
export const ReadingFile = z.object({
  format: z.literal('ulkret.reading/1'),
  settings: ReadingSettings,
  reading: SquadReading,
});
export type ReadingFile = z.infer<typeof ReadingFile>;
