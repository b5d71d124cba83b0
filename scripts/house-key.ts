import { chmodSync, existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import os from 'node:os';
import path from 'node:path';
import { type HouseKey, isHouseKey, newHouseKey } from '@ulkret/server/keeping/sealed';
import { Trouble } from './trouble';

const keyName = 'house.key';
const erasedName = 'erased.json';

/** Where this user keeps a copy of every key: a data folder that is lost takes no backup along. */
const copies = (): string =>
  path.join(process.env['XDG_DATA_HOME'] ?? path.join(os.homedir(), '.local', 'share'), 'ulkret');
/** The folder of one of them there, by a name that says nothing of the key. */
const copyOf = (key: HouseKey): string =>
  path.join(copies(), createHash('sha256').update(key).digest('hex').slice(0, 16));

function keyIn(file: string): HouseKey | null {
  const text = existsSync(file) ? readFileSync(file, 'utf8').trim() : '';
  return isHouseKey(text) ? text : null;
}

function write(folder: string, key: HouseKey): void {
  mkdirSync(folder, { recursive: true });
  const file = path.join(folder, keyName);
  writeFileSync(file, `${key}\n`, { mode: 0o600 });
  chmodSync(file, 0o600);
}

/** The key of a house and the files that say who was erased there. */
export interface House {
  key: HouseKey;
  file: string;
  erased: string[];
}

/** The key in a data folder; made at the first start, with a copy in this user's own files. */
export async function houseIn(folder: string): Promise<House> {
  const file = path.join(folder, keyName);
  if (existsSync(file) && keyIn(file) === null)
    throw new Trouble(`${file} is not a key of a house: put the right one there. Backups need it.`);
  const key = keyIn(file) ?? (await newHouseKey());
  if (!existsSync(file)) write(folder, key);
  const erased = [path.join(folder, erasedName)];
  try {
    if (!existsSync(path.join(copyOf(key), keyName))) write(copyOf(key), key);
    erased.push(path.join(copyOf(key), erasedName));
  } catch {
    // Somebody without files of their own has the one in the data folder.
  }
  return { key, file, erased };
}

/** Every key that may open a backup, and who was erased in their houses: the named one, those next to it, and this user's own. */
export function keysFor(
  backup: string,
  folder: string,
  named?: string,
): { keys: HouseKey[]; erased: string[] } {
  if (named !== undefined && keyIn(named) === null) throw new Trouble(`${named} is not a key of a house.`);
  const beside = path.dirname(backup);
  const own = existsSync(copies()) ? readdirSync(copies()).map((one) => path.join(copies(), one)) : [];
  const folders = [folder, beside, path.dirname(beside), ...own];
  const keys = [named, ...folders.map((one) => path.join(one, keyName))].flatMap(
    (file) => (file === undefined ? null : keyIn(file)) ?? [],
  );
  return {
    keys: [...new Set(keys)],
    erased: folders.map((one) => path.join(one, erasedName)).filter((file) => existsSync(file)),
  };
}
