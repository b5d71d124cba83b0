import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream, writeFile } from 'node:fs';
import { type FileHandle, mkdtemp, open, rm, unlink } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { type Readable, Writable } from 'node:stream';
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

/** An open file without a name: nobody else can open it, and it is gone once it is closed, or with this process. */
export async function nameless(): Promise<FileHandle> {
  const name = path.join(os.tmpdir(), `ulkret-${randomUUID()}`);
  const file = await open(name, 'wx+', 0o600);
  await unlink(name);
  return file;
}

/** Writes to an open file and never closes it, as a stream of Node's own would where it is destroyed: who has opened it does. */
export const writerOf = (fd: number): Writable =>
  new Writable({ write: (part: Uint8Array, _, done) => writeFile(fd, part, done) });

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

/** A zip in an open file: the wanted files in it, each of which can be read as often as one likes. */
export interface OpenZip {
  has(name: string): boolean;
  read(name: string): Promise<Readable>;
}

/** Opens a zip whose wanted files unpack to at most `mostBytes` in all. Throws a `ZipFault`. */
export async function openZip(fd: number, wanted: Iterable<string>, mostBytes: number): Promise<OpenZip> {
  const broken = () => {
    throw new ZipFault('broken');
  };
  // What it says of its sizes is checked as it is read.
  const zip = await yauzl.fromFdPromise(fd, { lazyEntries: true, autoClose: false }).catch(broken);
  const left = new Set(wanted);
  const entries = new Map<string, yauzl.Entry>();
  let bytes = 0;
  await new Promise<void>((resolve, reject) => {
    zip.on('error', () => reject(new ZipFault('broken')));
    zip.on('end', () => resolve());
    zip.on('entry', (entry: yauzl.Entry) => {
      if (left.delete(entry.fileName)) {
        entries.set(entry.fileName, entry);
        bytes += entry.uncompressedSize;
      }
      if (bytes > mostBytes) reject(new ZipFault('too large'));
      else zip.readEntry();
    });
    zip.readEntry();
  });
  return {
    has: (name) => entries.has(name),
    read: (name) => zip.openReadStreamPromise(entries.get(name)!).catch(broken),
  };
}
