import { changesBetween } from '@ulkret/core/breakdown';

/** A piece of work with the steps that led to it and those that were taken back. */
export interface UndoSteps<T> {
  past: readonly T[];
  present: T;
  future: readonly T[];
}

const most = 200;

/** The steps after a change; what was taken back before it is gone. The same object where nothing has changed. */
export function stepTo<T>(steps: UndoSteps<T>, present: T): UndoSteps<T> {
  if (present === steps.present) return steps;
  return { past: [...steps.past, steps.present].slice(-most), present, future: [] };
}

export function undone<T>(steps: UndoSteps<T>): UndoSteps<T> {
  const { past, present, future } = steps;
  return past.length === 0
    ? steps
    : { past: past.slice(0, -1), present: past.at(-1)!, future: [present, ...future] };
}

export function redone<T>(steps: UndoSteps<T>): UndoSteps<T> {
  const { past, present, future } = steps;
  return future.length === 0
    ? steps
    : { past: [...past, present], present: future[0]!, future: future.slice(1) };
}

interface KeptSteps {
  past: string[];
  present: string;
  future: string[];
}

/** As text to be kept: the steps nearest to the present, as many as there is room for, in letters. */
export function packSteps<T>({ past, present, future }: UndoSteps<T>, room = 2_000_000): string {
  const now = JSON.stringify(present);
  let left = room - now.length;
  const fitting = (list: readonly T[]): string[] => {
    const texts: string[] = [];
    for (const work of list) {
      const text = JSON.stringify(work);
      left -= text.length;
      if (left < 0) break;
      texts.push(text);
    }
    return texts;
  };
  const before = fitting(past.toReversed()).toReversed();
  return JSON.stringify({ past: before, present: now, future: fitting(future) } satisfies KeptSteps);
}

/** The steps that were kept, if they led to this work; none where it has become another since, or they cannot be read. */
export function unpackSteps<T>(text: string | null, present: T): UndoSteps<T> {
  try {
    const kept = JSON.parse(text ?? '') as KeptSteps;
    const works = (list: string[]) => list.map((one) => JSON.parse(one) as T);
    if (changesBetween(JSON.parse(kept.present), present).length === 0)
      return { past: works(kept.past), present, future: works(kept.future) };
  } catch {
    // Starts again.
  }
  return { past: [], present, future: [] };
}
