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
  /** Not to be put on a training partner. */
  unsafe: boolean;
}

/** All ways out of a technique into another one, exits first. */
export const doorsOf = (breakdown: Breakdown): Door[] => [
  ...(breakdown.exits ?? []).map((exit) => ({
    by: exit.id,
    answers: null,
    technique: exit.technique,
    enteredAt: exit.enteredAt ?? null,
    otherSide: false,
    heldTo: exit.at,
    how: exit.how,
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
              unsafe: false,
            },
          ]
        : [],
    ),
  ),
];
