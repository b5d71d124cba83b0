import { CalendarDateTime, toZoned } from '@internationalized/date';
import { type Breakdown, type Id, readFor } from '../breakdown';
import { Instant } from '../rep';

/** Cells as people and spreadsheets write them: dates of the club's time zone, numbers with a comma, checkpoints by number or title. */

const dayFirst = /^(\d{1,2})[./](\d{1,2})[./](\d{4})(?:[ T,]+(\d{1,2})[:.](\d{2})(?:[:.](\d{2}))?)?$/;
const yearFirst = /^(\d{4})-(\d{1,2})-(\d{1,2})(?:[ T]+(\d{1,2}):(\d{2})(?::(\d{2})(?:\.\d+)?)?)?$/;
/** Of a day without a time: noon, which is the same day in nearly every time zone. */
const noon = 12;

/** A moment that was read, or why it cannot be. */
export type ReadMoment = { at: string } | { reason: string };

/**
 * An instant, or a date with or without a time as it is written in a time zone (an IANA name): `2026-11-26 19:32`,
 * `26.11.2026 19:30`, `26/11/2026`. A day and a month that may be either are refused, never guessed.
 */
export function readMoment(text: string, zone: string): ReadMoment {
  if (Instant.safeParse(text).success) return { at: text };
  const spoken = dayFirst.exec(text);
  const sorted = yearFirst.exec(text);
  const parts = (spoken ?? sorted)?.slice(1).map((part) => (part === undefined ? null : Number(part)));
  if (!parts)
    return {
      reason: `"${text}" is not a date: write 2026-11-26 19:30, 26.11.2026 19:30, or an instant such as 2026-11-26T18:30:00Z`,
    };
  const [a, b, c, hour = noon, minute = 0, second = 0] = parts as [number, number, number, ...number[]];
  if (spoken && text.includes('/') && a <= noon && b <= noon && a !== b)
    return {
      reason: `"${text}" can be read two ways: write ${c}-${two(b)}-${two(a)} or ${c}-${two(a)}-${two(b)}`,
    };
  // With slashes some write the month first: where the second number can be no month, it is the day.
  const [year, month, day] = sorted ? [a, b, c] : text.includes('/') && b > noon ? [c, a, b] : [c, b, a];
  const local = new CalendarDateTime(year, month, day, hour ?? noon, minute ?? 0, second ?? 0);
  if (local.year !== year || local.month !== month || local.day !== day)
    return { reason: `"${text}" is not a day of the calendar` };
  return { at: toZoned(local, zone).toDate().toISOString() };
}

const two = (n: number): string => String(n).padStart(2, '0');

/** A whole number, also as a spreadsheet writes it (`2,0`); null where it is none. */
export function readWhole(text: string): number | null {
  const [, whole] = /^(\d{1,6})(?:[.,]0+)?$/.exec(text) ?? [];
  return whole === undefined ? null : Number(whole);
}

const plain = (text: string): string => text.trim().toLowerCase();

/** A checkpoint by its id, its number (from 1) or its title; what is none of these as it is, to be refused by its name. */
export function readCheckpoint({ checkpoints }: Breakdown, text: string): Id {
  const number = readWhole(text);
  const found =
    checkpoints.find(({ id }) => id === text) ??
    (number === null ? undefined : checkpoints[number - 1]) ??
    checkpoints.find(({ title }) =>
      [title, readFor(title, 'right'), readFor(title, 'left')].some((one) => plain(one) === plain(text)),
    );
  return found?.id ?? text;
}

/** A mistake or a defence by its id or its title; the same of what is neither. */
export function readCause({ mistakes, defences }: Breakdown, text: string): Id {
  const causes = [...mistakes, ...defences];
  const found =
    causes.find(({ id }) => id === text) ??
    causes.find(({ title }) =>
      [title, readFor(title, 'right'), readFor(title, 'left')].some((one) => plain(one) === plain(text)),
    );
  return found?.id ?? text;
}
