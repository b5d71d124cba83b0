import type { Breakdown, Draft, Piece, Position, Technique } from '@ulkret/core/breakdown';
import type { CareNote, RuleSet } from '@ulkret/core/care';
import type { Drill } from '@ulkret/core/drills';
import type { Student, Units } from '@ulkret/core/people';
import type { Step } from '@ulkret/core/prescription';
import type { Weekday, WeekTally } from '@ulkret/core/reading';
import type { Rep } from '@ulkret/core/rep';
import type { SessionChange, Session } from '@ulkret/core/session';
import { notesSeenBy, roles, type TechniqueSummary } from '@ulkret/contract';
import {
  type AnyPgColumn,
  boolean,
  customType,
  date,
  doublePrecision,
  foreignKey,
  index,
  type IndexBuilder,
  integer,
  jsonb,
  type PgColumnBuilderBase,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import { sql } from 'drizzle-orm';

// Every key starts with academy_id: it keeps academies apart today and is what the tables are spread by tomorrow.

const academyId = () => text('academy_id').notNull();
/** An instant as PostgreSQL writes those of our time. */
const written = /^[12]\d{3}-\d\d-\d\d \d\d:\d\d:\d\d(\.\d+)?[+-]\d\d(:?\d\d)?$/;

/**
 * An instant to the millisecond; it travels as ISO 8601 in UTC, as the devices write it. Values out of range (year 26,
 * infinity) are returned as text. Schemas reject them; other rows stay readable.
 */
export const instant = customType<{ data: string; driverData: string }>({
  dataType: () => 'timestamp(3) with time zone',
  fromDriver: (text) => (written.test(text) ? new Date(text).toISOString() : text),
});

/** Who was signed in where a fact came from; null where it came with a whole academy, or before this was kept. */
const sentBy = () => text('sent_by');

export const academies = pgTable('academies', {
  academyId: text('academy_id').primaryKey(),
  name: text('name').notNull(),
  demo: boolean('demo').notNull().default(false),
  units: text('units').$type<Units>().notNull().default('kg and cm'),
  zone: text('zone').notNull().default('UTC'),
  /** The weekday on which its weeks begin. */
  weekBegins: text('week_begins').$type<Weekday>().notNull().default('monday'),
  createdAt: instant('created_at')
    .notNull()
    .default(sql`now()`),
});

export const coaches = pgTable(
  'coaches',
  {
    academyId: academyId().references(() => academies.academyId),
    id: text('id').notNull(),
    name: text('name').notNull(),
    email: text('email').notNull(),
    passwordHash: text('password_hash').notNull(),
    role: text('role', { enum: [...roles] }).notNull(),
    /** The student whose card this sign-in may see. */
    studentId: text('student_id'),
    /** Since when they may not sign in any more; who they were stays, because facts name them. */
    closedAt: instant('closed_at'),
  },
  (table) => [
    primaryKey({ columns: [table.academyId, table.id] }),
    // Who signs in does not say into which academy, so an email is one coach everywhere.
    uniqueIndex('coaches_email').on(sql`lower(${table.email})`),
  ],
);

export const signIns = pgTable(
  'sign_ins',
  {
    academyId: academyId(),
    /** SHA-256 of the cookie's secret: a copy of this table signs nobody in. */
    secretHash: text('secret_hash').notNull(),
    coachId: text('coach_id').notNull(),
    expiresAt: instant('expires_at').notNull(),
    /** Its name in its owner's list. */
    id: uuid('id').notNull().defaultRandom(),
    /** The device's own description. */
    device: text('device').notNull().default(''),
    openedAt: instant('opened_at')
      .notNull()
      .default(sql`now()`),
    seenAt: instant('seen_at')
      .notNull()
      .default(sql`now()`),
    /** When its owner last proved who they are. */
    provedAt: instant('proved_at')
      .notNull()
      .default(sql`now()`),
  },
  (table) => [
    primaryKey({ columns: [table.academyId, table.secretHash] }),
    foreignKey({
      columns: [table.academyId, table.coachId],
      foreignColumns: [coaches.academyId, coaches.id],
    }),
  ],
);

/** Public keys of passkeys (Web Authentication, level 3): the private ones never leave their devices. */
export const passkeys = pgTable(
  'passkeys',
  {
    academyId: academyId(),
    coachId: text('coach_id').notNull(),
    /** The id that the device gave it, in base64url. */
    id: text('id').notNull(),
    /** COSE, in base64url. */
    publicKey: text('public_key').notNull(),
    /** How often it was used, as far as the device counts. */
    counter: integer('counter').notNull(),
    device: text('device').notNull(),
    madeAt: instant('made_at')
      .notNull()
      .default(sql`now()`),
  },
  (table) => [
    primaryKey({ columns: [table.academyId, table.id] }),
    // Who comes in with one does not say into which academy.
    uniqueIndex('passkeys_id').on(table.id),
    foreignKey({
      columns: [table.academyId, table.coachId],
      foreignColumns: [coaches.academyId, coaches.id],
    }).onDelete('cascade'),
  ],
);

/** What a passkey is to sign, once and soon. Of no academy. */
export const challenges = pgTable('challenges', {
  challenge: text('challenge').primaryKey(),
  expiresAt: instant('expires_at').notNull(),
});

/** Every version of the academy's rules; the latest counts. None if the shipped ones were never changed. */
export const houseRules = pgTable(
  'house_rules',
  {
    academyId: academyId().references(() => academies.academyId),
    revision: integer('revision').notNull(),
    rules: jsonb('rules').$type<RuleSet>().notNull(),
    by: text('by').notNull(),
    at: instant('at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.academyId, table.revision] })],
);

/** How often something was tried that opens nothing: by a digest of who tried, which says nothing of them. Of no academy. */
export const rateLimits = pgTable('rate_limits', {
  key: text('key').primaryKey(),
  points: integer('points').notNull(),
  expire: timestamp('expire', { withTimezone: true }),
});

/** Views and exports of personal data, for the head coach. */
export const accesses = pgTable(
  'accesses',
  {
    academyId: academyId().references(() => academies.academyId),
    id: uuid('id').notNull().defaultRandom(),
    at: instant('at')
      .notNull()
      .default(sql`now()`),
    by: text('by').notNull(),
    /** The endpoint that was asked, by its name in the contract. */
    what: text('what').notNull(),
    /** The person it was about; null where it was about everybody or nobody. */
    about: text('about'),
    /** What changed, from what to what. */
    words: text('words').notNull().default(''),
    // The rest is filled in by the table itself, which is only added to: see the migration.
    seq: integer('seq').notNull().default(0),
    /** A digest of `salt` and `about`: who is erased takes both along, and leaves the chain whole. */
    aboutMark: text('about_mark').notNull().default(''),
    salt: uuid('salt'),
    /** The hash of the entry before, and of this one with it. */
    prev: text('prev').notNull().default(''),
    hash: text('hash').notNull().default(''),
  },
  (table) => [
    primaryKey({ columns: [table.academyId, table.id] }),
    index('accesses_by_time').on(table.academyId, table.at),
    index('accesses_in_order').on(table.academyId, table.seq),
  ],
);

/** Who was erased, by a digest that says nothing of them: nobody brings them back, and every backup is made again. */
export const erasures = pgTable(
  'erasures',
  {
    academyId: academyId().references(() => academies.academyId),
    id: uuid('id').notNull().defaultRandom(),
    /** SHA-256 of `salt` and the id that they had. */
    salt: uuid('salt').notNull().defaultRandom(),
    mark: text('mark').notNull(),
    reps: integer('reps').notNull(),
    at: instant('at')
      .notNull()
      .default(sql`now()`),
    /** When the last backup that held them was gone; null while it is still tried. */
    remadeAt: instant('remade_at'),
  },
  (table) => [primaryKey({ columns: [table.academyId, table.id] })],
);

/** What coaches write down about a person, for themselves or for others to see. */
export const personNotes = pgTable(
  'person_notes',
  {
    academyId: academyId().references(() => academies.academyId),
    id: uuid('id').notNull(),
    person: text('person').notNull(),
    by: text('by').notNull(),
    at: instant('at').notNull(),
    words: text('words').notNull(),
    seenBy: text('seen_by', { enum: [...notesSeenBy] }).notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.academyId, table.id] }),
    index('person_notes_by_person').on(table.academyId, table.person),
  ],
);

