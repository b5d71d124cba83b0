import { z } from 'zod';
import { type Breakdown, Id, isWithin } from '../breakdown';
import { Estimate } from '../math';
import { byTime, observing, placesIn, type Rep, toleranceOf } from '../rep';
import { Behind, chanceBetter, latest, rate, reachedForBetter, wellIn } from './behind';
import type { EditionsByNumber } from './tally';

const n = z.int().min(0);

/** Values inside their range or outside it, and how often the checkpoint held there. */
const InRange = z.object({ reached: n, held: n, rate: Estimate, behind: Behind });

/** What was measured or timed at a checkpoint, against how it went. */
export const MeasuredReading = z.object({
  checkpoint: Id,
  of: z.enum(['measure', 'time']),
  low: z.number().nullable(),
  high: z.number().nullable(),
  unit: z.string(),
  inside: InRange,
  outside: InRange,
  /** P(it holds more often inside); null where too little is known of either. */
  better: z.number().min(0).max(1).nullable(),
  /** The latest values, each with how it went. */
  values: z.array(z.object({ value: z.number(), held: z.boolean() })),
});
export type MeasuredReading = z.infer<typeof MeasuredReading>;

/** Values that a picture shows at most. */
const mostValues = 300;

type Range = Pick<MeasuredReading, 'low' | 'high' | 'unit'>;

/** The time that a checkpoint is to come in; what comes together comes within half a second of it (common practice). */
const atOnceSeconds = 0.5;
const timeOf = ({ together, withinSeconds }: Breakdown['checkpoints'][number]): Range | null =>
  withinSeconds !== undefined || together !== undefined
    ? { low: 0, high: withinSeconds ?? atOnceSeconds, unit: 'seconds' }
    : null;

/** What was measured and timed at each checkpoint of an edition. */
export function measuredIn(
  breakdown: Breakdown,
  editions: EditionsByNumber,
  reps: readonly Rep[],
): MeasuredReading[] {
  type Seen = { value: number; inside: boolean; one: Behind[number] };
  const seenOf = (id: Id, of: MeasuredReading['of']): Seen[] =>
    reps.flatMap((rep) => {
      const value =
        of === 'measure'
          ? rep.measured?.find(({ checkpoint }) => checkpoint === id)?.value
          : rep.timed?.find(({ checkpoint }) => checkpoint === id)?.seconds;
      const edition = editions.get(rep.edition);
      const place = edition && placesIn(edition).get(id);
      if (value === undefined || !edition || place === undefined) return [];
      const range =
        of === 'measure'
          ? toleranceOf(edition.checkpoints[place]!, rep)
          : timeOf(edition.checkpoints[place]!);
      const seen = observing(edition, rep)(place);
      if (!range || seen === 'not seen') return [];
      return [{ value, inside: isWithin(range, value), one: { rep, well: seen !== 'failed' } }];
    });
  return breakdown.checkpoints.flatMap((checkpoint) =>
    (['measure', 'time'] as const).flatMap((of): MeasuredReading[] => {
      const seen = seenOf(checkpoint.id, of);
      const range = of === 'time' ? timeOf(checkpoint) : toleranceOf(checkpoint, {});
      if (seen.length === 0 || !range) return [];
      const [inside, outside] = [true, false].map((within) =>
        seen.filter((one) => one.inside === within).map(({ one }) => one),
      );
      const told = (behind: Behind) => {
        const held = wellIn(behind);
        return { reached: behind.length, held, rate: rate(held, behind.length), behind: latest(behind) };
      };
      return [
        {
          checkpoint: checkpoint.id,
          of,
          low: range.low,
          high: range.high,
          unit: range.unit,
          inside: told(inside!),
          outside: told(outside!),
          better:
            Math.min(inside!.length, outside!.length) < reachedForBetter
              ? null
              : chanceBetter(inside!, outside!),
          values: seen
            .sort((a, b) => byTime(b.one.rep, a.one.rep))
            .slice(0, mostValues)
            .map(({ value, one }) => ({ value, held: one.well })),
        },
      ];
    }),
  );
}
