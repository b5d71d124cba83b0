import { z } from 'zod';
import { ReadingSettings, SquadReading } from '../reading';

/** A reading as a file: what was read, and everything that it depends on. Documented in docs/formats.md. */
export const ReadingFile = z.object({
  format: z.literal('ulkret.reading/2'),
  settings: ReadingSettings,
  reading: SquadReading,
});
export type ReadingFile = z.infer<typeof ReadingFile>;

/** A field of the first form that has another name now. */
const renamed: Readonly<Record<string, string>> = { finishOdds: 'finishRate' };

const brought = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(brought)
    : value && typeof value === 'object'
      ? Object.fromEntries(Object.entries(value).map(([key, one]) => [renamed[key] ?? key, brought(one)]))
      : value;

/** Reads a file of a reading in this form or the first one (`ulkret.reading/1`). Throws a ZodError where it is neither. */
export function readReadingFile(file: unknown): ReadingFile {
  const { format } = (file ?? {}) as { format?: unknown };
  return ReadingFile.parse(
    format === 'ulkret.reading/1' ? { ...(brought(file) as object), format: 'ulkret.reading/2' } : file,
  );
}
