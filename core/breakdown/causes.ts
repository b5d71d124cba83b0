import type { Breakdown, Defence, Mistake } from './breakdown';
import type { Id, Side } from './ids';
import { readFor } from './sides';

export type Cause =
  | { kind: 'mistake'; id: Id; title: string; mistake: Mistake }
  | { kind: 'defence'; id: Id; title: string; defence: Defence };

/** The place of a checkpoint in the order, from 0; −1 if the edition does not have it. */
export const placeOf = (breakdown: Pick<Breakdown, 'checkpoints'>, checkpoint: Id): number =>
  breakdown.checkpoints.findIndex(({ id }) => id === checkpoint);

/** The number of a checkpoint as coaches count, from 1; 0 if the edition does not have it. */
export const numberOf = (breakdown: Pick<Breakdown, 'checkpoints'>, checkpoint: Id): number =>
  placeOf(breakdown, checkpoint) + 1;

/** A checkpoint in a sentence: `4 “Arm deep”`, or its id if the edition does not have it. */
export function checkpointWords(
  breakdown: { checkpoints: readonly { id: Id; title: string }[] },
  checkpoint: Id,
  lead: Side,
): string {
  const place = breakdown.checkpoints.findIndex(({ id }) => id === checkpoint);
  return place < 0 ? checkpoint : `${place + 1} “${readFor(breakdown.checkpoints[place]!.title, lead)}”`;
}

/** The defences that are open while a checkpoint is being tried: it opened at or before it and has not closed. */
export function defencesOpenAt(
  breakdown: Pick<Breakdown, 'checkpoints' | 'defences'>,
  checkpoint: Id,
): Defence[] {
  const place = placeOf(breakdown, checkpoint);
  return breakdown.defences.filter(
    ({ opens, closes }) => placeOf(breakdown, opens) <= place && place <= placeOf(breakdown, closes),
  );
}

/** Everything that a stop at this checkpoint can be put down to: its mistakes first, then the open defences. */
export const causesAt = (
  breakdown: Pick<Breakdown, 'checkpoints' | 'defences' | 'mistakes'>,
  checkpoint: Id,
): Cause[] => [
  ...breakdown.mistakes
    .filter((mistake) => mistake.at === checkpoint)
    .map((mistake): Cause => ({ kind: 'mistake', id: mistake.id, title: mistake.title, mistake })),
  ...defencesOpenAt(breakdown, checkpoint).map((defence): Cause => ({
    kind: 'defence',
    id: defence.id,
    title: defence.title,
    defence,
  })),
];

/** Every checkpoint that must hold before this one, directly or through others, in the breakdown's order. */
export function fundamentalsOf(breakdown: Breakdown, checkpoint: Id): Id[] {
  const found = new Set<Id>();
  const visit = (id: Id): void => {
    for (const before of breakdown.checkpoints.find((one) => one.id === id)?.after ?? [])
      if (!found.has(before)) {
        found.add(before);
        visit(before);
      }
  };
  visit(checkpoint);
  return breakdown.checkpoints.map(({ id }) => id).filter((id) => found.has(id));
}
