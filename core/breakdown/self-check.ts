import { longestRun } from '../math';
import type { Draft } from './breakdown';
import { placeOf } from './causes';
import type { Id } from './ids';

/** A breakdown with its order shuffled and one checkpoint left out, for a student to put right. */
export interface SelfCheck {
  shown: Id[];
  missing: Id;
}

/** `chance` gives numbers from 0 to below 1. The shuffled order is never the right one, where there are three or more. */
export function selfCheck({ checkpoints }: Pick<Draft, 'checkpoints'>, chance: () => number): SelfCheck {
  const ids = checkpoints.map(({ id }) => id);
  const [missing] = ids.splice(Math.floor(chance() * ids.length), 1);
  const shown = [...ids];
  for (let i = shown.length - 1; i > 0; i--) {
    const k = Math.floor(chance() * (i + 1));
    [shown[i], shown[k]] = [shown[k]!, shown[i]!];
  }
  if (shown.length > 1 && shown.every((id, i) => id === ids[i])) shown.push(shown.shift()!);
  return { shown, missing: missing! };
}

/** Which of the checkpoints stand where they do not belong: as few as possible have to be moved to put the rest right. */
export function misplaced({ checkpoints }: Pick<Draft, 'checkpoints'>, order: readonly Id[]): Id[] {
  const stays = longestRun(order.map((id) => placeOf({ checkpoints }, id)));
  return order.filter((_, i) => !stays.has(i));
}
