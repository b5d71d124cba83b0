import Papa from 'papaparse';
import type { Id } from '../breakdown';
import { type Breakdown, measureWords, type Side } from '../breakdown';
import { FactId, faultOf, oddMeasuresOf, Rep, Source } from '../rep';
import { type CsvRecord, CsvParts } from './csv-parts';
import { formula, type RepColumn } from './reps-csv';
import { runs } from './table-csv';
import { readCause, readCheckpoint, readMoment, readWhole } from './spreadsheet';

/** Columns that a file must have; the others may be missing and then count as empty. */
const needed: readonly RepColumn[] = ['at', 'technique', 'student', 'side', 'rung', 'outcome'];

/** What was wrong with one row: the line on which it starts (the header is line 1), the column, and what to do. */
export interface RowFault {
  line: number;
  column: string;
  reason: string;
}

/** What the reader of a file has to be told about the academy. Lookups answer null where nothing, or more than one thing, fits. */
export interface Directory {
  breakdown(technique: string, edition: number | null): Breakdown | null;
  student(idOrName: string): Id | null;
  observer(idOrName: string): Id | null;
  /** Who imports: the observer where the file names none. */
  importer: Id;
  /** The time zone in which dates without one are meant, as an IANA name. */
  zone: string;
  /** Milliseconds since the epoch: no rep is later. */
  now: number;
  /** A UUID that a text always gives, so that a row without an id counts once however often it is imported. */
  idFor(text: string): string;
}

const unguard = (text: string): string => (text.startsWith("'") && formula.test(text) ? text.slice(1) : text);

/** What else a header may be separated by, where it was read as one column. */
const separated = (header: string): string => {
  const other = ['|', ':', ' '].find((sign) => header.split(sign).length >= needed.length);
  return other ? `; the columns seem to be separated by “${other}”: save it with commas` : '';
};

const sides: Readonly<Record<string, Side>> = { right: 'right', r: 'right', left: 'left', l: 'left' };

/** What of a file was read: the good rows as reps, each bad row with every reason. */
export interface RowsRead {
  rows: { line: number; rep: Rep }[];
  faults: RowFault[];
  /** Good rows that contradict themselves: they are taken, and somebody is asked. */
  odd: RowFault[];
  /** The names of observers that nobody here has. */
  strangers: string[];
}

/** Reads a file of reps that comes in parts of text, wherever these are cut. One bad row never costs another. */
export class RepsReader {
  private readonly csv = new CsvParts();
  private columns: string[] | null = null;
  private unreadable = false;
  /** How often a row that says the same has been read, by the id that its first one got. */
  private readonly copies = new Map<string, number>();

  constructor(private readonly directory: Directory) {}

  /** What can be read by now. The last part may be empty. */
  read(part: string, last: boolean): RowsRead {
    const read: RowsRead = { rows: [], faults: [], odd: [], strangers: [] };
    for (const record of this.csv.read(part, last)) this.readRecord(record, read);
    if (last && !this.columns)
      read.faults.push({
        line: 1,
        column: '',
        reason: 'the file is empty: its first line must name the columns',
      });
    return read;
  }

  private readRecord({ cells, line, problem }: CsvRecord, read: RowsRead): void {
    const { rows, faults } = read;
    if (this.unreadable || cells.every((cell) => cell.trim() === '')) return;
    const fault = (reason: string) => void faults.push({ line, column: '', reason });
    if (!this.columns) {
      this.columns = cells.map((cell) => cell.trim().toLowerCase());
      const hint = cells.length === 1 ? separated(cells[0]!) : '';
      for (const column of needed.filter((one) => !this.columns!.includes(one)))
        faults.push({
          line: 1,
          column,
          reason: `the header has no column "${column}"; nothing was read${hint}`,
        });
      this.unreadable = faults.length > 0;
      return;
    }
    const { columns } = this;
    if (problem !== null) return fault(`not readable as CSV: ${problem}`);
    if (cells.some((cell) => cell.includes('\uFFFD')))
      return fault('this row is not in UTF-8: save the file as “CSV UTF-8” and import it again');
    if (cells.length !== columns.length)
      return fault(
        `this row has ${cells.length} cells where the header has ${columns.length}; is a comma unquoted?`,
      );
    const cell = (column: RepColumn): string => cells[columns.indexOf(column)]?.trim() ?? '';
    const { rep, faults: found } = readRow(cell, this.directory, () => this.idOf(cells));
    if (rep) {
      rows.push({ line, rep });
      read.odd.push(...oddIn(rep, this.directory).map((one) => ({ line, ...one })));
    }
    for (const one of found) {
      faults.push({ line, ...one });
      if (one.column === 'observer') read.strangers.push(cell('observer'));
    }
  }

