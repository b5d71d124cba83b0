import { readFile, rename, writeFile } from 'node:fs/promises';
import { z } from 'zod';
import type { Db } from '../db/connect';
import { obey, Tombstone, tombstonesOf } from '../people/erased';

/**
 * Who was erased, in a file next to the key of the house: a backup that was copied elsewhere before does not know it, and a restore
 * must.
 */
const File = z.object({ format: z.literal('ulkret.erased/1'), erased: z.array(Tombstone) });

async function read(file: string): Promise<Tombstone[]> {
  const text = await readFile(file, 'utf8').catch(() => null);
  return text === null ? [] : File.parse(JSON.parse(text)).erased;
}

/**
 * Erases again who has come back with a database that is older than their erasure, as these files tell it; writes down in `own` who is
 * known to be erased. How many were erased again.
 */
export async function keepErased(
  db: Db,
  files: readonly string[],
  own: readonly string[] = [],
): Promise<number> {
  const known = new Map<string, Tombstone>();
  for (const one of [...(await Promise.all(files.map(read))).flat(), ...(await tombstonesOf(db))])
    known.set(`${one.academyId} ${one.mark}`, one);
  const again = await obey(db, [...known.values()]);
  const text = JSON.stringify({ format: 'ulkret.erased/1', erased: [...known.values()] });
  for (const file of own) {
    await writeFile(`${file}.half`, text, { mode: 0o600 });
    await rename(`${file}.half`, file);
  }
  return again;
}
