import { Readable, type Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Id } from '@ulkret/core/breakdown';
import type { Db } from '../db/connect';
import type { RepFilter } from '../facts/read';
import { nameless, writerOf } from '../files';
import { type BroughtIn, bringIn } from './archive-in';
import { writeArchive } from './archive-out';
import { factsFile, repsCsv } from './facts-out';

/** How each file that goes out is written. */
export const writers = {
  reps: (db: Db, to: Writable, academyId: Id, which: RepFilter) =>
    pipeline(Readable.from(repsCsv(db, academyId, which)), to),
  facts: (db: Db, to: Writable, academyId: Id) => pipeline(Readable.from(factsFile(db, academyId)), to),
  academy: (db: Db, to: Writable, academyId: Id, version: string) => writeArchive(db, to, academyId, version),
} as const;

type Writers = typeof writers;
/** The arguments of a writer that are its own. */
type Of<W extends keyof Writers> = Writers[W] extends (db: Db, to: Writable, ...of: infer A) => unknown
  ? A
  : never;

/** Work on a whole file, wherever it is done: by its name, with its arguments and an open file. */
export type Job =
  | { [W in keyof Writers]: { does: W; of: Of<W> } }[keyof Writers]
  | { does: 'bring'; of: [academyId: Id, importer: Id] };

/** Does a job. */
export async function doJob(db: Db, job: Job, fd: number): Promise<BroughtIn | null> {
  if (job.does === 'bring') return bringIn(db, ...job.of, fd);
  const write = writers[job.does] as (db: Db, to: Writable, ...of: unknown[]) => Promise<void>;
  await write(db, writerOf(fd), ...job.of);
  return null;
}

/**
 * Whole files of an academy, out and in. One that goes out is made before the first of it is sent, so that it is refused or whole, and
 * no slow reader holds the database.
 */
export class Transfers {
  constructor(private readonly work: (job: Job, fd: number) => Promise<BroughtIn | null>) {}

  async *out<W extends keyof Writers>(does: W, ...of: Of<W>): AsyncGenerator<Uint8Array> {
    const file = await nameless();
    try {
      await this.work({ does, of } as unknown as Job, file.fd);
      // The handle's own stream: it closes the file once, however often it is asked to.
      for await (const part of file.createReadStream({ start: 0 })) yield part as Uint8Array;
    } finally {
      await file.close();
    }
  }

  async in(academyId: Id, importer: Id, archive: AsyncIterable<Uint8Array>): Promise<BroughtIn> {
    const file = await nameless();
    try {
      await pipeline(Readable.from(archive), writerOf(file.fd));
      return (await this.work({ does: 'bring', of: [academyId, importer] }, file.fd))!;
    } finally {
      await file.close();
    }
  }
}

/** Transfers in this process. */
export const transfersHere = (db: Db): Transfers => new Transfers((job, fd) => doJob(db, job, fd));
