import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdtemp, open, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { Id } from '@ulkret/core/breakdown';
import { factLists, kindOf, standing } from '@ulkret/core/facts';
import { writeRepsCsv, writeTableCsv } from '@ulkret/core/formats';
import type { Student } from '@ulkret/core/people';
import { asc, eq, getTableColumns } from 'drizzle-orm';
import yazl from 'yazl';
import type { Db } from '../db/connect';
import { academies, coaches } from '../db/schema';
import { allRows, factsWhere } from '../facts/read';
import { readRow } from '../facts/rows';
import { setAside } from '../facts/set-aside';
import { unpackedAs } from '../files';
import { roster } from '../people/roster';
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
} from './sections';

type Many = AsyncIterable<unknown> | Iterable<unknown>;

/** Writes things as a JSON array with one of them a line; how many there were, and the hash of the file. */
async function writeItems(file: string, items: Many): Promise<{ items: number; sha256: string }> {
  const hash = createHash('sha256');
  const handle = await open(file, 'w', 0o600);
  try {
    const write = async (text: string) => {
      hash.update(text);
      await handle.write(text);
    };
    let n = 0;
    await write('[');
    for await (const item of items) await write(`${n++ === 0 ? '' : ','}\n${JSON.stringify(item)}`);
    await write('\n]\n');
    return { items: n, sha256: hash.digest('hex') };
  } finally {
    await handle.close();
  }
}

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

/** Writes an academy, at one instant, into a zip in a folder; its path. */
async function writeArchive(db: Db, academyId: Id, version: string, folder: string): Promise<string> {
  const files: ArchiveManifest['files'] = {};
  const inZip: [name: string, file: string][] = [];
  const madeAt = new Date().toISOString();
  const place = (name: string): string => {
    const file = unpackedAs(folder, name);
    inZip.push([name, file]);
    return file;
  };
  const text = (name: string, content: string) => writeFile(place(name), content, { mode: 0o600 });
  const data = async (name: string, items: Many) => {
    files[name] = await writeItems(place(name), items);
  };
  await db.transaction(
    async (tx) => {
      const [academy] = await tx.select().from(academies).where(eq(academies.academyId, academyId));
      const { name, zone, units, weekBegins } = academy!;
      const itself: ArchivedAcademy = { name, zone, units, weekBegins };
      await text('README.txt', readme(name, madeAt));
      await data(academyFile, [itself]);
      const people = await tx
        .select()
        .from(coaches)
        .where(eq(coaches.academyId, academyId))
        .orderBy(asc(coaches.id));
      await data(
        coachesFile,
        people.map(({ id, name: called, email, role, studentId, closedAt }): ArchivedCoach => ({
          id,
          name: called,
          email,
          role,
          student: studentId,
          closedAt,
        })),
      );
      for (const [section, of] of Object.entries(sections))
        await data(sectionFile(section), itemsOf(tx, academyId, of));
      for (const list of factLists()) await data(factsFile(list), factItems(tx, academyId, list));
      await writeItems(place('set-aside.json'), setAside(tx, academyId));
      await text('reps.csv', writeRepsCsv(standing(await factsWhere(tx, academyId, undefined))));
      await text('people.csv', peopleCsv(await roster(tx, academyId)));
    },
    { isolationLevel: 'repeatable read', accessMode: 'read only' },
  );
  for (const [name, schema] of Object.entries(archiveSchemas()))
    await text(`schemas/${name}.json`, `${JSON.stringify(schema, null, 2)}\n`);
  const manifest: ArchiveManifest = { format: archiveFormat, version, madeAt, files };
  await text(manifestFile, `${JSON.stringify(manifest, null, 2)}\n`);
  const zip = new yazl.ZipFile();
  for (const [name, file] of inZip) zip.addFile(file, name);
  zip.end();
  const whole = path.join(folder, 'archive');
  await pipeline(zip.outputStream, createWriteStream(whole, { mode: 0o600 }));
  return whole;
}

/** A whole academy as an open archive, in parts; what is made for it is gone with it. */
export async function* archiveOf(db: Db, academyId: Id, version: string): AsyncGenerator<Uint8Array> {
  const folder = await mkdtemp(path.join(os.tmpdir(), 'ulkret-archive-'));
  try {
    const file = await writeArchive(db, academyId, version, folder);
    for await (const part of createReadStream(file)) yield part as Uint8Array;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
