import { createHash } from 'node:crypto';
import type { Id } from '@ulkret/core/breakdown';
import type { readRepsCsv } from '@ulkret/core/formats';
import type { Rep } from '@ulkret/core/rep';
import type { endpoints } from '@ulkret/contract';
import { largestBatch, mostFaults, type OutputOf } from '@ulkret/contract';
import type { Db } from '../db/connect';
import { factsNaming } from './read';
import { takeFacts } from './take';

type Imported = OutputOf<typeof endpoints.importReps>;
type Rows = ReturnType<typeof readRepsCsv>;

/** A UUID (RFC 9562, version 8) made of the SHA-256 of a text within an academy. */
export function uuidOf(academyId: Id, text: string): string {
  const hex = createHash('sha256').update(`${academyId}\n${text}`).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

/** The rows, with a new id for each rep that was taken back with a whole import: whoever reads the file again wants it again. */
async function wantedAgain(db: Db, academyId: Id, rows: Rows['rows']): Promise<Rows['rows']> {
  const read = rows.map(({ line, rep }) => ({ line, rep }));
  let open = read;
  while (open.length > 0) {
    const voids = await factsNaming(
      db,
      academyId,
      'voids',
      open.map(({ rep }) => rep.id),
    );
    const gone = new Set(voids.filter(({ ofImport }) => ofImport).map(({ rep }) => rep));
    open = open.filter(({ rep }) => gone.has(rep.id));
    for (const row of open) row.rep = { ...row.rep, id: uuidOf(academyId, `${row.rep.id} again`) };
  }
  return read;
}

/** Whose reps these are, on which technique, and from when to when. */
function brought(reps: readonly Rep[]): Imported['brings'] {
  if (reps.length === 0) return null;
  const of = new Map<string, { student: Id; technique: Id; reps: number }>();
  for (const { student, technique } of reps) {
    const known = of.get(`${student} ${technique}`) ?? { student, technique, reps: 0 };
    known.reps++;
    of.set(`${student} ${technique}`, known);
  }
  const times = reps.map(({ at }) => new Date(at).toISOString()).sort();
  return {
    of: [...of.values()].sort((a, b) => b.reps - a.reps),
    from: times[0]!,
    until: times.at(-1)!,
  };
}

/** Takes the good rows of a file, and answers for every row. */
export async function takeRows(db: Db, academyId: Id, { rows: read, faults }: Rows): Promise<Imported> {
  const rows = await wantedAgain(db, academyId, read);
  const refused = [...faults];
  const fresh: Rep[] = [];
  let known = 0;
  for (let i = 0; i < rows.length; i += largestBatch) {
    const part = rows.slice(i, i + largestBatch);
    const answers = await takeFacts(db, academyId, { reps: part.map(({ rep }) => rep) });
    answers.forEach(({ answer: verdict, reason = '' }, n) => {
      const { line, rep } = part[n]!;
      if (verdict === 'accepted') fresh.push(rep);
      else if (verdict === 'known') known++;
      else refused.push({ line, column: 'id', reason });
    });
  }
  return {
    accepted: fresh.map(({ id }) => id),
    known,
    refused: refused.sort((a, b) => a.line - b.line).slice(0, mostFaults),
    refusedRows: new Set(refused.map(({ line }) => line)).size,
    brings: brought(fresh),
  };
}

class NothingKept<T> extends Error {
  constructor(readonly told: T) {
    super('a look keeps nothing');
  }
}

/** What a task would answer, with nothing of what it writes kept and nobody told. */
export async function lookAt<T>(db: Db, task: (tx: Db) => Promise<T>): Promise<T> {
  try {
    return await db.transaction(async (tx) => {
      throw new NothingKept(await task(tx));
    });
  } catch (error) {
    if (error instanceof NothingKept) return error.told as T;
    throw error;
  }
}
