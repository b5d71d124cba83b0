import { answersOf } from './answers';
import type { Breakdown } from './breakdown';
import { placeOf } from './causes';
import type { Id } from './ids';

/** A way out of a technique into another one: an exit from a checkpoint that holds, or an answer to a defence. */
export interface Door {
  /** The exit or the answer. */
  by: Id;
  /** The defence that it answers; null for an exit. */
  answers: Id | null;
  technique: Id;
  /** The checkpoint at which the other technique is entered; null is the first. */
  enteredAt: Id | null;
  otherSide: boolean;
  /** What held up to there: the exit’s checkpoint, or the one before the defence opened; null where that is the first. */
  heldTo: Id | null;
  how: string;
  /** When one goes by it; null where that is not said. */
  when: string | null;
  /** Not to be put on a training partner. */
  unsafe: boolean;
}

const byRank = (a: { rank?: number | undefined }, b: { rank?: number | undefined }): number =>
  (a.rank ?? Infinity) === (b.rank ?? Infinity) ? 0 : (a.rank ?? Infinity) - (b.rank ?? Infinity);

/** All ways out of a technique into another one, exits first, the preferred ones before the others. */
export const doorsOf = (breakdown: Breakdown): Door[] => [
  ...[...(breakdown.exits ?? [])].sort(byRank).map((exit) => ({
    by: exit.id,
    answers: null,
    technique: exit.technique,
    enteredAt: exit.enteredAt ?? null,
    otherSide: false,
    heldTo: exit.at,
    how: exit.how,
    when: exit.when ?? null,
    unsafe: exit.unsafe,
  })),
  ...breakdown.defences.flatMap((defence) =>
    answersOf(defence).flatMap((answer) =>
      answer.do === 'switch'
        ? [
            {
              by: answer.id,
              answers: defence.id,
              technique: answer.technique,
              enteredAt: answer.enteredAt ?? null,
              otherSide: answer.otherSide ?? false,
              heldTo: breakdown.checkpoints[placeOf(breakdown, defence.opens) - 1]?.id ?? null,
              how: answer.how,
              when: null,
              unsafe: false,
            },
          ]
        : [],
    ),
  ),
];
