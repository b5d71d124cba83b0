import Papa from 'papaparse';
import type { Id } from '../breakdown';
import { newStudent, stored, Student, type Units } from '../people';
import { readMoment } from './spreadsheet';

/** What a column of a list of people can say. */
export const rosterFields = [
  'name',
  'born',
  'main side',
  'experience in months',
  'experience in years',
  'grade',
  'mass',
  'stature',
  'arm span',
  'neck girth',
  'chest girth',
  'arm girth',
  'waist girth',
  'thigh girth',
  'guardian',
  'guardian’s contact',
] as const;
export type RosterField = (typeof rosterFields)[number];

/** Words by which a head of a column is known; what begins with one is taken for it. */
const heads: Readonly<Record<RosterField, readonly string[]>> = {
  name: ['name', 'student', 'full name', 'athlete', 'member'],
  born: ['born', 'birth', 'date of birth', 'dob', 'birthday'],
  'main side': ['main side', 'side', 'lead', 'strong side'],
  'experience in months': ['experience', 'months'],
  'experience in years': ['years', 'experience in years', 'experience (years)', 'experience, years'],
  grade: ['grade', 'rank', 'level'],
  mass: ['mass', 'weight', 'kg', 'body mass'],
  stature: ['stature', 'height', 'cm'],
  'arm span': ['arm span', 'span', 'reach', 'wingspan'],
  'neck girth': ['neck'],
  'chest girth': ['chest'],
  'arm girth': ['arm girth', 'upper arm', 'biceps'],
  'waist girth': ['waist'],
  'thigh girth': ['thigh'],
  guardian: ['guardian', 'parent'],
  'guardian’s contact': [
    'guardian’s contact',
    "guardian's contact",
    'parent contact',
    'contact',
    'phone',
    'emergency',
  ],
};

/** A list as it was pasted or read: its rows, and what each column seems to say. */
export interface RosterTable {
  rows: readonly (readonly string[])[];
  columns: readonly (RosterField | null)[];
  /** The first row names the columns, and is nobody. */
  headed: boolean;
}

const plain = (text: string): string => text.trim().toLocaleLowerCase();

function fieldOf(head: string): RosterField | null {
  const words = plain(head);
  if (words === '') return null;
  const exact = rosterFields.find((field) => heads[field].includes(words));
  return (
    exact ??
    [...rosterFields].reverse().find((field) => heads[field].some((one) => words.startsWith(one))) ??
    null
  );
}

/** Reads a list as it comes from a spreadsheet, pasted or as CSV, whatever separates its cells. */
export function rosterTable(text: string): RosterTable {
  const clean = text.replace(/^\uFEFF/, '').trim();
  // What is pasted is separated by tabs; a name may well hold a comma.
  const delimiter = clean.includes('\t') ? '\t' : '';
  const { data } = Papa.parse<string[]>(clean, { delimiter, skipEmptyLines: 'greedy' });
  const rows = data.map((row) => row.map((cell) => cell.trim()));
  const guess = (rows[0] ?? []).map(fieldOf);
  const headed = guess.includes('name');
  const wide = Math.max(0, ...rows.map((row) => row.length));
  const columns = Array.from({ length: wide }, (_, i): RosterField | null =>
    headed ? firstOf(guess, i) : i === 0 ? 'name' : null,
  );
  return { rows, columns, headed };
}

/** Two columns never say the same: the first one does. */
const firstOf = (guess: readonly (RosterField | null)[], i: number): RosterField | null => {
  const field = guess[i] ?? null;
  return guess.indexOf(field) === i ? field : null;
};

/** What a row of a list comes to. */
export interface RosterRow {
  /** The row of the list, from 1. */
  line: number;
  name: string;
  is: 'new' | 'there' | 'refused';
  student: Student | null;
  /** Why it is refused, or what was made of it, a sentence each. */
  says: string[];
}

/** A cell that was read, with what was made of it where that was not plain; or why it cannot be. */
type Read<T> = { value: T; says?: string } | { reason: string };

const number = (text: string): number | null => {
  const [, whole] = /^(\d+(?:[.,]\d+)?)$/.exec(text) ?? [];
  return whole === undefined ? null : Number(whole.replace(',', '.'));
};

const inchInCm = 2.54;
const tallestInMetres = 3;

