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
 * Trials as columns, sorted so that those of one student at one piece (a cell) lie together, in it those at one checkpoint (a part;
 * most cells are of one), and in that those at one level and side (a run). Equal rows are one. A trial's features are 1, one for
 * each level but the reference, off, mass, and less its doses where anybody has drilled: every sum over trials is a sum of
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
  /** Feature count of a trial without the doses: 1 + levels + 2. */
  features: number;
  /** Feature count with them; the same where nobody has drilled anything. */
  width: number;
  /** Row by row. */
  mass: Float64Array;
  doses: Float64Array;
  reached: Float64Array;
  /** Run by run: 1 + the place in `levels`, 0 for the reference; its rows are `start[i]` to `start[i + 1]`. */
  runs: { level: Int8Array; off: Float64Array; start: Int32Array; count: number };
  /** Part by part; its runs are `start[i]` to `start[i + 1]`. `failed` sums the features of what failed, `width` a part. */
  parts: { checkpoint: Int32Array; start: Int32Array; failed: Float64Array; count: number };
  /** Cell by cell; its parts are `start[i]` to `start[i + 1]`. */
  cells: { student: Int32Array; piece: Int32Array; start: Int32Array; count: number };
}

/** The values of a column in their order, and of each row the place of its own. */
interface Placed<T> {
  names: T[];
  at: Int32Array;
}

function placed<T extends string | number>(rows: readonly TrialRow[], of: (row: TrialRow) => T): Placed<T> {
  const found = new Map<T, number>();
  const at = new Int32Array(rows.length);
  // Rows that follow one another often say the same.
  let [latest, place]: [T | undefined, number] = [undefined, 0];
  for (let i = 0; i < rows.length; i++) {
    const value = of(rows[i]!);
    if (value !== latest) {
      place = found.get(value) ?? found.size;
      if (place === found.size) found.set(value, place);
      latest = value;
    }
    at[i] = place;
  }
  const names = [...found.keys()].sort((a, b) => (a < b ? -1 : 1));
  const rank = new Int32Array(names.length);
  names.forEach((name, i) => (rank[found.get(name)!] = i));
  for (let i = 0; i < at.length; i++) at[i] = rank[at[i]!]!;
  return { names, at };
}

/** Sorts row numbers by a key under `most`, and keeps the order of those that are alike. */
function sortedBy(order: Int32Array<ArrayBuffer>, key: Int32Array, most: number): Int32Array<ArrayBuffer> {
  const next = new Int32Array(most + 1);
  for (let i = 0; i < order.length; i++) next[key[order[i]!]! + 1]!++;
  for (let k = 0; k < most; k++) next[k + 1]! += next[k]!;
  const sorted = new Int32Array(order.length);
  for (let i = 0; i < order.length; i++) sorted[next[key[order[i]!]!]!++] = order[i]!;
  return sorted;
}

/** The numbers of rows, as columns. */
class Numbers {
  readonly mass: Float64Array;
  readonly doses: Float64Array;
  readonly reached: Float64Array;
  readonly failed: Float64Array;

  constructor(rows: readonly TrialRow[]) {
    [this.mass, this.doses] = [new Float64Array(rows.length), new Float64Array(rows.length)];
    [this.reached, this.failed] = [new Float64Array(rows.length), new Float64Array(rows.length)];
    for (let i = 0; i < rows.length; i++) {
      const { mass, doses = 0, reached, failed } = rows[i]!;
      this.mass[i] = mass;
      this.doses[i] = doses;
      this.reached[i] = reached;
      this.failed[i] = failed;
    }
  }

  private compared(a: number, b: number): number {
    return (
      this.mass[a]! - this.mass[b]! ||
      this.doses[a]! - this.doses[b]! ||
      this.reached[a]! - this.reached[b]! ||
      this.failed[a]! - this.failed[b]!
    );
  }

  /** Sorts some row numbers, by insertion where they are few. */
  sort(order: Int32Array, from: number, to: number): void {
    if (to - from > 64) {
      order.subarray(from, to).sort((a, b) => this.compared(a, b));
      return;
    }
    for (let i = from + 1; i < to; i++) {
      const row = order[i]!;
      let k = i;
      for (; k > from && this.compared(order[k - 1]!, row) > 0; k--) order[k] = order[k - 1]!;
      order[k] = row;
    }
  }
}

/** Where the rows end that are alike in all of these keys. */
function endOf(order: Int32Array, from: number, [a, b, c, d]: readonly Int32Array[]): number {
  const first = order[from]!;
  let to = from + 1;
  for (; to < order.length; to++) {
    const row = order[to]!;
    if (a![row] !== a![first] || b![row] !== b![first] || c![row] !== c![first] || d![row] !== d![first])
      break;
  }
  return to;
}

/** Rows that are packed, one run after the other. */
class Packed {
  private readonly mass: Float64Array;
  private readonly doses: Float64Array;
  private readonly reached: Float64Array;
  private readonly runs = { level: [] as number[], off: [] as number[], start: [] as number[] };
  private readonly parts = { checkpoint: [] as number[], start: [] as number[] };
  private readonly cells = { student: [] as number[], piece: [] as number[], start: [] as number[] };
  private readonly failed: number[] = [];
  private count = 0;

  constructor(
    private readonly of: Numbers,
    private readonly features: number,
    private readonly width: number,
  ) {
    const most = of.mass.length;
    this.mass = new Float64Array(most);
    this.doses = new Float64Array(most);
    this.reached = new Float64Array(most);
  }

