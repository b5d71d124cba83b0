import type { Id } from '../breakdown';
import type { WeekTally } from './week-tally';

/**
 * In a dose of two times ten about every second rep is logged: this many logged reps that began at a checkpoint are
 * one dose. An assumption.
 */
export const notedOfDose = 10;

/**
 * What a dose that is just hard enough does to the log-odds of breaking, before anybody has seen what it does here: normal. An
 * assumption, wide enough to be changed by some ten corrections.
 */
export const usualFall = { mean: -0.35, deviation: 0.25 } as const;

const nameOf = ({ technique, student }: Pick<WeekTally, 'technique' | 'student'>, checkpoint: Id): string =>
  `${technique} ${student} ${checkpoint}`;

/**
 * How much everybody has drilled each checkpoint, in doses, week by week: reps that began at it because somebody asked for
 * it. What was drilled fades as reps lose their weight, by `keptAWeek` (0…1].
 */
export class Practice {
  /** Doses by week, in order of time. */
  private readonly doses = new Map<string, { week: number; doses: number }[]>();

  /** `weekOf` numbers a week; `tallies` stand in order of time. */
  constructor(
    tallies: readonly WeekTally[],
    private readonly weekOf: (week: string) => number,
    private readonly keptAWeek: number,
  ) {
    for (const tally of tallies)
      for (const [checkpoint, { begun }] of Object.entries(tally.checkpoints)) {
        if (begun === 0) continue;
        const name = nameOf(tally, checkpoint);
        const known = this.doses.get(name) ?? [];
        this.doses.set(name, known);
        const week = this.weekOf(tally.week);
        const last = known.at(-1);
        if (last?.week === week) last.doses += begun / notedOfDose;
        else known.push({ week, doses: begun / notedOfDose });
      }
  }

  /** What is left at the end of `now` of all doses, less what there was in the middle of `week`; numbers of weeks. */
  since(tally: Pick<WeekTally, 'technique' | 'student'>, checkpoint: Id, week: number, now: number): number {
    const known = this.doses.get(nameOf(tally, checkpoint));
    if (!known) return 0;
    let more = 0;
    for (const one of known) {
      if (one.week <= now) more += one.doses * this.keptAWeek ** (now - one.week);
      if (one.week <= week)
        more -= one.doses * (one.week === week ? 0.5 : this.keptAWeek ** (week - one.week));
    }
    return more;
  }
}
