import { statSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { BackupFault, makeBackup } from '@ulkret/server/keeping/backup';
import { defaultData, storeOf, versionHere } from './data-folder';
import { houseIn } from './house-key';
import { Trouble } from './trouble';

const usage = `npm run backup -- --to FILE [--data DIR]
  --to FILE   where the backup is written: all of it, or nothing
  --open      not sealed with the key of the house: anybody who has the file can read it
  --data DIR  the data folder (default .data); DATABASE_URL in the environment is used instead where it is set`;

/** Writes everything that the server keeps to one file, whether the server runs or not. */
export async function run(args: string[]): Promise<void> {
  let given;
  try {
    given = parseArgs({
      args,
      options: {
        to: { type: 'string' },
        data: { type: 'string' },
        open: { type: 'boolean', default: false },
      },
    }).values;
  } catch (error) {
    throw new Trouble(`${(error as Error).message}\n${usage}`);
  }
  if (!given.to) throw new Trouble(usage);
  const file = path.resolve(given.to);
  const { close, folder, ...store } = await storeOf(given.data);
  try {
    const house = given.open ? null : await houseIn(folder ?? defaultData());
    const { tables } = await makeBackup(store, file, versionHere(), house?.key ?? null);
    const rows = Object.values(tables).reduce((sum, one) => sum + one.rows, 0);
    console.log(
      `${file}: ${rows} rows of ${Object.keys(tables).length} tables, ${statSync(file).size} bytes.`,
    );
    console.log(
      house
        ? `It is sealed with ${house.file}: keep that key somewhere else too. A restore on another machine needs it.`
        : 'It is not sealed: it names people, minors perhaps. Keep it as you would a register.',
    );
  } catch (error) {
    if (error instanceof BackupFault || isOfTheDisk(error))
      throw new Trouble(`No backup was made: ${(error as Error).message}`);
    throw error;
  } finally {
    close();
  }
}

/** A folder that is not there, or is full, or may not be written to. */
const isOfTheDisk = (error: unknown): boolean =>
  ['ENOENT', 'ENOSPC', 'EACCES', 'EROFS', 'EFBIG', 'ENOTDIR', 'EISDIR'].includes(
    (error as { code?: string }).code ?? '',
  );
