import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import yauzl from 'yauzl';

/** The SHA-256 of a file, in hex. */
export async function sha256Of(file: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(file), hash);
  return hash.digest('hex');
}

/** A folder of its own for what is half made, beginning with `prefix`; gone afterwards, whatever happens. */
export async function inFolder<T>(prefix: string, make: (folder: string) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(prefix);
  try {
    return await make(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Where a file of a zip lies once it is unpacked: next to all others. */
export const unpackedAs = (folder: string, name: string): string => path.join(folder, name.replace('/', '-'));

/** Why a zip could not be unpacked. */
export class ZipFault extends Error {
  constructor(readonly is: 'broken' | 'too large') {
    super(`the zip is ${is}`);
  }
}

/**
 * Writes the wanted files of a zip to a folder. Nothing else is taken out of it, wherever it would like to be put, and no more than
 * `mostBytes` in all. Throws a `ZipFault`.
 */
export const unpack = (
  file: string,
  folder: string,
  wanted: Iterable<string>,
  mostBytes = Infinity,
): Promise<void> =>
  new Promise((resolve, reject) => {
    const left = new Set(wanted);
    let bytes = 0;
    yauzl.open(file, { lazyEntries: true }, (error, zip) => {
      const fail = (is: ZipFault['is'] = 'broken') => {
        zip?.close();
        reject(new ZipFault(is));
      };
      if (error) {
        fail();
        return;
      }
      zip.on('error', () => fail());
      zip.on('end', () => resolve());
      zip.on('entry', (entry: yauzl.Entry) => {
        if (!left.delete(entry.fileName)) {
          zip.readEntry();
          return;
        }
        bytes += entry.uncompressedSize;
        if (bytes > mostBytes) {
          fail('too large');
          return;
        }
        zip.openReadStream(entry, (wrong, part) => {
          if (wrong) {
            fail();
            return;
          }
          const to = createWriteStream(unpackedAs(folder, entry.fileName), { mode: 0o600 });
          pipeline(part, to).then(
            () => zip.readEntry(),
            () => fail(),
          );
        });
      });
      zip.readEntry();
    });
  });
