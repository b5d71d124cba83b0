import { dequal } from 'dequal';
import { z } from 'zod';
import { type Breakdown, Id } from '../breakdown';
import { defaultHalfLifeDays, everything, type SquadReading, usualWeeks } from '../reading';
import type { DecisionContext } from './options';
import { prescribe } from './prescribe';
import { Prescription } from './prescription';
import { Unsure, unsureOf } from './unsure';

/** What to do next with one student on one technique. */
export const Decision = z.object({
  student: Id,
  prescription: Prescription,
  /** What their next reps would teach most about; null for an unknown student. */
  unsure: Unsure.nullable(),
});
export type Decision = z.infer<typeof Decision>;

/** The reading that decisions are made from, and no other one: all reps of the usual weeks, by the full model. */
export const decidedBy = {
  method: 'full',
  slice: everything,
  weeks: usualWeeks,
  halfLifeDays: defaultHalfLifeDays,
} as const;

/**
 * What to correct first for everybody in a reading of one technique, made as `decidedBy` says: the one decision that every
 * page, the Mat and the API tell. Throws where the reading is another one.
 */
export function decide(
  breakdown: Breakdown,
  reading: SquadReading,
  knownOf: (student: Id) => DecisionContext,
): Decision[] {
  const { method, slice } = decidedBy;
  if (reading.method !== method || !dequal(reading.slice, slice))
    throw new RangeError('a decision is made from the full reading of all reps');
  return reading.students.map((one) => ({
    student: one.student!,
    prescription: prescribe(breakdown, one, knownOf(one.student!)),
    unsure: unsureOf(one),
  }));
}
