import { Access, PersonNote, Zone } from '@ulkret/contract';
import { Breakdown, Draft, Id, Piece, Position, Technique } from '@ulkret/core/breakdown';
import { RuleSet } from '@ulkret/core/care';
import { Drill } from '@ulkret/core/drills';
import { factLists, kindOf } from '@ulkret/core/facts';
import { readStudent, Student, Units } from '@ulkret/core/people';
import { Weekday } from '@ulkret/core/reading';
import { Instant } from '@ulkret/core/rep';
import { Session } from '@ulkret/core/session';
import type { AnyPgColumn, PgTable } from 'drizzle-orm/pg-core';
import { z } from 'zod';
import {
  breakdowns,
  drafts,
  drills,
  houseRules,
  personNotes,
  pieces,
  positions,
  sessions,
  students,
  techniques,
} from '../db/schema';

/** A row without the academy that it is of. */
type Row = Readonly<Record<string, unknown>>;

/** Things of one kind in an archive: a file with one of them a line, in the order of their rows. */
export interface Section {
  /** Its contents, for the reader of the archive. */
  says: string;
  /** How one is read that an earlier release may have kept; as it is where this is not said. */
  mended?(item: never): unknown;
  schema: z.ZodType;
  table: PgTable & { academyId: AnyPgColumn };
  order: readonly AnyPgColumn[];
  item(row: Row): unknown;
  row(item: Row): Row;
}

/** A table of documents: one column holds all of it, and the others are what it is found by. */
const documents = (
  says: string,
  schema: z.ZodType,
  table: Section['table'],
  order: readonly AnyPgColumn[],
  column: string,
  by: (item: never) => Row,
): Section => ({
  says,
  schema,
  table,
  order,
  item: (row) => row[column],
  row: (item) => ({ ...by(item as never), [column]: item }),
});

const SavedDraft = z.object({
  technique: Technique,
  draft: Draft,
  revision: z.int().min(1),
  begunFrom: z.int().min(0),
  savedBy: z.string(),
  savedAt: Instant,
});
const KeptNote = PersonNote.omit({ byName: true }).extend({ person: Id });
const SetRules = z.object({ revision: z.int().min(1), rules: RuleSet, by: z.string(), at: Instant });

/** The parts of an archive besides facts, in the order of the import: what others name comes before them. */
export const sections: Readonly<Record<string, Section>> = {
  people: {
    ...documents(
      'everybody on the roster, archived ones too, with bodies, injuries and consents',
      Student,
      students,
      [students.id],
      'student',
      ({ id, name }: Student) => ({ id, name }),
    ),
    mended: (kept: Student) => readStudent(kept).student,
  },
  techniques: documents(
    'the techniques of the library',
    Technique,
    techniques,
    [techniques.id],
    'technique',
    ({ id, name }: Technique) => ({ id, name }),
  ),
  editions: documents(
    'every edition of every breakdown',
    Breakdown,
    breakdowns,
    [breakdowns.techniqueId, breakdowns.edition],
    'breakdown',
    ({ technique, edition }: Breakdown) => ({ techniqueId: technique, edition }),
  ),
  drafts: {
    says: 'editions that are being written',
    schema: SavedDraft,
    table: drafts,
    order: [drafts.techniqueId],
    item: ({ technique, draft, revision, begunFrom, savedBy, savedAt }) => ({
      technique,
      draft,
      revision,
      begunFrom,
      savedBy,
      savedAt,
    }),
    row: (item) => ({ ...item, techniqueId: (item['technique'] as Technique).id }),
  },
  positions: documents(
    'positions that the academy has added, changed or merged',
    Position,
    positions,
    [positions.id],
    'position',
    ({ id }: Position) => ({ id }),
  ),
  pieces: documents(
    'shared pieces, with their text',
    Piece,
    pieces,
    [pieces.id],
    'piece',
    ({ id }: Piece) => ({ id }),
  ),
  drills: documents(
    'drills that the academy has added or changed',
    Drill,
    drills,
    [drills.id],
    'drill',
    ({ id }: Drill) => ({ id }),
  ),
  rules: {
    says: 'the rules, each version, and who set it',
    schema: SetRules,
    table: houseRules,
    order: [houseRules.revision],
    item: ({ revision, rules, by, at }) => ({ revision, rules, by, at }),
    row: (item) => item,
  },
  notes: {
    says: 'coaches’ notes about people, and who may see them',
    schema: KeptNote,
    table: personNotes,
    order: [personNotes.id],
    item: ({ id, person, by, at, words, seenBy }) => ({ id, person, by, at, words, seenBy }),
    row: (item) => item,
  },
  sessions: documents(
    'the classes as they were set up',
    Session,
    sessions,
    [sessions.id],
    'session',
    ({ id, technique, startedAt }: Session) => ({ id, techniqueId: technique, startedAt }),
  ),
};

/** Somebody with a sign-in, now or earlier, without the password: no archive holds one. */
export const ArchivedCoach = Access.omit({ seenAt: true });
export type ArchivedCoach = z.infer<typeof ArchivedCoach>;

export const ArchivedAcademy = z.object({
  name: z.string().min(1).max(80),
  zone: Zone,
  units: Units,
  /** An archive of an older release does not say it. */
  weekBegins: Weekday.default('monday'),
});

export type ArchivedAcademy = z.infer<typeof ArchivedAcademy>;

export const archiveFormat = 'ulkret.academy/1';

/** The manifest of an archive: the contents of each file, so that an import can be checked against the export. */
export const ArchiveManifest = z.object({
  format: z.literal(archiveFormat),
  version: z.string(),
  madeAt: z.iso.datetime(),
  /** The id of the academy where it was made: who was erased there stays erased here. */
  academy: z.string().default(''),
  files: z.record(z.string(), z.object({ items: z.int().min(0), sha256: z.string() })),
});
export type ArchiveManifest = z.infer<typeof ArchiveManifest>;

export const academyFile = 'academy.json';
export const coachesFile = 'coaches.json';
export const manifestFile = 'manifest.json';
export const sectionFile = (name: string): string => `${name}.json`;
export const factsFile = (list: string): string => `facts/${list}.json`;

/** The files that are read when an archive is brought in. */
export const readFiles: readonly string[] = [
  academyFile,
  coachesFile,
  ...Object.keys(sections).map(sectionFile),
  ...factLists().map(factsFile),
];

/** The JSON Schema (draft 2020-12) of one line of each file. */
export const archiveSchemas = (): Record<string, unknown> => {
  const schemaOf = (schema: z.ZodType) => z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' });
  return Object.fromEntries([
    ['academy', schemaOf(ArchivedAcademy)],
    ['coaches', schemaOf(ArchivedCoach)],
    ...Object.entries(sections).map(([name, { schema }]) => [name, schemaOf(schema)]),
    ...factLists().map((list) => [`facts-${list}`, schemaOf(kindOf(list).schema)]),
  ]) as Record<string, unknown>;
};
