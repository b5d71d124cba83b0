import { type Rep, stepWith } from '../rep';
import { isOwn, keyOf, repWords, type Scene } from './mat-scene';
import type { Entered, MatAction, MatState, MatStep } from './mat-state';
import { changing, saying, stepTo } from './mat-steps';
import { movedStep } from './tapping';

type ActionOf<D extends MatAction['do']> = Extract<MatAction, { do: D }>;

/** Undoes a rep with all that goes on from it; one that another device logged only when the coach says so again. */
export function onUndo(state: MatState, { rep, sure }: ActionOf<'undo'>, scene: Scene): MatStep {
  if (!isOwn(rep, scene) && !sure) return stepTo(state, { over: { is: 'undo', rep } });
  const words = `Undone: ${scene.nameOf(rep.student)}, ${repWords(scene, rep)}`;
  const next = {
    // What is tapped next takes the place of the undone rep: it is no double tap.
    ended: null,
    over: state.over?.is === 'undo' ? null : state.over,
    said: saying(words, keyOf(rep, scene)),
  };
  const step = stepWith(rep, scene.reps.of(rep.student));
  return {
    ...stepTo(
      state,
      next,
      step.map(({ id }) => ({ is: 'void', rep: id })),
    ),
    ask: null,
  };
}

/** Undoes the last rep that was tapped on this device, whatever others have logged since. */
export function onUndoLast(state: MatState, scene: Scene): MatStep {
  const rep = scene.reps.last.findLast((one) => isOwn(one, scene));
  return rep
    ? onUndo(state, { do: 'undo', rep }, scene)
    : stepTo(state, { said: saying('Nothing left to undo on this device.', null) });
}

export function onRestore(state: MatState, { rep }: ActionOf<'restore'>, scene: Scene): MatStep {
  const words = `Restored: ${scene.nameOf(rep.student)}, ${repWords(scene, rep)}`;
  return stepTo(state, { read: new Set([...state.read, rep.id]), said: saying(words, keyOf(rep, scene)) }, [
    { is: 'void', rep: rep.id, restores: true },
  ]);
}

/** A rep of somebody else, or of the other side, is put where it belongs: one step, and both stay on record. */
export function onMove(state: MatState, { rep, to }: ActionOf<'move'>, scene: Scene): MatStep {
  const step = stepWith(rep, scene.reps.of(rep.student));
  const by = { observer: scene.coach, device: scene.device, id: () => scene.made().id };
  const words = `Moved: ${scene.nameOf(to.student)}, ${to.side} side, ${repWords(scene, rep)}`;
  return stepTo(state, { said: saying(words, keyOf({ ...rep, ...to }, scene)) }, [
    ...movedStep(step, rep, to, by).map((one): Entered => ({ is: 'rep', rep: one })),
    ...step.map(({ id }): Entered => ({ is: 'void', rep: id })),
  ]);
}

/** Two reps that look like one, and what the coach says of them. */
export function onTwice(state: MatState, { two, keep, opinion }: ActionOf<'twice'>, scene: Scene): MatStep {
  const key = keyOf(two[0], scene);
  const pair = scene.views.find((view) => view.key === key)?.members;
  const over = state.over?.is === 'twice' ? null : state.over;
  const looked: Entered[] = pair
    ? [changing({ is: 'settled', pair: [...pair], reps: [two[0].id, two[1].id] })]
    : [];
  if (keep === 'both')
    return { state: { ...state, over, said: saying('Both are reps.', key) }, enter: looked };
  const other = two.find(({ id }) => id !== keep.id)!;
  const kept = `Kept: ${scene.nameOf(keep.student)} ${repWords(scene, keep)}`;
  const stop = other.outcome === 'stopped' ? other.stop : null;
  return {
    state: {
      ...state,
      over,
      said: saying(opinion ? `${kept}. Yours is a second opinion on it.` : `${kept}.`, key),
    },
    enter: [
      ...looked,
      ...(opinion ? [{ is: 'look', rep: keep.id, stop } as const] : []),
      { is: 'void', rep: other.id },
    ],
  };
}

/** Can the other of two reps become a second opinion on this one: is it this coach's, and did both see an end? */
export const mayBeOpinion = (keep: Rep, other: Rep, { coach }: Pick<Scene, 'coach'>): boolean =>
  other.observer === coach &&
  keep.observer !== coach &&
  [keep, other].every(({ outcome }) => outcome === 'stopped' || outcome === 'finished');