  /** The id of a row that has none: always the same, and another one for each row that says the same. */
  private idOf(cells: readonly string[]): string {
    const key = cells.join('\u001f');
    const nth = (n: number) => this.directory.idFor(`${key}\u001e${n}`);
    const first = nth(1);
    const copy = (this.copies.get(first) ?? 0) + 1;
    this.copies.set(first, copy);
    return copy === 1 ? first : nth(copy);
  }
}

/** Reads a file of reps that is all here. */
export const readRepsCsv = (text: string, directory: Directory): RowsRead =>
  new RepsReader(directory).read(text, true);

function readRow(
  cell: (column: RepColumn) => string,
  directory: Directory,
  ownId: () => string,
): { rep: Rep | null; faults: Omit<RowFault, 'line'>[] } {
  const faults: Omit<RowFault, 'line'>[] = [];
  const wrong = (column: RepColumn, reason: string): null => {
    faults.push({ column, reason });
    return null;
  };
  const list = (column: RepColumn) =>
    cell(column)
      .split(';')
      .map((one) => one.trim())
      .filter(Boolean);

  const fact = (column: 'id' | 'session') => {
    const read = FactId.safeParse(cell(column));
    return read.success
      ? read.data
      : wrong(column, `"${cell(column)}" is not a UUID; leave it empty to get one`);
  };
  const id = cell('id') ? fact('id') : ownId();
  const session = cell('session') ? fact('session') : null;
  const moment = readMoment(cell('at'), directory.zone);
  const at = 'reason' in moment ? wrong('at', moment.reason) : moment.at;
  if (at !== null && Date.parse(at) > directory.now)
    wrong('at', `"${cell('at')}" is in the future: fix this date`);
  const edition = cell('edition');
  const editionNumber = readWhole(edition) || null;
  if (edition && editionNumber === null) wrong('edition', `"${edition}" is not a number from 1`);
  const breakdown = directory.breakdown(cell('technique'), editionNumber);
  if (!breakdown)
    if (directory.breakdown(cell('technique'), null))
      wrong('edition', `"${cell('technique')}" has no edition ${edition}`);
    else wrong('technique', `no technique in the library has the id or name "${cell('technique')}"`);
  const { student, partner, observer } = readPeople(cell, directory, wrong);
  const side =
    sides[cell('side').toLowerCase()] ?? wrong('side', `"${cell('side')}" is neither right nor left`);
  const rungNumber = readWhole(cell('rung'));
  const rung =
    rungNumber !== null && rungNumber <= 4
      ? rungNumber
      : wrong('rung', `"${cell('rung')}" is not a rung from 0 (alone) to 4 (free sparring)`);
  const source = Source.safeParse(cell('source') || 'import');
  if (!source.success) wrong('source', `"${cell('source')}" is not mat, clip, import or paper`);
  const named = (text: string) => (breakdown ? readCheckpoint(breakdown, text) : text);
  const stops = list('stop').map(named);
  const ending = readEnding(cell, stops, wrong);
  const more = breakdown ? readMore(list, cell, breakdown, wrong) : {};
  if (faults.length > 0 || !breakdown || !ending || !source.success) return { rep: null, faults };

  const read = Rep.safeParse({
    id,
    session,
    at,
    technique: breakdown.technique,
    edition: breakdown.edition,
    student,
    partner,
    side,
    rung,
    from: cell('from') ? named(cell('from')) : null,
    to: cell('to') ? named(cell('to')) : null,
    soft: list('soft').map(named),
    cause: cell('cause') ? readCause(breakdown, cell('cause')) : null,
    observer,
    source: source.data,
    note: unguard(cell('note')),
    ...(cell('device') && { device: unguard(cell('device')) }),
    ...more,
    ...ending,
  });
  if (!read.success) return { rep: null, faults: read.error.issues.map(faultOfIssue) };
  const fault = faultOf(breakdown, read.data);
  if (fault) return { rep: null, faults: [{ column: fault.field, reason: fault.reason }] };
  return { rep: read.data, faults };
}

function oddIn(rep: Rep, { breakdown }: Directory): Omit<RowFault, 'line'>[] {
  const edition = breakdown(rep.technique, rep.edition);
  return (edition ? oddMeasuresOf(edition, rep) : []).map(({ checkpoint, value, tolerance }) => ({
    column: 'measured',
    reason: `"${checkpoint}" held with ${measureWords(value, tolerance)}: is the value right?`,
  }));
}