/** Links that let somebody in under a role, once. */
export const invitations = pgTable(
  'invitations',
  {
    academyId: academyId().references(() => academies.academyId),
    id: uuid('id').notNull(),
    /** SHA-256 of the link's secret: a copy of this table lets nobody in. */
    secretHash: text('secret_hash').notNull(),
    role: text('role', { enum: [...roles] }).notNull(),
    name: text('name').notNull(),
    studentId: text('student_id'),
    /** Whom it lets back in, with a new password. */
    coachId: text('coach_id'),
    madeBy: text('made_by').notNull(),
    madeAt: instant('made_at').notNull(),
    expiresAt: instant('expires_at').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.academyId, table.id] }),
    uniqueIndex('invitations_secret').on(table.academyId, table.secretHash),
  ],
);

export const students = pgTable(
  'students',
  {
    academyId: academyId().references(() => academies.academyId),
    id: text('id').notNull(),
    name: text('name').notNull(),
    student: jsonb('student').$type<Student>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.academyId, table.id] })],
);

export const techniques = pgTable(
  'techniques',
  {
    academyId: academyId().references(() => academies.academyId),
    id: text('id').notNull(),
    name: text('name').notNull(),
    technique: jsonb('technique').$type<Technique>().notNull(),
    /** What the list of the library shows of it; null is made again when it is next asked for. */
    summary: jsonb('summary').$type<TechniqueSummary>(),
  },
  (table) => [primaryKey({ columns: [table.academyId, table.id] })],
);

