import { stored, type Units } from '../people';

/** Cells of a list of people, as clubs write them. */

/** A cell that was read, with what was made of it where that was not plain; or why it cannot be. */
export type CellRead<T> = { value: T; says?: string } | { reason: string; asks?: 'dates' | 'masses' };

/** Whether day or month comes first in `03/04/2001`. */
export type DateOrder = 'day first' | 'month first';

/** Words for an unknown value. */
export const isBlank = (cell: string): boolean =>
  /^(?:-+|–|—|\?+|n\/?a|none|unknown|not known|tbc|tba)?$/i.test(cell);

const number = (text: string): number | null => {
  const [, whole] = /^(\d+(?:[.,]\d+)?)$/.exec(text) ?? [];
  return whole === undefined ? null : Number(whole.replace(',', '.'));
};
const round = (value: number): number => Math.round(value * 10) / 10;

const inchInCm = 2.54;
const tallestInMetres = 3;

/** A length: in the academy's unit if it has none; `1,78` can only be metres. */
export function readLength(text: string, units: Units): CellRead<number> {
  const feet = /^(\d)\s*(?:'|ft|′|’)\s*(?:(\d{1,2}(?:[.,]\d+)?)\s*(?:"|″|”|in)?)?$/i.exec(text);
  if (feet) return { value: round((Number(feet[1]) * 12 + (number(feet[2] ?? '0') ?? 0)) * inchInCm) };
  const [, digits = '', unit = ''] = /^([\d.,]+)\s*(cm|m|in|")?$/i.exec(text) ?? [];
  const value = number(digits);
  if (value === null) return { reason: `“${text}” is not a length: write 178 cm or 5'10"` };
  const of = unit.toLowerCase();
  if (of === 'm' || (of === '' && value < tallestInMetres)) return { value: round(value * 100) };
  if (of === 'cm') return { value: round(value) };
  return { value: round(of === '' ? stored(units, 'length', value) : value * inchInCm) };
}

const poundsInStone = 14;
/** Without a unit, a mass outside of these may well be in the other unit. Ours, from no source. */
const usualMass: Readonly<Record<Units, readonly [number, number]>> = {
  'kg and cm': [20, 140],
  'lb and ft': [70, 320],
};

/** A mass. `without` is the unit of cells without one, where somebody has said so; otherwise the academy's, where it is likely. */
export function readMass(text: string, units: Units, without: 'kg' | 'lb' | null = null): CellRead<number> {
  const stones = /^(\d{1,2})\s*(?:st|stones?)\s*(?:(\d{1,2}(?:[.,]\d+)?)\s*(?:lbs?)?)?$/i.exec(text);
  if (stones)
    return {
      value: round(
        stored('lb and ft', 'mass', Number(stones[1]) * poundsInStone + (number(stones[2] ?? '0') ?? 0)),
      ),
    };
  const [, digits = '', unit = ''] = /^([\d.,]+)\s*(kgs?|kilos?|lbs?|pounds?)?$/i.exec(text) ?? [];
  const value = number(digits);
  if (value === null) return { reason: `“${text}” is not a mass: write 64 kg, 141 lb or 10 st 2` };
  const [low, high] = usualMass[units];
  if (unit === '' && without === null && (value < low || value > high))
    return { reason: `“${text}” has no unit: kg or lb?`, asks: 'masses' };
  const of =
    unit === '' ? (without ?? units.slice(0, 2)) : unit.toLowerCase().slice(0, 1) === 'k' ? 'kg' : 'lb';
  return { value: round(stored(of === 'kg' ? 'kg and cm' : 'lb and ft', 'mass', value)) };
}

const months = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const monthOf = (word: string): number => months.indexOf(word.slice(0, 3).toLowerCase()) + 1;

/** A year of two digits is one that somebody who lives can be born in. */
const fullYear = (year: number, today: string): number =>
  year > 99 ? year : year + (year <= Number(today.slice(2, 4)) ? 2000 : 1900);

const isoOf = (year: number, month: number, day: number): string | null => {
  const made = new Date(Date.UTC(year, month - 1, day));
  return made.getUTCMonth() === month - 1 && made.getUTCDate() === day && year >= 1900
    ? made.toISOString().slice(0, 10)
    : null;
};

/** A day and a month in numbers, with the year last. */
const inNumbers = /^(\d{1,2})([./-])(\d{1,2})\2(\d{2}|\d{4})$/;

/** Whether dates of a column show if the day or the month comes first; null if none does, or they differ. */
export function orderOf(cells: readonly string[]): DateOrder | null {
  const shown = new Set<DateOrder>();
  for (const cell of cells) {
    const [, a, separator, b] = inNumbers.exec(cell) ?? [];
    if (a === undefined || separator === '.') continue;
    if (Number(a) > 12) shown.add('day first');
    if (Number(b) > 12) shown.add('month first');
  }
  return shown.size === 1 ? [...shown][0]! : null;
}

/** A day of birth; of a year or a month the last day, so that who may be a minor is taken for one. */
export function readBorn(text: string, today: string, order: DateOrder | null): CellRead<string> {
  const wrong = { reason: `“${text}” is not a day of birth: write 1990-05-05 or 5 May 1990` };
  const dayOf = (year: number, month: number, day: number): CellRead<string> => {
    const iso = isoOf(year, month, day);
    return iso === null || iso > today
      ? { reason: `“${text}” is not a possible day of birth` }
      : { value: iso };
  };
  const [, yearAlone, monthToo] = /^(\d{4})(?:[-/](\d{1,2}))?$/.exec(text) ?? [];
  if (yearAlone !== undefined) {
    const last = new Date(Date.UTC(Number(yearAlone), monthToo === undefined ? 12 : Number(monthToo), 0));
    const iso = last.toISOString().slice(0, 10);
    return {
      value: iso > today ? today : iso,
      says: `Born in ${text}, no day given: counted from its last day, so a possible minor counts as one.`,
    };
  }
  const sorted = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})(?:[T ].*)?$/.exec(text);
  if (sorted) return dayOf(Number(sorted[1]), Number(sorted[2]), Number(sorted[3]));
  const spoken = /^(\d{1,2})(?:st|nd|rd|th)?[ .-]+([a-z]{3,9})\.?,?[ .-]+(\d{2}|\d{4})$/i.exec(text);
  if (spoken && monthOf(spoken[2]!) > 0)
    return dayOf(fullYear(Number(spoken[3]), today), monthOf(spoken[2]!), Number(spoken[1]));
  const american = /^([a-z]{3,9})\.? (\d{1,2})(?:st|nd|rd|th)?,? (\d{4})$/i.exec(text);
  if (american && monthOf(american[1]!) > 0)
    return dayOf(Number(american[3]), monthOf(american[1]!), Number(american[2]));
  const [, first, separator, second, last] = inNumbers.exec(text) ?? [];
  if (first === undefined) return wrong;
  const [a, b, year] = [Number(first), Number(second), fullYear(Number(last), today)];
  // With dots the day comes first; otherwise a number over twelve is the day.
  if (separator === '.' || a > 12 || a === b) return dayOf(year, b, a);
  if (b > 12) return dayOf(year, a, b);
  if (order === null)
    return {
      reason: `“${text}” can be read two ways: is the day or the month first?`,
      asks: 'dates',
    };
  return order === 'day first' ? dayOf(year, b, a) : dayOf(year, a, b);
}

