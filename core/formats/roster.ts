import Papa from 'papaparse';
import type { Id } from '../breakdown';
import { newStudent, Student, type Units } from '../people';
import {
  type DateOrder,
  isBlank,
  orderOf,
  type CellRead,
  readBorn,
  readGrade,
  readLength,
  readMass,
  readMonths,
  readName,
  readSide,
  readSince,
} from './roster-cells';

/** What a column of a list of people can say. */
export const rosterFields = [
  'name',
  'first name',
  'surname',
  'born',
  'main side',
  'experience in months',
  'experience in years',
  'trains since',
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
  'first name': ['first name', 'given name', 'forename', 'first'],
  surname: ['surname', 'last name', 'family name', 'last'],
  born: ['born', 'birth', 'date of birth', 'dob', 'birthday'],
  'main side': ['main side', 'side', 'lead', 'strong side'],
  'experience in months': ['experience', 'months'],
  'experience in years': ['years', 'experience in years', 'experience (years)', 'experience, years'],
  'trains since': ['since', 'trains since', 'training since', 'started', 'joined', 'start date'],
  grade: ['grade', 'rank', 'level', 'belt'],
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
  /** The row that names the columns, from 0; rows above it are titles. Null if no row does. */
  head: number | null;
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

/** The heads are among this many first rows. */
const mostTitles = 6;
const namesSomebody = (field: RosterField | null) =>
  field === 'name' || field === 'first name' || field === 'surname';

/** The row that names the columns: the first with a name and something else, or a first row that is the word alone. */
function headOf(rows: readonly (readonly string[])[]): number | null {
  const guesses = rows.slice(0, mostTitles).map((row) => row.map(fieldOf));
  const full = guesses.findIndex(
    (guess) => guess.some(namesSomebody) && guess.filter((field) => field !== null).length > 1,
  );
  if (full >= 0) return full;
  return guesses[0]?.some(namesSomebody) ? 0 : null;
}

/** Reads a list as it comes from a spreadsheet, pasted or as CSV, whatever separates its cells. */
export function rosterTable(text: string): RosterTable {
  const clean = text.replace(/^\uFEFF/, '').trim();
  // What is pasted is separated by tabs; a name may well hold a comma.
  const delimiter = clean.includes('\t') ? '\t' : '';
  const { data } = Papa.parse<string[]>(clean, { delimiter, skipEmptyLines: 'greedy' });
  const rows = data.map((row) => row.map((cell) => cell.trim()));
  const head = headOf(rows);
  const guess = head === null ? [] : rows[head]!.map(fieldOf);
  const wide = Math.max(0, ...rows.map((row) => row.length));
  const columns = Array.from({ length: wide }, (_, i): RosterField | null =>
    head === null ? (i === 0 ? 'name' : null) : firstOf(guess, i),
  );
  return { rows, columns, head };
}

/** Two columns never say the same: the first one does. */
const firstOf = (guess: readonly (RosterField | null)[], i: number): RosterField | null => {
  const field = guess[i] ?? null;
  return guess.indexOf(field) === i ? field : null;
};

/** A cell that could not be read: it is left out, and costs nothing else. */
export interface OddCell {
  /** Its column, from 0. */
  column: number;
  cell: string;
  reason: string;
}

/** The result for one row of a list. */
export interface RosterRow {
  /** The row of the list, from 1. */
  line: number;
  name: string;
  is: 'new' | 'there' | 'refused';
  student: Student | null;
  /** Why it is refused, or what was made of it, a sentence each. */
  says: string[];
  odd: readonly OddCell[];
}

/** What a list is read by: the house, and what was said of the whole list. */
export interface RosterReading {
  units: Units;
  /** The house's grades, the beginner's first. */
  ladder: readonly string[];
  /** ISO date. */
  today: string;
  known: Iterable<Pick<Student, 'name' | 'born'>>;
  /** Whether day or month comes first, for cells that do not show it. */
  dates: DateOrder | null;
  /** The unit of masses without one. */
  masses: 'kg' | 'lb' | null;
  idFor: (line: number) => Id;
}

/** The rows of a list, and what has to be said once for all of it. */
export interface RosterRead {
  rows: RosterRow[];
  asks: ReadonlySet<'dates' | 'masses'>;
}

/** How a cell of each column is read, and which field of a person it fills. */
type CellReader = (
  cell: string,
  by: RosterReading & { order: DateOrder | null },
) => [keyof Student, CellRead<unknown>];
const length =
  (field: keyof Student): CellReader =>
  (cell, { units }) => [field, readLength(cell, units)];
const readers: Partial<Record<RosterField, CellReader>> = {
  born: (cell, { today, order }) => ['born', readBorn(cell, today, order)],
  'main side': (cell) => ['mainSide', readSide(cell)],
  'experience in months': (cell) => ['experienceMonths', readMonths(cell, false)],
  'experience in years': (cell) => ['experienceMonths', readMonths(cell, true)],
  'trains since': (cell, { today, order }) => ['experienceMonths', readSince(cell, today, order)],
  grade: (cell, { ladder }) => ['grade', readGrade(cell, ladder)],
  mass: (cell, { units, masses }) => ['massKg', readMass(cell, units, masses)],
  stature: length('statureCm'),
  'arm span': length('armSpanCm'),
  'neck girth': length('neckGirthCm'),
  'chest girth': length('chestGirthCm'),
  'arm girth': length('armGirthCm'),
  'waist girth': length('waistGirthCm'),
  'thigh girth': length('thighGirthCm'),
};

/**
 * What the rows of a list come to, by what its columns are said to say. A cell that cannot be read is left out and costs nothing
 * else; people on the roster already stay as they are. Two of one name are two people if their birthdays differ.
 */
export function readRoster({ rows, columns, head }: RosterTable, reading: RosterReading): RosterRead {
  const asks = new Set<'dates' | 'masses'>();
  const dateColumns = columns.flatMap((column, i) =>
    column === 'born' || column === 'trains since' ? [i] : [],
  );
  const order =
    reading.dates ?? orderOf(rows.flatMap((row) => dateColumns.map((column) => row[column] ?? '')));
  const by = { ...reading, order };
  const people = [...reading.known].map(({ name, born }) => ({ name: plain(name), born, listed: false }));
  const heads = head === null ? null : rows[head]!.join('\t');
  const read = rows.flatMap((row, i): RosterRow[] => {
    // Titles, the heads, and heads that stand there again on the next page.
    if (head !== null && (i <= head || row.join('\t') === heads)) return [];
    const cellOf = (field: RosterField) => row[columns.indexOf(field)] ?? '';
    const name =
      readName(cellOf('name')) || [cellOf('first name'), cellOf('surname')].filter(Boolean).join(' ');
    const says: string[] = [];
    const odd: OddCell[] = [];
    const given: Record<string, unknown> = {};
    const fields = Student.shape as Record<string, { safeParse(value: unknown): { success: boolean } }>;
    columns.forEach((column, at) => {
      const cell = row[at] ?? '';
      const reader = column && readers[column];
      if (!reader || isBlank(cell)) return;
      const [field, value] = reader(cell, by);
      if ('reason' in value) {
        if (value.asks) asks.add(value.asks);
        odd.push({ column: at, cell, reason: value.reason });
      } else if (!fields[field]!.safeParse(value.value).success)
        odd.push({ column: at, cell, reason: `“${cell}” is outside the possible range` });
      else {
        given[field] ??= value.value;
        if (value.says) says.push(value.says);
      }
    });
    const told = (is: RosterRow['is'], student: Student | null, words: string[]): RosterRow[] => [
      { line: i + 1, name, is, student, says: words, odd },
    ];
    if (isBlank(name)) return told('refused', null, ['No name.']);
    const born = (given['born'] as string | undefined) ?? null;
    const same = people.filter((one) => one.name === plain(name));
    const twin = same.find((one) => one.born === born || one.born === null || born === null);
    if (twin)
      return twin.listed
        ? told('refused', null, ['Twice in the list. If there are two, add their birth dates.'])
        : told('there', null, ['Already on the roster; unchanged.']);
    if (same.length > 0) says.push('Two people share this name; their birth dates tell them apart.');
    people.push({ name: plain(name), born, listed: true });
    const guardian = cellOf('guardian');
    const parsed = Student.safeParse({
      ...newStudent({ id: reading.idFor(i + 1), name }),
      ...given,
      guardian: isBlank(guardian)
        ? null
        : {
            name: guardian,
            contact: isBlank(cellOf('guardian’s contact')) ? '' : cellOf('guardian’s contact'),
          },
    });
    return parsed.success
      ? told('new', parsed.data, says)
      : told(
          'refused',
          null,
          parsed.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}.`),
        );
  });
  return { rows: read, asks };
}
