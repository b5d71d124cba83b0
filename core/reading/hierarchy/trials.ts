/**
 * The trials of an academy, one entry a cell of equal trials, in typed arrays: what a checkpoint did each time that a student
 * reached it. Students and checkpoints are places in lists that the caller keeps.
 */
export interface Trials {
  students: number;
  checkpoints: number;
  /** How many effects all trials share (resistance levels, off side, partner's mass), besides checkpoint and student. */
  shared: number;
  /** Per cell: the student, 0…students−1, and the checkpoint, 0…checkpoints−1. */
  student: Int32Array;
  checkpoint: Int32Array;
  /** Per cell: weighted number of trials, > 0, and how many of them failed, 0…reached. */
  reached: Float64Array;
  failed: Float64Array;
  /** Per cell, `shared` values in a row: what each shared effect is multiplied by. */
  x: Float64Array;
}

/** Standard deviations of the normal priors. Infinity is a flat prior. */
export interface Priors {
  checkpoint: { mean: number; deviation: number };
  /** One for each shared effect, all around 0. */
  shared: readonly number[];
}

/** How far students differ: ω of the students as such, τ of a student at one checkpoint; log-odds, ≥ 0. */
export interface Spread {
  student: number;
  deviation: number;
}

/** The cells of one student at one checkpoint: one deviation. Cells are sorted by group, so a group is a run of them. */
export interface Groups {
  student: Int32Array;
  checkpoint: Int32Array;
  /** First cell of each group, and one past the last cell of all. */
  start: Int32Array;
  /** Place of a student's group at a checkpoint (student × checkpoints + checkpoint), or −1 where there is no trial. */
  at: Int32Array;
}

/** Sorts the cells by student and checkpoint. Throws RangeError where a cell makes no sense. */
export function grouped(trials: Trials): { trials: Trials; groups: Groups } {
  const { students, checkpoints, shared } = trials;
  const n = trials.student.length;
  for (let i = 0; i < n; i++) {
    const [reached, failed] = [trials.reached[i]!, trials.failed[i]!];
    if (!(reached > 0 && failed >= 0 && failed <= reached * (1 + 1e-9)))
      throw new RangeError(`a cell of ${reached} trials cannot have ${failed} failures`);
  }
  const keyOf = (i: number) => trials.student[i]! * checkpoints + trials.checkpoint[i]!;
  const order = Int32Array.from({ length: n }, (_, i) => i).sort((a, b) => keyOf(a) - keyOf(b) || a - b);
  const sorted: Trials = {
    ...{ students, checkpoints, shared },
    student: Int32Array.from(order, (i) => trials.student[i]!),
    checkpoint: Int32Array.from(order, (i) => trials.checkpoint[i]!),
    reached: Float64Array.from(order, (i) => trials.reached[i]!),
    failed: Float64Array.from(order, (i) => trials.failed[i]!),
    x: new Float64Array(n * shared),
  };
  order.forEach((from, to) =>
    sorted.x.set(trials.x.subarray(from * shared, (from + 1) * shared), to * shared),
  );
  const starts: number[] = [];
  const at = new Int32Array(students * checkpoints).fill(-1);
  order.forEach((from, to) => {
    const key = keyOf(from);
    if (at[key]! >= 0) return;
    at[key] = starts.length;
    starts.push(to);
  });
  return {
    trials: sorted,
    groups: {
      student: Int32Array.from(starts, (i) => sorted.student[i]!),
      checkpoint: Int32Array.from(starts, (i) => sorted.checkpoint[i]!),
      start: Int32Array.from([...starts, n]),
      at,
    },
  };
}
