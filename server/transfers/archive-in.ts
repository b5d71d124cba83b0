import { createHash } from 'node:crypto';
import type { Readable } from 'node:stream';
import { text as textOf } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import { setImmediate as rest } from 'node:timers/promises';
import type { Id } from '@ulkret/core/breakdown';
import { type FactList, factLists, type FactOf, kindOf } from '@ulkret/core/facts';
import { and, count, eq, getTableColumns, inArray, ne, sql } from 'drizzle-orm';
import { getTableConfig, type PgTable } from 'drizzle-orm/pg-core';
import { z } from 'zod';
import type { Db } from '../db/connect';
import { ofAll } from '../db/within';
import {
  academies,
  breakdowns,
  coaches,
  drafts,
  drills,
  houseRules,
  pieces,
  positions,
  reps,
  sessions,
  signIns,
  students,
  techniques,
} from '../db/schema';
import { openZip, type OpenZip, ZipFault } from '../files';
import { makeWellFormed, tooCostly } from '../odd';
import { addFacts } from '../intake/resolve-conflicts';
import { tellOfAll } from '../signals/tell';
import { obey, tombstonesOf } from '../people/erased';
import { markAllStale } from '../signals/stale';
import { readingsChanged } from '../signals/version';
import {
  academyFile,
  ArchivedAcademy,
  ArchivedCoach,
  ArchiveManifest,
  coachesFile,
  factsFile,
  manifestFile,
  readFiles,
  sectionFile,
  sections,
} from './archive';

/** Why an archive cannot be imported, in words for the person importing it. */
export class ArchiveFault extends Error {
  override name = 'ArchiveFault';
}

/** More than that no archive unpacks to. */
const mostBytes = 2_000_000_000;
const atOnce = 500;
const noArchive = () =>
  new ArchiveFault('It is not an archive of an academy, or it is incomplete: download it again.');
/** What an archive says of itself, once every file is as it says. */
async function manifestIn(zip: OpenZip): Promise<ArchiveManifest> {
  const text = zip.has(manifestFile) ? await textOf(await zip.read(manifestFile)).catch(() => null) : null;
  const parsed = ArchiveManifest.safeParse(text === null ? null : safely(text));
  if (!parsed.success) throw noArchive();
  for (const [name, { sha256: said }] of Object.entries(parsed.data.files)) {
    if (!readFiles.includes(name))
      throw new ArchiveFault(`It was made by a newer Ulkret: "${name}" is not known here. Update this one.`);
    if (!zip.has(name)) throw new ArchiveFault(`It is damaged: ${name} is not in it. Download it again.`);
    const hash = createHash('sha256');
    await pipeline(await zip.read(name), hash).catch(() => {
      throw noArchive();
    });
    if (hash.digest('hex') !== said)
      throw new ArchiveFault(`It is damaged: ${name} was changed. Download it again.`);
  }
  for (const name of [academyFile, coachesFile])
    if (!(name in parsed.data.files)) throw new ArchiveFault(`It is damaged: ${name} is not in it.`);
  return parsed.data;
}

/** A line may be as long as the largest body: it holds one thing. */
const longestLine = 8 * 1024 * 1024;

/** The lines of a file. Throws an `ArchiveFault` where one is longer than anything that an academy has. */
async function* linesOf(file: Readable, name: string): AsyncGenerator<{ line: number; bytes: Buffer }> {
  let [line, length, parts]: [number, number, Buffer[]] = [1, 0, []];
  for await (const part of file as AsyncIterable<Buffer>) {
    let from = 0;
    for (let at = part.indexOf(0x0a); at >= 0; at = part.indexOf(0x0a, from)) {
      yield { line: line++, bytes: Buffer.concat([...parts, part.subarray(from, at)]) };
      [from, length, parts] = [at + 1, 0, []];
    }
    parts.push(part.subarray(from));
    length += part.length - from;
    if (length > longestLine)
      throw new ArchiveFault(`${name}, line ${line}, is longer than anything that an academy has.`);
  }
  if (length > 0) yield { line, bytes: Buffer.concat(parts) };
}