type Wrong = (column: RepColumn, reason: string) => null;

/** The attacker, the partner, and the observer. */
function readPeople(cell: (column: RepColumn) => string, directory: Directory, wrong: Wrong) {
  const person = (column: 'student' | 'partner') =>
    directory.student(cell(column)) ??
    wrong(column, `"${cell(column)}" is unknown or ambiguous: use the exact name or the id`);
  const student = person('student');
  const partner = cell('partner') ? person('partner') : null;
  const observer = cell('observer')
    ? (directory.observer(cell('observer')) ?? wrong('observer', `no coach here is "${cell('observer')}"`))
    : directory.importer;
  return { student, partner, observer };
}

/** How the rep of a row ended, with the checkpoints that its outcome needs; null, and told, if they are missing. */
function readEnding(cell: (column: RepColumn) => string, stops: readonly Id[], wrong: Wrong) {
  const outcome = cell('outcome').toLowerCase().replace('-', ' ');
  switch (outcome) {
    case 'finished':
      return stops.length > 0
        ? wrong('stop', 'a finished rep has no stop; empty the cell or fix the outcome')
        : { outcome };
    case 'stopped':
      return stops.length === 1
        ? { outcome, stop: stops[0] }
        : wrong('stop', 'a stopped rep names the one checkpoint where it stopped');
    case 'forced':
      return stops.length > 0
        ? { outcome, failed: stops }
        : wrong('stop', 'a forced rep names the failed checkpoints, separated by ";"');
    case 'not judged':
      return { outcome, heldTo: stops[0] ?? null };
    case 'left':
      return { outcome, heldTo: stops[0] ?? null, by: cell('by') || null };
    default:
      return wrong('outcome', `"${cell('outcome')}" is not finished, stopped, forced, not judged or left`);
  }
}

/** The end of a rep has one column for all its checkpoints. */
const faultOfIssue = ({
  path,
  message,
}: {
  path: PropertyKey[];
  message: string;
}): Omit<RowFault, 'line'> => {
  const field = String(path[0]);
  return { column: field === 'failed' || field === 'heldTo' ? 'stop' : field, reason: message };
};

/** Everything in a row except how the rep ended; nothing if its cells are empty. */
function readMore(
  list: (column: RepColumn) => string[],
  cell: (column: RepColumn) => string,
  breakdown: Breakdown,
  wrong: (column: RepColumn, reason: string) => null,
): Record<string, unknown> {
  const cause = (text: string) => readCause(breakdown, text);
  const met = list('met').map((one) => {
    const [defence = '', answer = '', how = 'worked', became = ''] = one
      .split(':')
      .map((part) => part.trim());
    if (how !== 'worked' && how !== 'failed')
      wrong('met', `"${one}" should read defence:answer:worked, or defence:answer:failed`);
    return {
      defence: cause(defence),
      answer: answer || null,
      worked: how === 'worked',
      ...(became && { became: cause(became) }),
    };
  });
  const numbers = (column: 'measured' | 'timed') =>
    list(column).map((one) => {
      const [checkpoint = '', number = ''] = one.split(':').map((part) => part.trim());
      const value = Number(number.replace(',', '.'));
      if (number === '' || !Number.isFinite(value)) wrong(column, `"${one}" should read checkpoint:number`);
      return { checkpoint: readCheckpoint(breakdown, checkpoint), value };
    });
  const measured = numbers('measured');
  const timed = numbers('timed').map(({ checkpoint, value: seconds }) => ({ checkpoint, seconds }));
  const [entry, finish] = [cell('entry'), cell('finish')];
  const [before, by] = cell('follows')
    .split(':')
    .map((part) => part.trim());
  const rep = FactId.safeParse(before);
  if (before && !rep.success) wrong('follows', `"${before}" is not the id of a rep`);
  const [ways, task] = [list('ways'), list('task').map(cause)];
  return {
    ...(ways.length > 0 && { ways }),
    ...(task.length > 0 && { task }),
    ...(met.length > 0 && { met }),
    ...(measured.length > 0 && { measured }),
    ...(timed.length > 0 && { timed }),
    ...(entry && { entry }),
    ...(finish && { finish }),
    ...(before && { follows: { rep: rep.data, by: by || null } }),
  };
}

/** A report of bad rows as CSV, to be handed back with the file. */
export const writeFaultsCsv = (faults: readonly RowFault[]): string =>
  `${Papa.unparse(
    {
      fields: ['line', 'column', 'reason'],
      data: faults.map(({ line, column, reason }) => [line, column, reason]),
    },
    { newline: '\r\n', escapeFormulae: runs },
  )}\r\n`;
