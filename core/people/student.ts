import { z } from 'zod';
import { Day, Id, Region, RuleTag, Side } from '../breakdown';

/** An injury that is not yet healed: the region is kept out of load until the date. */
const Injury = z.object({
  region: Region,
  side: Side.nullable(),
  /** The day it happened; null where nobody said. */
  since: Day.nullable().optional(),
  until: Day,
  /** A restriction, and the coach who recorded it. */
  note: z.string().max(300).default(''),
});

const centimetres = (low: number, high: number) => z.number().min(low).max(high).nullable();

const mobility = z.enum(['low', 'middle', 'high']).nullable();

/** The contact for a minor. */
const Guardian = z.object({
  name: z.string().trim().min(1, 'a guardian needs a name').max(80),
  contact: z.string().trim().max(200),
});

/** When a body fact was measured, and by whom. */
const Measurement = z.object({ on: Day, by: z.string().max(80) });

/** The body facts that are measured, each kept with when and by whom. */
export const measuredFacts = [
  'statureCm',
  'massKg',
  'armSpanCm',
  'neckGirthCm',
  'chestGirthCm',
  'armGirthCm',
  'waistGirthCm',
  'thighGirthCm',
  'legLengthCm',
  'handLengthCm',
  'hipMobility',
  'shoulderMobility',
  'wristMobility',
] as const;
export type MeasuredFact = (typeof measuredFacts)[number];

/** A person on the mat. Body facts are null where nobody has measured them. */
export const Student = z.object({
  id: Id,
  name: z.string().trim().min(1, 'a student needs a name').max(80),
  /** Year and month are enough to know a minor; null where it was not given. */
  born: Day.nullable(),
  mainSide: Side,
  /** Months on the mat; null where nobody entered it, which is not the same as none. */
  experienceMonths: z.int({ error: 'write whole months, such as 60' }).min(0).max(900).nullable(),
  statureCm: centimetres(80, 250),
  massKg: z.number().min(15).max(300).nullable(),
  armSpanCm: centimetres(80, 260),
  neckGirthCm: centimetres(20, 70),
  chestGirthCm: centimetres(40, 200),
  armGirthCm: centimetres(12, 80).default(null),
  waistGirthCm: centimetres(40, 220).default(null),
  thighGirthCm: centimetres(25, 120).default(null),
  hipMobility: mobility,
  wristMobility: mobility.default(null),
  shoulderMobility: mobility.default(null),
  legLengthCm: centimetres(30, 140).default(null),
  handLengthCm: centimetres(8, 30).default(null),
  /** Steps above the beginner’s grade; null where the room has none, or nobody said. */
  grade: z.int().min(0).max(20).nullable().default(null),
  /** Of the facts that somebody has measured here. */
  measured: z.partialRecord(z.enum(measuredFacts), Measurement).default({}),
  injuries: z.array(Injury).max(30),
  /** Restricted kinds of technique that this person has agreed to take part in. */
  consents: z.array(RuleTag).max(100).default([]),
  /** Here for a class or two, and not a member. */
  guest: z.boolean().default(false),
  guardian: Guardian.nullable().default(null),
  archived: z.boolean(),
  /** The day on which they left; null where they are here, or nobody said. */
  archivedOn: Day.nullable().default(null),
});
export type Student = z.infer<typeof Student>;

/** A student known only by these fields: nothing measured, no consents. */
export const newStudent = (known: Pick<Student, 'id'> & Partial<Student>): Student => ({
  name: '',
  born: null,
  mainSide: 'right',
  experienceMonths: null,
  statureCm: null,
  massKg: null,
  armSpanCm: null,
  neckGirthCm: null,
  chestGirthCm: null,
  armGirthCm: null,
  waistGirthCm: null,
  thighGirthCm: null,
  hipMobility: null,
  wristMobility: null,
  shoulderMobility: null,
  legLengthCm: null,
  handLengthCm: null,
  grade: null,
  measured: {},
  injuries: [],
  consents: [],
  guest: false,
  guardian: null,
  archived: false,
  archivedOn: null,
  ...known,
});

