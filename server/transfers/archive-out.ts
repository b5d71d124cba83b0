import { createHash } from 'node:crypto';
import { Readable, type Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Id } from '@ulkret/core/breakdown';
import { factLists, kindOf } from '@ulkret/core/facts';
import { writeTableCsv } from '@ulkret/core/formats';
import type { Student } from '@ulkret/core/people';
import { asc, eq, getTableColumns } from 'drizzle-orm';
import yazl from 'yazl';
import type { Db } from '../db/connect';
import { academies, coaches } from '../db/schema';
import { allRows } from '../facts/read';
import { readRow } from '../facts/rows';
import { setAside } from '../facts/set-aside';
import { roster } from '../people/roster';
import { repsCsv } from './facts-out';
import {
  academyFile,
  type ArchivedAcademy,
  type ArchivedCoach,
  archiveFormat,
  type ArchiveManifest,
  archiveSchemas,
  coachesFile,
  factsFile,
  manifestFile,
  type Section,
  sectionFile,
  sections,
} from './archive';

type Many = AsyncIterable<unknown> | Iterable<unknown>;

/** Things as a JSON array with one of them a line; `done` gets how many there were, and the hash of it. */
async function* arrayOf(
  items: Many,
  done: (of: { items: number; sha256: string }) => void = () => undefined,
): AsyncGenerator<string> {
  const hash = createHash('sha256');
  let n = 0;
  let text = '[';
  for await (const item of items) {
    text += `${n++ === 0 ? '' : ','}\n${JSON.stringify(item)}`;
    if (text.length < partLength) continue;
    hash.update(text);
    yield text;
    text = '';
  }
  text += '\n]\n';
  hash.update(text);
  yield text;
  done({ items: n, sha256: hash.digest('hex') });
}
const partLength = 60_000;

async function* itemsOf(db: Db, academyId: Id, section: Section): AsyncGenerator<unknown> {
  const { table, order, schema, item, mended } = section;
  const rows: Record<string, unknown>[] = await db
    .select(getTableColumns(table))
    .from(table)
    .where(eq(table.academyId, academyId))
    .orderBy(...order.map((column) => asc(column)));
  for (const row of rows) {
    const kept = item(row);
    const read = mended ? mended(kept as never) : kept;
    // What cannot be read goes along among what is set aside.
    const { success, data } = schema.safeParse(read);
    if (success) yield data;
  }
}

/** The facts of a kind with who sent each. */
async function* factItems(db: Db, academyId: Id, list: ReturnType<typeof factLists>[number]) {
  for await (const rows of allRows(db, academyId, list))
    for (const row of rows) {
      const read = readRow(list, row);
      if ('fact' in read) yield { ...read.fact, sentBy: row['sentBy'] };
    }
}

const peopleColumns = [
  'id',
  'name',
  'born',
  'mainSide',
  'experienceMonths',
  'grade',
  'statureCm',
  'massKg',
  'armSpanCm',
  'archived',
] as const satisfies readonly (keyof Student)[];

const peopleCsv = (people: readonly Student[]): string =>
  writeTableCsv(
    peopleColumns,
    people.map((one) => peopleColumns.map((column) => (one[column] === null ? null : String(one[column])))),
  );

/** The README of the archive, for somebody who opens it in ten years. */
const readme = (name: string, madeAt: string): string => `${name}, as it stood at ${madeAt}

This is a whole academy of Ulkret (${archiveFormat}). It names people, minors perhaps, with their bodies and injuries:
keep it as you would a register.

Every .json file is an array with one thing a line. schemas/ has a JSON Schema (draft 2020-12) for one line of each.
Each fact says in \`sentBy\` who was signed in where it came from.

${academyFile.padEnd(24)} the academy itself: its name, time zone, units and the weekday of its weeks
${coachesFile.padEnd(24)} who signs in or did, without passwords
${Object.entries(sections)
  .map(([section, { says }]) => `${sectionFile(section).padEnd(24)} ${says}`)
  .join('\n')}
${factLists()
  .map((list) => `${factsFile(list).padEnd(24)} ${kindOf(list).says}`)
  .join('\n')}
${'set-aside.json'.padEnd(24)} what is stored and cannot be read; it is not read back
${'reps.csv'.padEnd(24)} the reps that stand, for a spreadsheet; not read back
${'people.csv'.padEnd(24)} the roster, for a spreadsheet; not read back
${manifestFile.padEnd(24)} how many things each file has, and its SHA-256

Under Data, "Bring an academy in" reads it into an academy that is still empty. Passwords, devices, links to cards and open
invitations are not in it. What can be made again from the facts (tallies, readings, fits) is not either.
`;

/** Writes a whole academy, as it is at one instant, as an open archive. What it says of itself comes last. */
export async function writeArchive(db: Db, to: Writable, academyId: Id, version: string): Promise<void> {
  const files: ArchiveManifest['files'] = {};
  const madeAt = new Date().toISOString();
  const zip = new yazl.ZipFile();
  // One after the other, each when it is its turn: nothing lies anywhere in between.
  const put = (name: string, parts: () => Iterable<string> | AsyncIterable<string>) =>
    zip.addReadStreamLazy(name, {}, (open) => open(null, Readable.from(parts())));
  const data = (name: string, items: () => Many) =>
    put(name, () => arrayOf(items(), (of) => (files[name] = of)));
  await db.transaction(
    async (tx) => {
      const [academy] = await tx.select().from(academies).where(eq(academies.academyId, academyId));
      const { name, zone, units, weekBegins } = academy!;
      const itself: ArchivedAcademy = { name, zone, units, weekBegins };
      const people = await tx
        .select()
        .from(coaches)
        .where(eq(coaches.academyId, academyId))
        .orderBy(asc(coaches.id));
      const here = await roster(tx, academyId);
      put('README.txt', () => [readme(name, madeAt)]);
      data(academyFile, () => [itself]);
      data(coachesFile, () => people.map(archivedCoach));
      for (const [section, of] of Object.entries(sections))
        data(sectionFile(section), () => itemsOf(tx, academyId, of));
      for (const list of factLists()) data(factsFile(list), () => factItems(tx, academyId, list));
      put('set-aside.json', () => arrayOf(setAside(tx, academyId)));
      put('reps.csv', () => repsCsv(tx, academyId, {}));
      put('people.csv', () => [peopleCsv(here)]);
      for (const [of, schema] of Object.entries(archiveSchemas()))
        put(`schemas/${of}.json`, () => [`${JSON.stringify(schema, null, 2)}\n`]);
      put(manifestFile, () => {
        const manifest: ArchiveManifest = {
          format: archiveFormat,
          version,
          madeAt,
          academy: academyId,
          files,
        };
        return [`${JSON.stringify(manifest, null, 2)}\n`];
      });
      const failed = new Promise<never>((_, reject) => zip.once('error', reject));
      zip.end();
      await Promise.race([pipeline(zip.outputStream, to), failed]);
    },
    { isolationLevel: 'repeatable read', accessMode: 'read only' },
  );
}

const archivedCoach = (one: typeof coaches.$inferSelect): ArchivedCoach => ({
  id: one.id,
  name: one.name,
  email: one.email,
  role: one.role,
  student: one.studentId,
  closedAt: one.closedAt,
});