const sides: Readonly<Record<string, 'right' | 'left'>> = {
  right: 'right',
  r: 'right',
  left: 'left',
  l: 'left',
};

export const readSide = (text: string): CellRead<'right' | 'left'> => {
  const side = sides[text.toLowerCase()];
  return side ? { value: side } : { reason: `“${text}” is not a side: write right or left` };
};

/** A time in whole months; without a unit, in months or in years as the column says. */
export function readMonths(text: string, years: boolean): CellRead<number> {
  const [, digits = '', unit = ''] = /^([\d.,]+)\s*(months?|mths?|mo|years?|yrs?|m|y)?$/i.exec(text) ?? [];
  const value = number(digits);
  if (value === null) return { reason: `“${text}” is not a time: write 18 months or 3 years` };
  const inYears = unit === '' ? years : unit.toLowerCase().startsWith('y');
  return { value: Math.round(value * (inYears ? 12 : 1)) };
}

/** Months from the day, month or year since when somebody trains until today. */
export function readSince(text: string, today: string, order: DateOrder | null): CellRead<number> {
  const plain = text.replace(/^since\s+/i, '');
  const named = /^([a-z]{3,9})\.? (\d{4})$/i.exec(plain);
  const when =
    named && monthOf(named[1]!) > 0
      ? { value: `${named[2]}-${String(monthOf(named[1]!)).padStart(2, '0')}-01` }
      : /^\d{4}$/.test(plain)
        ? { value: `${plain}-07-01`, says: `Since ${plain}, no month given: counted from its middle.` }
        : readBorn(plain, today, order);
  if ('reason' in when) return { ...when, reason: `“${text}” is not a start: write 2019-05 or May 2019` };
  const [year, month] = when.value.split('-').map(Number) as [number, number];
  const [thisYear, thisMonth] = today.split('-').map(Number) as [number, number];
  const value = Math.max(0, (thisYear - year) * 12 + thisMonth - month);
  return 'says' in when && when.says !== undefined && /^\d{4}$/.test(plain)
    ? { value, says: when.says }
    : { value };
}

/** Belts from the beginner's on, for a room that has not named its own. Common practice of several grappling arts. */
const usualBelts = ['white', 'blue', 'purple', 'brown', 'black'];

/** Steps above the beginner's grade, as a number or by its name in the house's ladder. */
export function readGrade(text: string, ladder: readonly string[]): CellRead<number> {
  const steps = /^\d{1,2}$/.test(text) ? Number(text) : null;
  if (steps !== null) return { value: steps };
  const word = text
    .toLowerCase()
    .replace(/\s*belt\s*$/, '')
    .trim();
  const names = (ladder.length > 0 ? ladder : usualBelts).map((name) =>
    name
      .toLowerCase()
      .replace(/\s*belt\s*$/, '')
      .trim(),
  );
  const at = names.indexOf(word);
  if (at >= 0)
    return ladder.length > 0 ? { value: at } : { value: at, says: `“${text}” counted as grade ${at}.` };
  return { reason: `“${text}” is no grade of this academy: write how many steps above the lowest` };
}

/** “Okafor, Sam” is Sam Okafor. */
export function readName(text: string): string {
  const [surname = '', first, ...more] = text.split(',').map((part) => part.trim());
  const isName = (part: string) => /^[\p{L}][\p{L}'’. -]*$/u.test(part) && part.split(/\s+/).length <= 3;
  return first !== undefined && more.length === 0 && isName(surname) && isName(first)
    ? `${first} ${surname}`
    : text;
}