  /** Opens the cell and the part that the next run is of, where they are other ones. */
  open(student: number, piece: number, checkpoint: number): void {
    const { runs, parts, cells, failed } = this;
    const another = cells.student.at(-1) !== student || cells.piece.at(-1) !== piece;
    if (another) {
      cells.student.push(student);
      cells.piece.push(piece);
      cells.start.push(parts.start.length);
    }
    if (!another && parts.checkpoint.at(-1) === checkpoint) return;
    parts.checkpoint.push(checkpoint);
    parts.start.push(runs.start.length);
    for (let i = 0; i < this.width; i++) failed.push(0);
  }

  /** Adds a run of sorted rows. */
  add(order: Int32Array, from: number, to: number, level: number, off: number): void {
    const { mass, doses, failed } = this.of;
    this.runs.level.push(level);
    this.runs.off.push(off);
    this.runs.start.push(this.count);
    let [all, byMass, byDose] = [0, 0, 0];
    for (let i = from; i < to; i++) {
      const row = order[i]!;
      this.put(row, i > from);
      all += failed[row]!;
      byMass += failed[row]! * mass[row]!;
      byDose -= failed[row]! * doses[row]!;
    }
    const own = this.failed.length - this.width;
    this.failed[own]! += all;
    if (level > 0) this.failed[own + level]! += all;
    this.failed[own + this.features - 2]! += all * off;
    this.failed[own + this.features - 1]! += byMass;
    if (this.width > this.features) this.failed[own + this.features]! += byDose;
  }

  /** Puts a row after the latest; the same once more is the same, more often. */
  private put(row: number, more: boolean): void {
    const { mass, doses, reached } = this.of;
    const last = this.count - 1;
    if (more && this.mass[last] === mass[row] && this.doses[last] === doses[row]) {
      this.reached[last]! += reached[row]!;
      return;
    }
    this.mass[this.count] = mass[row]!;
    this.doses[this.count] = doses[row]!;
    this.reached[this.count] = reached[row]!;
    this.count++;
  }

  columns(): Pick<Trials, 'mass' | 'doses' | 'reached' | 'runs' | 'parts' | 'cells'> {
    const { runs, parts, cells, count } = this;
    const starts = (list: readonly number[], end: number) => Int32Array.from([...list, end]);
    return {
      mass: this.mass.slice(0, count),
      doses: this.doses.slice(0, count),
      reached: this.reached.slice(0, count),
      runs: {
        level: Int8Array.from(runs.level),
        off: Float64Array.from(runs.off),
        start: starts(runs.start, count),
        count: runs.start.length,
      },
      parts: {
        checkpoint: Int32Array.from(parts.checkpoint),
        start: starts(parts.start, runs.start.length),
        failed: Float64Array.from(this.failed),
        count: parts.start.length,
      },
      cells: {
        student: Int32Array.from(cells.student),
        piece: Int32Array.from(cells.piece),
        start: starts(cells.start, parts.start.length),
        count: cells.start.length,
      },
    };
  }
}

/**
 * Sorts rows into trials; `allLevels` are those that the model has, by default those that some row has. Rows without weight are left out, so a student or a checkpoint that nobody reached is not in
 * them. Throws RangeError on a row that failed more often than it reached, or holds something that is not a number.
 */
export function trialsOf(
  rows: readonly TrialRow[],
  reference: number,
  allLevels: Iterable<number> = new Set(rows.map(({ level }) => level)),
): Trials {
  for (const { student, checkpoint, mass, off, doses = 0, reached, failed } of rows)
    if (!(failed >= 0 && failed <= reached && Number.isFinite(mass + off + doses + reached)))
      throw new RangeError(`a trial of ${student} at ${checkpoint} makes no sense`);
  const seen = rows.filter(({ reached }) => reached > 0);
  const numbers = new Numbers(seen);
  const student = placed(seen, (row) => row.student);
  const checkpoint = placed(seen, (row) => row.checkpoint);
  const piece = placed(seen, (row) => row.piece ?? row.checkpoint);
  const side = placed(seen, (row) => row.off);
  const levels = [...new Set(allLevels)].filter((level) => level !== reference).sort((a, b) => a - b);
  const kind = new Int32Array(seen.length);
  let order = new Int32Array(seen.length);
  for (let i = 0; i < seen.length; i++) {
    kind[i] = (levels.indexOf(seen[i]!.level) + 1) * side.names.length + side.at[i]!;
    order[i] = i;
  }
  order = sortedBy(order, kind, (levels.length + 1) * side.names.length);
  for (const { names, at } of [checkpoint, piece, student]) order = sortedBy(order, at, names.length);

  const features = levels.length + 3;
  const width = numbers.doses.some((dose) => dose !== 0) ? features + 1 : features;
  const packed = new Packed(numbers, features, width);
  const keys = [kind, checkpoint.at, piece.at, student.at];
  for (let from = 0; from < order.length;) {
    const first = order[from]!;
    const to = endOf(order, from, keys);
    numbers.sort(order, from, to);
    packed.open(student.at[first]!, piece.at[first]!, checkpoint.at[first]!);
    const { level, off } = seen[first]!;
    packed.add(order, from, to, levels.indexOf(level) + 1, off);
    from = to;
  }
  const [names, pieces] = [{ students: student.names, checkpoints: checkpoint.names }, piece.names];
  return { ...names, pieces, reference, levels, features, width, ...packed.columns() };
}
