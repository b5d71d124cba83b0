const dayMs = 86_400_000;

/** How many of the latest days, weeks and months keep a backup each. Ours, from no source. */
const kept = { days: 7, weeks: 5, months: 6 } as const;

/** Weeks begin on Monday, in UTC: the first of January 1970 was a Thursday. */
const weekOf = (at: number): number => Math.floor((at / dayMs + 3) / 7);

/** Of backups made at some instants (milliseconds since the epoch) those that stay: the latest of each day, week and month that counts. */
export function rotated(made: readonly number[]): Set<number> {
  const latestFirst = [...made].sort((a, b) => b - a);
  const stay = new Set<number>();
  const each = (of: (at: number) => string | number, most: number) => {
    const seen = new Set<string | number>();
    for (const at of latestFirst) {
      const period = of(at);
      if (seen.has(period)) continue;
      if (seen.size === most) return;
      seen.add(period);
      stay.add(at);
    }
  };
  each((at) => Math.floor(at / dayMs), kept.days);
  each(weekOf, kept.weeks);
  each((at) => new Date(at).toISOString().slice(0, 7), kept.months);
  return stay;
}