function safely(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

/** The things in a file of an archive, some at a time, each as its schema reads it. None where the archive has no such file. */
async function* itemsIn<T>(
  zip: OpenZip,
  manifest: ArchiveManifest,
  name: string,
  schema: z.ZodType<T>,
): AsyncGenerator<T[]> {
  if (!(name in manifest.files)) return;
  let some: T[] = [];
  for await (const { line, bytes } of linesOf(await zip.read(name), name)) {
    const text = bytes.toString().trim().replace(/,$/, '');
    if (text === '[' || text === ']' || text === '') continue;
    const fault = (why: string) => new ArchiveFault(`${name}, line ${line}, cannot be read (${why}).`);
    const costs = tooCostly(bytes);
    if (costs !== null) throw fault(costs);
    const given = [safely(text)];
    if (makeWellFormed(given)) throw fault('a character that nothing can hold, such as NUL');
    const read = schema.safeParse(given[0]);
    if (!read.success) {
      const [issue] = read.error.issues;
      throw fault(`${issue?.path.join('.') || 'all of it'}: ${issue?.message}`);
    }
    some.push(read.data);
    if (some.length < atOnce) continue;
    yield some;
    some = [];
    await rest();
  }
  if (some.length > 0) yield some;
}

/** The result of an import. */
export interface BroughtIn {
  name: string;
  /** The number of items in each file. */
  items: Record<string, number>;
  /** Coaches whose email signs in elsewhere on this server, and who got none here. */
  withoutEmail: string[];
}

/** Throws where somebody would lose something by what comes in. */
async function mustBeEmpty(db: Db, academyId: Id): Promise<void> {
  for (const [table, what] of [
    [students, 'people on its roster'],
    [sessions, 'classes'],
    [reps, 'reps'],
  ] as const) {
    const [found] = await db.select({ n: count() }).from(table).where(eq(table.academyId, academyId));
    if (found!.n > 0)
      throw new ArchiveFault(
        `This academy already has ${what}: import a whole one only into an empty academy.`,
      );
  }
}

/**
 * The coaches of an archive. The importer keeps their identity there, by email, and stays signed in; the others are
 * there by name, because facts name them, and come in again by an invitation.
 */
async function bringCoaches(
  db: Db,
  academyId: Id,
  importer: Id,
  archived: readonly ArchivedCoach[],
): Promise<string[]> {
  const here = and(eq(coaches.academyId, academyId), eq(coaches.id, importer));
  const [self] = await db.select().from(coaches).where(here);
  const same = (email: string) => email.toLowerCase() === self!.email.toLowerCase();
  const own = archived.find(({ email }) => same(email));
  // An id that another one has in the archive is theirs there.
  const mine =
    own?.id ?? (archived.some(({ id }) => id === importer) ? `${importer.slice(0, 50)}-here` : importer);
  if (mine !== importer) {
    await db.insert(coaches).values({ ...self!, id: mine, email: `${mine}@moving.invalid` });
    await db
      .update(signIns)
      .set({ coachId: mine })
      .where(and(eq(signIns.academyId, academyId), eq(signIns.coachId, importer)));
    await db.update(houseRules).set({ by: mine }).where(eq(houseRules.academyId, academyId));
    await db.delete(coaches).where(here);
    await db
      .update(coaches)
      .set({ email: self!.email })
      .where(and(eq(coaches.academyId, academyId), eq(coaches.id, mine)));
  }
  const others = archived.filter(({ id }) => id !== mine);
  const emails = others.map(({ email }) => email.toLowerCase());
  const taken = new Set(
    emails.length === 0
      ? []
      : (
          await ofAll(db, () =>
            db
              .select({ email: sql<string>`lower(${coaches.email})` })
              .from(coaches)
              .where(inArray(sql`lower(${coaches.email})`, emails)),
          )
        ).map(({ email }) => email),
  );
  const withoutEmail = others.filter(({ email }) => taken.has(email.toLowerCase()));
  const now = new Date().toISOString();
  for (const { id, name, email, role, student, closedAt } of others)
    await db
      .insert(coaches)
      .values({
        academyId,
        id,
        name,
        email: taken.has(email.toLowerCase()) ? `${id}@${academyId}.invalid` : email,
        passwordHash: '',
        role,
        studentId: student,
        closedAt: closedAt ?? now,
      })
      .onConflictDoUpdate({
        target: [coaches.academyId, coaches.id],
        set: { name },
        setWhere: ne(coaches.id, mine),
      });
  return withoutEmail.map(({ name }) => name);
}

/** A fact with who was signed in where it came from. */
interface SentFact {
  fact: FactOf<FactList>;
  sentBy: Id | null;
}

const sentFact = (list: FactList): z.ZodType<SentFact> =>
  z
    .looseObject({ sentBy: z.string().nullable().default(null) })
    .transform(({ sentBy, ...given }, context) => {
      const read = kindOf(list).schema.safeParse(given);
      if (read.success) return { fact: read.data as FactOf<FactList>, sentBy };
      for (const { message, path: at } of read.error.issues)
        context.addIssue({ code: 'custom', message, path: at });
      return z.NEVER;
    }) as unknown as z.ZodType<SentFact>;

async function bringFacts(
  db: Db,
  academyId: Id,
  list: FactList,
  some: AsyncIterable<SentFact[]>,
): Promise<number> {
  let n = 0;
  for await (const part of some) {
    for (const sentBy of new Set(part.map((one) => one.sentBy)))
      n += (
        await addFacts(
          db,
          academyId,
          list,
          part.filter((one) => one.sentBy === sentBy).map(({ fact }) => fact),
          sentBy,
        )
      ).size;
  }
  return n;
}

/** Brings an archive, in an open file, into an academy that is still empty: all of it, or nothing. Throws an `ArchiveFault`. */
export async function bringIn(db: Db, academyId: Id, importer: Id, fd: number): Promise<BroughtIn> {
  await mustBeEmpty(db, academyId);
  const zip = await openZip(fd, [manifestFile, ...readFiles], mostBytes).catch((error: unknown) => {
    if (!(error instanceof ZipFault)) throw error;
    throw error.is === 'broken' ? noArchive() : new ArchiveFault('It is larger than any academy.');
  });
  const manifest = await manifestIn(zip);
  return db.transaction((tx) => bringAll(tx, academyId, importer, zip, manifest));
}

async function bringAll(
  tx: Db,
  academyId: Id,
  importer: Id,
  zip: OpenZip,
  manifest: ArchiveManifest,
): Promise<BroughtIn> {
  await tx.select().from(academies).where(eq(academies.academyId, academyId)).for('update');
  await mustBeEmpty(tx, academyId);
  for (const table of [drafts, breakdowns, techniques, positions, pieces, drills])
    await tx.delete(table).where(eq(table.academyId, academyId));
  const items: Record<string, number> = {};
  const all = <T>(name: string, schema: z.ZodType<T>) => itemsIn(zip, manifest, name, schema);
  let called = '';
  for await (const [itself] of all(academyFile, ArchivedAcademy)) {
    called = itself!.name;
    await tx.update(academies).set(itself!).where(eq(academies.academyId, academyId));
  }
  const people: ArchivedCoach[] = [];
  for await (const some of all(coachesFile, ArchivedCoach)) people.push(...some);
  const withoutEmail = await bringCoaches(tx, academyId, importer, people);
  await tx.delete(houseRules).where(eq(houseRules.academyId, academyId));
  const inserting = new Inserting(tx);
  for (const [name, { schema, table, row }] of Object.entries(sections)) {
    let n = 0;
    for await (const some of all(sectionFile(name), schema)) {
      const rows = some.map((item) => ({ ...row(item as never), academyId }));
      await inserting.each(table as PgTable, rows, sectionFile(name));
      n += rows.length;
    }
    items[name] = n;
  }
  for (const list of factLists()) {
    const name = factsFile(list);
    items[list] = await bringFacts(tx, academyId, list, all(name, sentFact(list)));
    if (items[list] !== (manifest.files[name]?.items ?? 0))
      throw new ArchiveFault(`It is damaged: ${name} has an id twice.`);
  }
  await obey(
    tx,
    [...(await tombstonesOf(tx, manifest.academy)), ...(await tombstonesOf(tx, academyId))],
    academyId,
  );
  await markAllStale(tx, academyId);
  await readingsChanged(tx, academyId);
  await tellOfAll(tx, academyId);
  return { name: called, items, withoutEmail };
}

/** The fields of a table's key, without the academy. */
function keyOf(table: PgTable): string[] {
  const columns = new Set(getTableConfig(table).primaryKeys[0]!.columns.map(({ name }) => name));
  return Object.entries(getTableColumns(table))
    .filter(([field, { name }]) => columns.has(name) && field !== 'academyId')
    .map(([field]) => field);
}

/** Inserts the rows of one file after the other. The database would refuse the same ones, and does not say which: it hides what is in a row. */
class Inserting {
  private readonly known = new Map<PgTable, Set<string>>();

  constructor(private readonly tx: Db) {}

  async each(table: PgTable, rows: readonly Record<string, unknown>[], file: string): Promise<void> {
    const known = this.known.get(table) ?? new Set();
    this.known.set(table, known);
    const key = keyOf(table);
    const ofTechnique = getTableConfig(table).foreignKeys.some(
      (one) => one.reference().foreignTable === techniques,
    );
    for (const row of rows) {
      const id = key.map((field) => String(row[field])).join(', ');
      if (known.has(id)) throw new ArchiveFault(`It is damaged: ${file} has “${id}” twice.`);
      known.add(id);
      const technique = row['techniqueId'];
      if (ofTechnique && !this.known.get(techniques)?.has(technique as Id))
        throw new ArchiveFault(
          `It is damaged: ${file} names the technique “${technique as Id}”, which is not in it.`,
        );
    }
    await this.tx.insert(table).values(rows as never);
  }
}