/** Positions that the academy has added, changed or merged; those that ship are no rows. */
export const positions = pgTable(
  'positions',
  {
    academyId: academyId().references(() => academies.academyId),
    id: text('id').notNull(),
    position: jsonb('position').$type<Position>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.academyId, table.id] })],
);

/** What occurs in several techniques: its words, once. */
export const pieces = pgTable(
  'pieces',
  {
    academyId: academyId().references(() => academies.academyId),
    id: text('id').notNull(),
    piece: jsonb('piece').$type<Piece>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.academyId, table.id] })],
);

/** The edition that is being written: one a technique, saved as it is typed, numbered by its savings. */
export const drafts = pgTable(
  'drafts',
  {
    academyId: academyId(),
    techniqueId: text('technique_id').notNull(),
    revision: integer('revision').notNull(),
    /** The latest edition when it was begun; what has come in since is not published over without a word. */
    begunFrom: integer('begun_from').notNull().default(0),
    technique: jsonb('technique').$type<Technique>().notNull(),
    draft: jsonb('draft').$type<Draft>().notNull(),
    savedBy: text('saved_by').notNull(),
    savedAt: instant('saved_at')
      .notNull()
      .default(sql`now()`),
  },
  (table) => [
    primaryKey({ columns: [table.academyId, table.techniqueId] }),
    foreignKey({
      columns: [table.academyId, table.techniqueId],
      foreignColumns: [techniques.academyId, techniques.id],
    }),
  ],
);

export const breakdowns = pgTable(
  'breakdowns',
  {
    academyId: academyId(),
    techniqueId: text('technique_id').notNull(),
    edition: integer('edition').notNull(),
    breakdown: jsonb('breakdown').$type<Breakdown>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.academyId, table.techniqueId, table.edition] }),
    foreignKey({
      columns: [table.academyId, table.techniqueId],
      foreignColumns: [techniques.academyId, techniques.id],
    }),
  ],
);

