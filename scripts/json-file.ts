import { readFileSync } from 'node:fs';
import type { z } from 'zod';
import { Trouble } from './trouble';

/** Reads a JSON file as a schema says, or tells in one sentence what is wrong with it. */
export function readJsonFile<S extends z.ZodType>(
  file: string | undefined,
  schema: S,
  usage: string,
): z.infer<S> {
  if (!file) throw new Trouble(usage);
  let given: unknown;
  try {
    given = JSON.parse(readFileSync(file, 'utf8'));
  } catch (error) {
    throw new Trouble(`${file} cannot be read as JSON: ${(error as Error).message}.`);
  }
  const read = schema.safeParse(given);
  if (read.success) return read.data;
  const faults = read.error.issues
    .slice(0, 5)
    .map(({ path, message }) => `${path.join('.') || 'file'}: ${message}`);
  throw new Trouble(`${file} does not fit. ${faults.join('; ')}.`);
}

/** Prints an answer for a program to read. */
export const printJson = (answer: unknown): void => console.log(JSON.stringify(answer, null, 2));
