import { createHash } from 'node:crypto';
import type { Id } from '@ulkret/core/breakdown';
import { setImmediate as rest } from 'node:timers/promises';
import { latestVoids } from '@ulkret/core/facts';
import type { RowFault, RowsRead } from '@ulkret/core/formats';
import type { Rep } from '@ulkret/core/rep';
import type { endpoints } from '@ulkret/contract';
import { mostFaults, type OutputOf } from '@ulkret/contract';
import type { Db } from '../db/connect';
import { factsNaming } from '../facts/read';
import { takeFacts } from './take';

type Imported = OutputOf<typeof endpoints.importReps>;
type Rows = RowsRead['rows'];
/** So few rows are taken at once that no tap waits long behind them. */
const mostAtOnce = 500;

/** A UUID (RFC 9562, version 8) made of the SHA-256 of a text within an academy. */
export function uuidOf(academyId: Id, text: string): string {
  const hex = createHash('sha256').update(`${academyId}\n${text}`).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

/**
 * The rows, with a new id for each rep that was undone with a whole import: reading the file again means wanting it
 * again.
 */
async function wantedAgain(db: Db, academyId: Id, rows: Rows): Promise<Rows> {
  const read = rows.map(({ line, rep }) => ({ line, rep }));
  let open = read;
  while (open.length > 0) {
    const voids = await factsNaming(
      db,
      academyId,
      'voids',
      open.map(({ rep }) => rep.id),
    );
    const gone = new Set(
      [...latestVoids(voids).values()]
        .filter(({ ofImport, restores }) => ofImport && !restores)
        .map(({ rep }) => rep),
    );
    open = open.filter(({ rep }) => gone.has(rep.id));
    for (const row of open) row.rep = { ...row.rep, id: uuidOf(academyId, `${row.rep.id} again`) };
  }
  return read;
}

/** Whose new reps a file brings, on which technique, and from when to when. */
class Brought {
  private readonly of = new Map<string, { student: Id; technique: Id; reps: number }>();
  private from: string | null = null;
  private until = '';

  add({ student, technique, at }: Rep): void {
    const name = `${student} ${technique}`;
    const known = this.of.get(name) ?? { student, technique, reps: 0 };
    known.reps++;
    this.of.set(name, known);
    const instant = new Date(at).toISOString();
    if (this.from === null || instant < this.from) this.from = instant;
    if (instant > this.until) this.until = instant;
  }

  told(): Imported['brings'] {
    const { from, until } = this;
    return from === null ? null : { of: [...this.of.values()].sort((a, b) => b.reps - a.reps), from, until };
  }
}

/**
 * Takes the good rows of a file part by part, and answers for every row. Other requests are answered in between; if
 * the file breaks off, the parts taken stay, and are known when it comes again. `look` is a dry run.
 */
export async function takeRows(
  db: Db,
  academyId: Id,
  parts: AsyncIterable<RowsRead>,
  importer: Id,
  look: boolean,
): Promise<Imported> {
  const sender = { id: importer, decides: true, forOthers: true };
  const accepted = new Set<string>();
  const brings = new Brought();
  const [refused, odd]: [RowFault[], RowFault[]] = [[], []];
  const strangers = new Set<string>();
  let [known, refusedRows] = [0, 0];
  for await (const { rows: read, faults, ...asked } of parts) {
    odd.push(...asked.odd.slice(0, mostFaults - odd.length));
    for (const name of asked.strangers) strangers.add(name);
    const wrong = [...faults];
    for (let i = 0; i < read.length; i += mostAtOnce) {
      const rows = await wantedAgain(db, academyId, read.slice(i, i + mostAtOnce));
      const take = (tx: Db) => takeFacts(tx, academyId, { reps: rows.map(({ rep }) => rep) }, sender);
      const answers = await (look ? lookAt(db, take) : take(db));
      answers.forEach(({ answer: verdict, reason = '' }, n) => {
        const { line, rep } = rows[n]!;
        if (verdict === 'refused') wrong.push({ line, column: 'id', reason });
        // Of what a look has let in nothing is there when the same comes again.
        else if (verdict === 'known' || accepted.has(rep.id)) known++;
        else {
          accepted.add(rep.id);
          brings.add(rep);
        }
      });
      await rest();
    }
    refusedRows += new Set(wrong.map(({ line }) => line)).size;
    wrong.sort((a, b) => a.line - b.line);
    refused.push(...wrong.slice(0, mostFaults - refused.length));
    await rest();
  }
  return {
    accepted: [...accepted],
    known,
    refused,
    refusedRows,
    odd,
    strangers: [...strangers],
    brings: brings.told(),
  };
}

class NothingKept<T> extends Error {
  constructor(readonly told: T) {
    super('a look keeps nothing');
  }
}

/** Runs a task, returns its answer and rolls all its writes back, without telling anybody. */
async function lookAt<T>(db: Db, task: (tx: Db) => Promise<T>): Promise<T> {
  try {
    return await db.transaction(async (tx) => {
      throw new NothingKept(await task(tx));
    });
  } catch (error) {
    if (error instanceof NothingKept) return error.told as T;
    throw error;
  }
}