export const sessions = pgTable(
  'sessions',
  {
    academyId: academyId().references(() => academies.academyId),
    id: uuid('id').notNull(),
    techniqueId: text('technique_id').notNull(),
    startedAt: instant('started_at').notNull(),
    session: jsonb('session').$type<Session>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.academyId, table.id] }),
    index('sessions_by_start').on(table.academyId, table.startedAt.desc()),
  ],
);

/**
 * A table of one kind of fact: what every fact has, its own columns, and an index by the session or the rep that it is found
 * under. More indexes may follow.
 */
function factTable<Columns extends Record<string, PgColumnBuilderBase>>(
  name: string,
  under: 'session' | 'rep',
  columns: Columns,
  more: (table: Record<keyof Columns | 'academyId' | 'at', AnyPgColumn>) => IndexBuilder[] = () => [],
) {
  return pgTable(
    name,
    {
      academyId: academyId().references(() => academies.academyId),
      id: uuid('id').notNull(),
      sentBy: sentBy(),
      at: instant('at').notNull(),
      observer: text('observer').notNull(),
      ...columns,
    },
    (table) => {
      const found = table as unknown as Record<keyof Columns | 'academyId' | 'id' | 'at', AnyPgColumn>;
      const foundUnder = (found as unknown as Record<'session' | 'rep', AnyPgColumn>)[under];
      return [
        primaryKey({ columns: [found.academyId, found.id] }),
        index(`${name}_by_${under}`).on(found.academyId, foundUnder),
        ...more(found),
      ];
    },
  );
}

// Facts. Append-only; a session or a rep that they name may arrive after them, so no key ties them to it.

export const reps = factTable(
  'reps',
  'session',
  {
    session: uuid('session'),
    technique: text('technique').notNull(),
    edition: integer('edition').notNull(),
    student: text('student').notNull(),
    partner: text('partner'),
    side: text('side').notNull(),
    rung: smallint('rung').notNull(),
    from: text('from'),
    to: text('to'),
    outcome: text('outcome').notNull(),
    stop: text('stop'),
    failed: text('failed').array(),
    heldTo: text('held_to'),
    soft: text('soft').array().notNull(),
    cause: text('cause'),
    source: text('source').notNull(),
    note: text('note').notNull(),
    ways: text('ways').array(),
    task: text('task').array(),
    measured: jsonb('measured').$type<Rep['measured']>(),
    met: jsonb('met').$type<Rep['met']>(),
    entry: text('entry'),
    finish: text('finish'),
    timed: jsonb('timed').$type<Rep['timed']>(),
    by: text('by'),
    device: text('device'),
    follows: jsonb('follows').$type<Rep['follows']>(),
    receivedAt: instant('received_at')
      .notNull()
      .default(sql`now()`),
  },
  (table) => [
    index('reps_by_technique').on(table.academyId, table.technique, table.student, table.at),
    index('reps_that_follow')
      .on(table.academyId, sql`(${table.follows} ->> 'rep')`)
      .where(sql`${table.follows} is not null`),
  ],
);

export const voids = factTable('voids', 'rep', {
  rep: uuid('rep').notNull(),
  ofImport: boolean('of_import').notNull().default(false),
  restores: boolean('restores'),
  device: text('device'),
});

export const secondOpinions = factTable('second_looks', 'rep', {
  rep: uuid('rep').notNull(),
  stop: text('stop'),
});

export const causeTags = factTable('cause_tags', 'rep', {
  rep: uuid('rep').notNull(),
  cause: text('cause'),
  words: text('words'),
});

export const careNotes = factTable(
  'care_notes',
  'session',
  {
    session: uuid('session'),
    person: text('person').notNull(),
    why: text('why').$type<CareNote['why']>().notNull(),
    regions: text('regions').array().$type<CareNote['regions']>().notNull(),
    side: text('side').$type<CareNote['side']>(),
    until: date('until').notNull(),
    words: text('words').notNull(),
    replaces: uuid('replaces'),
  },
  (table) => [index('care_notes_by_until').on(table.academyId, table.until)],
);

