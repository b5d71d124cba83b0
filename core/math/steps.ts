/** A long computation that pauses now and then, so that something else can be done in between. */
export type Steps<T> = Generator<undefined, T>;

/** Runs a computation to its end without a pause. */
export function finished<T>(steps: Steps<T>): T {
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value as T;
  }
}