/** A length: in the academy's unit where none stands beside it; `1,78` can only be metres. */
function readLength(text: string, units: Units): Read<number> {
  const feet = /^(\d)\s*(?:'|ft|′)\s*(?:(\d{1,2}(?:[.,]\d+)?)\s*(?:"|″|in)?)?$/.exec(text);
  if (feet) return { value: round((Number(feet[1]) * 12 + (number(feet[2] ?? '0') ?? 0)) * inchInCm) };
  const [, digits = '', unit = ''] = /^([\d.,]+)\s*(cm|m|in|")?$/i.exec(text) ?? [];
  const value = number(digits);
  if (value === null) return { reason: `“${text}” is not a length` };
  const of = unit.toLowerCase();
  if (of === 'm' || (of === '' && value < tallestInMetres)) return { value: round(value * 100) };
  if (of === 'cm') return { value: round(value) };
  return { value: round(of === '' ? stored(units, 'length', value) : value * inchInCm) };
}

function readMass(text: string, units: Units): Read<number> {
  const [, digits = '', unit = ''] = /^([\d.,]+)\s*(kg|lbs?)?$/i.exec(text) ?? [];
  const value = number(digits);
  if (value === null) return { reason: `“${text}” is not a mass` };
  const of = unit === '' ? units : unit.toLowerCase() === 'kg' ? 'kg and cm' : 'lb and ft';
  return { value: round(stored(of, 'mass', value)) };
}

const round = (value: number): number => Math.round(value * 10) / 10;

/** A day of birth; of a year or a month the last day, so that who may be a minor is taken for one. */
function readBorn(text: string): Read<string> {
  const [, year, month] = /^(\d{4})(?:-(\d{1,2}))?$/.exec(text) ?? [];
  if (year !== undefined) {
    const last = new Date(Date.UTC(Number(year), month === undefined ? 12 : Number(month), 0));
    return {
      value: last.toISOString().slice(0, 10),
      says: `Born in ${text}, no day given: counted from its last day, so that nobody who may be a minor is taken for an adult.`,
    };
  }
  const read = readMoment(text, 'UTC');
  return 'reason' in read ? read : { value: read.at.slice(0, 10) };
}

const sides: Readonly<Record<string, 'right' | 'left'>> = {
  right: 'right',
  r: 'right',
  left: 'left',
  l: 'left',
};

const whole = (text: string, what: string, times = 1): Read<number> => {
  const [, digits = ''] = /^([\d.,]+)\s*(?:months?|years?|m|y)?$/i.exec(text) ?? [];
  const value = number(digits);
  return value === null ? { reason: `“${text}” is not a ${what}` } : { value: Math.round(value * times) };
};

/**
 * What the rows of a list come to, by what its columns are said to say. A row that cannot be read costs no other; whoever is on
 * the roster by that name already is left as they are.
 */
export function readRoster(
  { rows, columns, headed }: RosterTable,
  { units, known, idFor }: { units: Units; known: Iterable<string>; idFor: (line: number) => Id },
): RosterRow[] {
  const there = new Set([...known].map(plain));
  const seen = new Set<string>();
  return rows.flatMap((row, i): RosterRow[] => {
    if (headed && i === 0) return [];
    const line = i + 1;
    const name = row[columns.indexOf('name')] ?? '';
    const says: string[] = [];
    const wrong: string[] = [];
    const given: Record<string, unknown> = {};
    const guardian = { name: '', contact: '' };
    const put = <T>(field: string, read: Read<T>) => {
      if ('reason' in read) wrong.push(`${read.reason}.`);
      else {
        given[field] = read.value;
        if (read.says) says.push(read.says);
      }
    };
    columns.forEach((column, at) => {
      const cell = row[at] ?? '';
      if (column === null || cell === '' || cell === '-') return;
      switch (column) {
        case 'name':
          return;
        case 'born':
          return put('born', readBorn(cell));
        case 'main side': {
          const side = sides[plain(cell)];
          return put(
            'mainSide',
            side ? { value: side } : { reason: `“${cell}” is not a side: write right or left` },
          );
        }
        case 'experience in months':
          return put('experienceMonths', /y/i.test(cell) ? whole(cell, 'time', 12) : whole(cell, 'time'));
        case 'experience in years':
          return put('experienceMonths', whole(cell, 'time', 12));
        case 'grade':
          return put('grade', whole(cell, 'grade: write the steps above the beginner’s'));
        case 'mass':
          return put('massKg', readMass(cell, units));
        case 'stature':
          return put('statureCm', readLength(cell, units));
        case 'arm span':
          return put('armSpanCm', readLength(cell, units));
        case 'neck girth':
          return put('neckGirthCm', readLength(cell, units));
        case 'chest girth':
          return put('chestGirthCm', readLength(cell, units));
        case 'arm girth':
          return put('armGirthCm', readLength(cell, units));
        case 'waist girth':
          return put('waistGirthCm', readLength(cell, units));
        case 'thigh girth':
          return put('thighGirthCm', readLength(cell, units));
        case 'guardian':
          guardian.name = cell;
          return;
        case 'guardian’s contact':
          guardian.contact = cell;
      }
    });
    const told = (is: RosterRow['is'], student: Student | null, words: string[]): RosterRow[] => [
      { line, name, is, student, says: words },
    ];
    if (name === '') return told('refused', null, ['It has no name.']);
    if (seen.has(plain(name))) return told('refused', null, ['This name stands in the list twice.']);
    seen.add(plain(name));
    if (there.has(plain(name))) return told('there', null, ['On the roster already, and left as they are.']);
    const parsed = Student.safeParse({
      ...newStudent({ id: idFor(line), name }),
      ...given,
      guardian: guardian.name === '' ? null : guardian,
    });
    if (!parsed.success)
      wrong.push(...parsed.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}.`));
    return wrong.length > 0 ? told('refused', null, wrong) : told('new', parsed.data!, says);
  });
}
