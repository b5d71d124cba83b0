import { z } from 'zod';
import { Day, Id, Region, RuleTag, Side } from '../breakdown';

/** An injury that is not yet healed: the region is kept out of load until the date. */
export const Injury = z.object({
  region: Region,
  side: Side.nullable(),
  until: Day,
  note: z.string().max(300).default(''),
});

const centimetres = (low: number, high: number) => z.number().min(low).max(high).nullable();

const mobility = z.enum(['low', 'middle', 'high']).nullable();

/** A person on the mat. Body facts are null where nobody has measured them. */
export const Student = z.object({
  id: Id,
  name: z.string().trim().min(1, 'a student needs a name').max(80),
  /** Year and month are enough to know a minor; null where it was not given. */
  born: Day.nullable(),
  mainSide: Side,
  experienceMonths: z.int().min(0).max(900),
  statureCm: centimetres(80, 250),
  massKg: z.number().min(15).max(300).nullable(),
  armSpanCm: centimetres(80, 260),
  neckGirthCm: centimetres(20, 70),
  chestGirthCm: centimetres(40, 200),
  hipMobility: mobility,
  wristMobility: mobility.default(null),
  shoulderMobility: mobility.default(null),
  legLengthCm: centimetres(30, 140).default(null),
  handLengthCm: centimetres(8, 30).default(null),
  /** Steps above the beginner’s grade; null where the room has none, or nobody said. */
  grade: z.int().min(0).max(20).nullable().default(null),
  injuries: z.array(Injury),
  /** Restricted kinds of technique that this person has agreed to take part in. */
  consents: z.array(RuleTag).default([]),
  /** Here for a class or two, and not a member. */
  guest: z.boolean().default(false),
  archived: z.boolean(),
});
export type Student = z.infer<typeof Student>;

/** Somebody of whom only this much is known; whoever is new has measured nothing and agreed to nothing. */
export const newStudent = (known: Pick<Student, 'id'> & Partial<Student>): Student => ({
  name: '',
  born: null,
  mainSide: 'right',
  experienceMonths: 0,
  statureCm: null,
  massKg: null,
  armSpanCm: null,
  neckGirthCm: null,
  chestGirthCm: null,
  hipMobility: null,
  wristMobility: null,
  shoulderMobility: null,
  legLengthCm: null,
  handLengthCm: null,
  grade: null,
  injuries: [],
  consents: [],
  guest: false,
  archived: false,
  ...known,
});

/** Under eighteen on the given day (ISO dates). A student whose birth date is not known is not called a minor. */
export function isMinor(student: Pick<Student, 'born'>, today: string): boolean {
  if (!student.born) return false;
  const eighteenth = `${Number(student.born.slice(0, 4)) + 18}${student.born.slice(4, 10)}`;
  return today.slice(0, 10) < eighteenth;
}

/** The injuries still open on the given day (ISO date). */
export const openInjuries = (student: Pick<Student, 'injuries'>, today: string) =>
  student.injuries.filter(({ until }) => until >= today.slice(0, 10));
