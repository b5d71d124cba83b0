import { defaultHalfLifeDays, type Weekday, weeksBefore } from '@ulkret/core/reading';

/** Which weeks are asked for, and how fast a rep loses weight, as the contract has it. */
export interface Period {
  asOf?: string | undefined;
  weeks?: number | undefined;
  halfLife?: number | undefined;
}

/** The weeks that are read, spelled out. A half-life of 0 is none: `halfLifeDays` is then too long to matter. */
export interface Window {
  asOf: string;
  /** The day on which the first week began; null for all. */
  since: string | null;
  /** The weekday on which the house begins its weeks. */
  weekBegins: Weekday;
  halfLifeDays: number;
}

export const windowOf = (
  { asOf = new Date().toISOString(), weeks = 0, halfLife }: Period,
  weekBegins: Weekday,
): Window => ({
  asOf,
  since: weeks === 0 ? null : weeksBefore(asOf, weeks - 1, weekBegins),
  weekBegins,
  halfLifeDays: halfLife === 0 ? 1e9 : (halfLife ?? defaultHalfLifeDays),
});
