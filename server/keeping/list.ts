import { readFile, rename, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { type HouseKey, isSigned, signed } from './sealed';

/** A backup as the list of its folder tells it. */
const Listed = z.object({
  name: z.string(),
  madeAt: z.iso.datetime(),
  bytes: z.int().min(0),
  sha256: z.string(),
  /** When it was last restored and compared; null where it was not. */
  triedAt: z.iso.datetime().nullable(),
});
export type Listed = z.infer<typeof Listed>;

const List = z.object({
  format: z.literal('ulkret.backups/1'),
  /** In the order in which they were made, whatever the clock said. */
  backups: z.array(Listed),
  /** Ed25519 under the JSON of `backups`, by a key that is made from that of the house. */
  signature: z.string(),
});

const listFile = (folder: string): string => path.join(folder, 'backups.json');

/** The list of a folder; `isOurs` says whether it is as the house wrote it. Empty where there is none. */
export async function readList(
  folder: string,
  key: HouseKey,
): Promise<{ backups: Listed[]; isOurs: boolean }> {
  const text = await readFile(listFile(folder), 'utf8').catch(() => null);
  if (text === null) return { backups: [], isOurs: true };
  try {
    const { backups, signature } = List.parse(JSON.parse(text));
    return { backups, isOurs: isSigned(JSON.stringify(backups), signature, key) };
  } catch {
    return { backups: [], isOurs: false };
  }
}

/** Writes the list, whole or not at all. */
export async function writeList(folder: string, backups: readonly Listed[], key: HouseKey): Promise<void> {
  const list = { format: 'ulkret.backups/1', backups, signature: signed(JSON.stringify(backups), key) };
  const half = path.join(folder, '.backups.half');
  await writeFile(half, `${JSON.stringify(list, null, 2)}\n`, { mode: 0o600 });
  await rename(half, listFile(folder));
}
