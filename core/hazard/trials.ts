/** One group of like trials: everybody who reached a checkpoint under the same conditions. Weights are reps, aged. */
export interface TrialRow {
  student: string;
  checkpoint: string;
  /** What the checkpoint is a case of, in whichever technique: a student differs in it from the others once. Itself where it is left out. */
  piece?: string | undefined;
  /** The rung or any other ordered level of resistance; the model's reference level has no effect of its own. */
  level: number;
  /** 1 on the side that is not the student's main side, else 0. */
  off: number;
  /** ln(partner mass / student mass); 0 where it is not known. */
  mass: number;
  /** Doses that the student has drilled of the checkpoint since, less what faded; 0 where it is left out. */
  doses?: number;
  reached: number;
  failed: number;
}

/**
 * Trials as columns, sorted so that those of one student at one piece (a cell) lie together, and in it those at one checkpoint
 * (a part); most cells are of one part. A trial's features are
 * 1, one for each level but the reference, off and mass: `features` numbers a row, and every sum over trials is a sum of
 * their products.
 */
export interface Trials {
  students: readonly string[];
  checkpoints: readonly string[];
  /** The pieces that the checkpoints belong to. */
  pieces: readonly string[];
  reference: number;
  /** Levels that have an effect: all but the reference. */
  levels: readonly number[];
  /** Feature count of a trial: 1 + levels + 2. */
  features: number;
  /** Row by row, the place in `levels`, −1 for the reference. */
  level: Int8Array;
  off: Float64Array;
  mass: Float64Array;
  doses: Float64Array;
  reached: Float64Array;
  failed: Float64Array;
  /** Part by part; its rows are `start[i]` to `start[i + 1]`. */
  parts: { checkpoint: Int32Array; start: Int32Array; count: number };
  /** Cell by cell; its parts are `start[i]` to `start[i + 1]`. */
  cells: { student: Int32Array; piece: Int32Array; start: Int32Array; count: number };
}

/**
 * Sorts rows into trials; `allLevels` are those that the model has, by default those that some row has. Rows without weight are left out, so a student or a checkpoint that nobody reached is not in
 * them. Throws RangeError on a row that failed more often than it reached, or holds something that is not a number.
 */
export function trialsOf(
  rows: readonly TrialRow[],
  reference: number,
  allLevels: readonly number[] = rows.map(({ level }) => level),
): Trials {
  const pieceOf = ({ piece, checkpoint }: TrialRow): string => piece ?? checkpoint;
  const seen = rows.filter(({ reached }) => reached > 0);
  for (const row of rows)
    if (!(
      row.failed >= 0 &&
      row.failed <= row.reached &&
      Number.isFinite(row.mass + row.off + (row.doses ?? 0) + row.reached)
    ))
      throw new RangeError(`a trial of ${row.student} at ${row.checkpoint} makes no sense`);
  const named = (list: string[]) => [...new Set(list)].sort((a, b) => (a < b ? -1 : 1));
  const students = named(seen.map(({ student }) => student));
  const checkpoints = named(seen.map(({ checkpoint }) => checkpoint));
  const pieces = named(seen.map(pieceOf));
  const studentAt = new Map(students.map((id, i) => [id, i]));
  const checkpointAt = new Map(checkpoints.map((id, i) => [id, i]));
  const levels = [...new Set(allLevels)].filter((level) => level !== reference).sort((a, b) => a - b);
  const pieceAt = new Map(pieces.map((id, i) => [id, i]));
  const cellOf = (row: TrialRow) => studentAt.get(row.student)! * pieces.length + pieceAt.get(pieceOf(row))!;
  // By cell first, so that only the few rows of one cell are compared with each other.
  const byCell = new Map<number, TrialRow[]>();
  for (const row of seen) {
    const cell = cellOf(row);
    const own = byCell.get(cell);
    if (own) own.push(row);
    else byCell.set(cell, [row]);
  }
  const filled = [...byCell.keys()].sort((a, b) => a - b);
  const sorted: TrialRow[] = [];
  const starts: number[] = [];
  const parts: { checkpoint: number; start: number }[] = [];
  for (const cell of filled) {
    starts.push(parts.length);
    const own = byCell
      .get(cell)!
      .sort(
        (a, b) =>
          checkpointAt.get(a.checkpoint)! - checkpointAt.get(b.checkpoint)! ||
          a.level - b.level ||
          a.off - b.off ||
          a.mass - b.mass ||
          (a.doses ?? 0) - (b.doses ?? 0) ||
          a.reached - b.reached ||
          a.failed - b.failed,
      );
    let latest: string | null = null;
    for (const row of own) {
      if (row.checkpoint !== latest)
        parts.push({ checkpoint: checkpointAt.get(row.checkpoint)!, start: sorted.length });
      latest = row.checkpoint;
      sorted.push(row);
    }
  }
  const column = (of: (row: TrialRow) => number) => Float64Array.from(sorted, of);
  return {
    students,
    checkpoints,
    pieces,
    reference,
    levels,
    features: levels.length + 3,
    level: Int8Array.from(sorted, ({ level }) => levels.indexOf(level)),
    off: column(({ off }) => off),
    mass: column(({ mass }) => mass),
    doses: column(({ doses = 0 }) => doses),
    reached: column(({ reached }) => reached),
    failed: column(({ failed }) => failed),
    parts: {
      checkpoint: Int32Array.from(parts, ({ checkpoint }) => checkpoint),
      start: Int32Array.from([...parts.map(({ start }) => start), sorted.length]),
      count: parts.length,
    },
    cells: {
      student: Int32Array.from(filled, (cell) => Math.floor(cell / pieces.length)),
      piece: Int32Array.from(filled, (cell) => cell % pieces.length),
      start: Int32Array.from([...starts, parts.length]),
      count: starts.length,
    },
  };
}