/** Names that two people share, told apart by year of birth, or by a number if that is unknown. */
export function namesToldApart(people: readonly Pick<Student, 'id' | 'name' | 'born'>[]): Map<Id, string> {
  const byName = new Map<string, Pick<Student, 'id' | 'name' | 'born'>[]>();
  for (const one of people) byName.set(one.name, [...(byName.get(one.name) ?? []), one]);
  return new Map(
    [...byName.values()].flatMap((same) =>
      same.map((one, i): [Id, string] => {
        if (same.length === 1) return [one.id, one.name];
        const year = one.born?.slice(0, 4);
        const isOnly =
          year !== undefined && same.every((other) => other === one || other.born?.slice(0, 4) !== year);
        return [one.id, `${one.name} (${isOnly ? year : i + 1})`];
      }),
    ),
  );
}

/** Younger than this many years on the given day (ISO dates); false without a birth date. */
export function isYounger(student: Pick<Student, 'born'>, years: number, today: string): boolean {
  if (!student.born) return false;
  const birthday = `${Number(student.born.slice(0, 4)) + years}${student.born.slice(4, 10)}`;
  return today.slice(0, 10) < birthday;
}

/** Under eighteen on the given day. */
export const isMinor = (student: Pick<Student, 'born'>, today: string): boolean =>
  isYounger(student, 18, today);

/** Of somebody older no rule asks how much. */
const mostYears = 30;

/**
 * A person as somebody sees them who only logs: no guardian, and in place of the day of birth one that says to the rules today what
 * the true one says, and no more.
 */
export function forLogging(student: Student, today: string): Student {
  const day = today.slice(5, 10) === '02-29' ? '02-28' : today.slice(5, 10);
  let years = mostYears;
  while (years > 0 && isYounger(student, years, today)) years--;
  const born = student.born && `${Number(today.slice(0, 4)) - years}-${day}`;
  return { ...student, born, guardian: null };
}

/** The injuries still open on the given day (ISO date). */
export const openInjuries = (student: Pick<Student, 'injuries'>, today: string) =>
  student.injuries.filter(({ until }) => until >= today.slice(0, 10));

/** The last day that anything here can be of. */
const lastDay = '2099-12-31';

/**
 * A person as they were kept, whatever release has kept them, and what of it could not be read. What that is, is as if nobody
 * had said it; but an injury whose days cannot be read holds for as long as an injury can. Null where not even that leaves a person.
 */
export function readStudent(kept: Pick<Student, 'id'> & Partial<Student>): {
  student: Student | null;
  faults: string[];
} {
  const student = newStudent(kept);
  const read = Student.safeParse(student);
  if (read.success) return { student, faults: [] };
  const { issues } = read.error;
  const mended: Record<string, unknown> = { ...student };
  for (const field of new Set(issues.map(({ path }) => String(path[0]))))
    mended[field] =
      field === 'injuries' && Array.isArray(kept.injuries)
        ? kept.injuries.map((injury) =>
            Injury.safeParse(injury).success ? injury : { ...injury, since: null, until: lastDay },
          )
        : newStudent({ id: kept.id })[field as keyof Student];
  return {
    student: Student.safeParse(mended).data ?? null,
    faults: issues.map(({ path, message }) => `${path.join('.')}: ${message}`),
  };
}

/** Two roster entries of one person, merged: the first comes first, the second fills its gaps. */
export function mergedStudent(first: Student, second: Student): Student {
  const filled = Object.fromEntries(
    Object.entries(first).map(([field, value]) => [field, value ?? second[field as keyof Student]]),
  ) as Student;
  return {
    ...filled,
    experienceMonths:
      first.experienceMonths === null || second.experienceMonths === null
        ? (first.experienceMonths ?? second.experienceMonths)
        : Math.max(first.experienceMonths, second.experienceMonths),
    measured: { ...second.measured, ...first.measured },
    injuries: [...first.injuries, ...second.injuries].slice(0, 30),
    consents: [...new Set([...first.consents, ...second.consents])],
    guest: first.guest && second.guest,
    archived: first.archived && second.archived,
    archivedOn: first.archived && second.archived ? first.archivedOn : null,
  };
}
