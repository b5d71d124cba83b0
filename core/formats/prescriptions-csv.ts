import type { Life, Worked } from '../prescription';
import { writeTableCsv } from './table-csv';

const columns = [
  'id',
  'student',
  'technique',
  'edition',
  'checkpoint',
  'mistake',
  'defence',
  'cue',
  'drill',
  'rung',
  'sides',
  'sets',
  'reps',
  'start_at',
  'end_at',
  'accepted_at',
  'accepted_by',
  'state',
  'held_since',
  'seen_since',
  'recheck_due',
  'before_seen',
  'before_failed',
  'after_seen',
  'after_failed',
  'chance_fell',
  'expected_untouched',
] as const;

/** Prescriptions as CSV (`ulkret.prescriptions/1`): a row each, with their terms, their state and the counts before and after. */
export const prescriptionsCsv = (list: readonly { life: Life; worked: Worked }[]): string =>
  writeTableCsv(
    columns,
    list.map(({ life, worked }) => {
      const { terms, held } = life;
      return [
        life.id,
        life.student,
        life.technique,
        life.edition,
        terms.checkpoint,
        terms.mistake,
        terms.defence,
        terms.cue,
        terms.drill,
        terms.rung,
        terms.sides,
        terms.sets,
        terms.reps,
        terms.startAt,
        terms.endAt,
        life.since,
        life.by,
        life.state,
        held.filter(Boolean).length,
        held.length,
        life.due,
        worked.before.seen,
        worked.before.failed,
        worked.after.seen,
        worked.after.failed,
        worked.chance,
        worked.untouched,
      ];
    }),
  );
