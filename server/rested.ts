import { setImmediate as rest } from 'node:timers/promises';
import type { Steps } from '@ulkret/core/math';

/** Runs a long computation a step at a time, so that other requests are answered in between. */
export async function rested<T>(steps: Steps<T>): Promise<T> {
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value as T;
    await rest();
  }
}