export const overrides = factTable('overrides', 'session', {
  session: uuid('session').notNull(),
  student: text('student').notNull(),
  partner: text('partner'),
  technique: text('technique').notNull(),
  reason: text('reason').notNull(),
});

/** Changes of a running session: its pairs, a span, the clock, its end. */
export const changes = factTable('changes', 'session', {
  session: uuid('session').notNull(),
  set: jsonb('set').$type<SessionChange['set']>().notNull(),
});

/** Coaches' decisions about corrections. */
export const steps = factTable(
  'steps',
  'session',
  {
    session: uuid('session'),
    student: text('student').notNull(),
    technique: text('technique').notNull(),
    edition: integer('edition').notNull(),
    does: jsonb('does').$type<Step['does']>().notNull(),
  },
  (table) => [index('steps_by_technique').on(table.academyId, table.technique, table.student)],
);

/** Links that open one student's card to anyone who has them. */
export const cardLinks = pgTable(
  'card_links',
  {
    academyId: academyId(),
    id: uuid('id').notNull(),
    studentId: text('student_id').notNull(),
    /** SHA-256 of the link's secret: a copy of this table opens nothing. */
    secretHash: text('secret_hash').notNull(),
    madeBy: text('made_by').notNull(),
    madeAt: instant('made_at').notNull(),
    expiresAt: instant('expires_at').notNull(),
    openedAt: instant('opened_at'),
  },
  (table) => [
    primaryKey({ columns: [table.academyId, table.id] }),
    uniqueIndex('card_links_secret').on(table.academyId, table.secretHash),
    foreignKey({
      columns: [table.academyId, table.studentId],
      foreignColumns: [students.academyId, students.id],
    }),
  ],
);

/** Drills that an academy has added, or changed from what ships. */
export const drills = pgTable(
  'drills',
  {
    academyId: academyId().references(() => academies.academyId),
    id: text('id').notNull(),
    drill: jsonb('drill').$type<Drill>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.academyId, table.id] })],
);

// Derived. It can be made again from the facts at any time, and is, week by week, when they change.

export const tallies = pgTable(
  'tallies',
  {
    academyId: academyId().references(() => academies.academyId),
    technique: text('technique').notNull(),
    week: date('week').notNull(),
    student: text('student').notNull(),
    rung: smallint('rung').notNull(),
    side: text('side').notNull(),
    massBand: smallint('mass_band').notNull(),
    reps: integer('reps').notNull(),
    judged: integer('judged').notNull(),
    finished: integer('finished').notNull(),
    checkpoints: jsonb('checkpoints').$type<WeekTally['checkpoints']>().notNull(),
  },
  (table) => [
    primaryKey({
      columns: [
        table.academyId,
        table.technique,
        table.week,
        table.student,
        table.rung,
        table.side,
        table.massBand,
      ],
    }),
  ],
);

/** Weeks of a student on a technique whose facts have changed since they were tallied. */
export const staleWeeks = pgTable(
  'stale_weeks',
  {
    academyId: academyId().references(() => academies.academyId),
    technique: text('technique').notNull(),
    student: text('student').notNull(),
    week: date('week').notNull(),
    since: instant('since')
      .notNull()
      .default(sql`now()`),
  },
  (table) => [primaryKey({ columns: [table.academyId, table.technique, table.student, table.week] })],
);

/** Counts the changes of what an academy's readings are made of, so that what was read once need not be read again. */
export const readingVersions = pgTable('reading_versions', {
  academyId: text('academy_id')
    .primaryKey()
    .references(() => academies.academyId),
  version: integer('version').notNull().default(1),
});

/** The scales of an academy's last fit with the usual settings, so that a reading need not search for them again. */
export const fits = pgTable('fits', {
  academyId: text('academy_id')
    .primaryKey()
    .references(() => academies.academyId),
  model: text('model').notNull(),
  student: doublePrecision('student').notNull(),
  deviation: doublePrecision('deviation').notNull(),
  fall: doublePrecision('fall'),
  madeAt: instant('made_at')
    .notNull()
    .default(sql`now()`),
});
