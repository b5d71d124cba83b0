import { type Breakdown, placeOf, type Technique, numberOf } from '@ulkret/core/breakdown';
import { activityAt, lastBeforeLoad, permit, spanSpares } from '@ulkret/core/care';
import type { Student } from '@ulkret/core/people';
import {
  type Correction,
  isOpen,
  type Life,
  stoodOn,
  type Terms,
  termsOf,
  withProof,
} from '@ulkret/core/prescription';
import type { Rung } from '@ulkret/core/rep';
import { rulesOf, today, useKit } from '../device/kit';
import { useDeciding } from '../reader/use-deciding';
import { many } from '../ui/words';

/** More than two corrections at once nobody can keep in mind (common practice). */
const mostAtOnce = 2;

/** A correction with whom it is of. */
export interface Row {
  student: Student;
  now: Correction;
}

/** Tonight's corrections on a technique for the students here: proposals, what is in their way, and deciding them. */
export function useTonight(technique: Technique, breakdown: Breakdown, students: readonly Student[]) {
  const deciding = useDeciding();
  const rules = rulesOf(useKit().data);
  const of = (student: string) => deciding.of(student, technique.id);
  const base = (student: string) => ({ student, technique: technique.id, edition: breakdown.edition });

  /** What was signed off there once and has not lasted. */
  const lapsedOf = (student: string, checkpoint: string): Life | null =>
    deciding.told.data?.prescriptions
      .map(({ life }) => life)
      .findLast(
        (life) =>
          life.student === student &&
          life.technique === technique.id &&
          life.terms.checkpoint === checkpoint &&
          life.state === 'lapsed',
      ) ?? null;
  /** Is there nobody here whom this student may load with it? */
  const nobodyFor = ({ student, now }: Row): boolean => {
    const activity = activityAt(now.dose.rung);
    const circumstances = { rules, today: today() };
    const partners = students.filter(({ id }) => id !== student.id);
    return (
      now.dose.rung > 0 &&
      partners.length > 0 &&
      partners.every(
        (partner) => permit(student, partner, technique, activity, circumstances).verdict === 'not allowed',
      )
    );
  };
  const spared = lastBeforeLoad(breakdown, technique);
  /**
   * Where reps end because nobody here may be loaded with it; null if they need not, or if the corrected checkpoint
   * comes later.
   */
  const sparedAt = (row: Row): string | null =>
    spared !== null &&
    placeOf(breakdown, row.now.checkpoint) <= placeOf(breakdown, spared) &&
    !spanSpares(breakdown, technique, row.now.dose.endAt) &&
    nobodyFor(row)
      ? spared
      : null;
  /** The correction as it would be accepted unchanged. */
  const proposed = (row: Row): Terms => {
    const terms = termsOf(breakdown, row.now);
    const spared = sparedAt(row);
    return spared === null ? terms : withProof(breakdown, null, { ...terms, endAt: spared });
  };
  const accept = (row: Row) =>
    deciding.decide({
      ...base(row.student.id),
      does: { is: 'accepted', terms: proposed(row), stood: stoodOn(row.now) },
    });
  /** What is in its way, and what would help; null if nothing is. */
  const conflictOf = (row: Row): string | null => {
    const { student, now } = row;
    const elsewhere = deciding
      .lives(student.id)
      .filter((life) => isOpen(life) && life.technique !== technique.id);
    if (elsewhere.length >= mostAtOnce)
      return `${student.name} already has ${many(elsewhere.length, 'other correction')}. Two is the limit.`;
    const endAt = sparedAt(row);
    if (endAt !== null) return `No partner here may take the load: stop at ${numberOf(breakdown, endAt)}.`;
    if (!spanSpares(breakdown, technique, now.dose.endAt) && nobodyFor(row))
      return 'No partner here may take the load: drill it alone, under “Change”.';
    return null;
  };
  const edit = ({ student, now }: Row, terms: Terms) => {
    const { life } = of(student.id);
    deciding.decide({
      ...base(student.id),
      does: life ? { is: 'edited', of: life.id, terms } : { is: 'accepted', terms, stood: stoodOn(now) },
    });
  };
  /** Signs it off by its sign, where reps cannot show it. */
  const sign = ({ student }: Row, life: Life, words: string) =>
    deciding.decide({
      ...base(student.id),
      does: { is: 'signed', of: life.id, reason: words.slice(0, 300) },
    });
  const decline = ({ student, now }: Row, reason: string) =>
    deciding.decide({
      ...base(student.id),
      does: { is: 'declined', checkpoint: now.checkpoint, reason },
    });
  /** May they do it at that rung with any partner? */
  const mayAt = (student: Student, rung: Rung): boolean =>
    permit(student, null, technique, activityAt(rung), { rules, today: today() }).verdict !== 'not allowed';
  return {
    load: { technique, caps: rules.caps },
    of,
    lapsedOf,
    proposed,
    conflictOf,
    mayAt,
    accept,
    edit,
    sign,
    decline,
    undo: deciding.undo,
    lives: deciding.told.data?.prescriptions.map(({ life }) => life) ?? [],
  };
}
