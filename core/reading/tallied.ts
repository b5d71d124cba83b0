import { type Id, type Side } from '../breakdown';
import { type Rung, rungs } from '../rep';
import type { Partner, Slice } from './reading';
import { addTally, type Cell, emptyTally, type Tally } from './tally';

export const partners: readonly Partner[] = ['lighter', 'even', 'heavier'];
const sides: readonly Side[] = ['right', 'left'];

export const partnerOfBand = (massBand: number): Partner =>
  massBand < 0 ? 'lighter' : massBand > 0 ? 'heavier' : 'even';

/** Were the reps of this cell done as the slice asks? */
const within = (cell: Cell, { rung, side, partner }: Slice): boolean =>
  (rung === null || rung === cell.rung) &&
  (side === null || side === cell.side) &&
  (partner === null || partner === partnerOfBand(cell.massBand));

/** The cells of one person, or of the whole squad, on one technique; any slice of them is a sum. */
export class Tallied {
  /** What was summed before: a reading asks for the same slices again and again, of the squad for each student. */
  private readonly sums = new Map<string, Tally>();

  constructor(private readonly cells: readonly Cell[]) {}

  /** Reps of the slice, those that were whole and judged, and of these the finished ones. */
  counts(slice: Slice) {
    const total = { reps: 0, judged: 0, finished: 0 };
    for (const cell of this.cells)
      if (within(cell, slice)) {
        total.reps += cell.reps;
        total.judged += cell.judged;
        total.finished += cell.finished;
      }
    return total;
  }

  /** The sum over a slice, which nobody may change. */
  at(checkpoint: Id, slice: Slice): Tally {
    const key = `${slice.rung} ${slice.side} ${slice.partner} ${checkpoint}`;
    const known = this.sums.get(key);
    if (known) return known;
    const total = emptyTally();
    this.sums.set(key, total);
    for (const cell of this.cells) {
      // An id may be a word that every object knows.
      const tally = Object.hasOwn(cell.checkpoints, checkpoint) ? cell.checkpoints[checkpoint] : undefined;
      if (tally && within(cell, slice)) addTally(total, tally, tally.weightReached, tally.weightFailed);
    }
    return total;
  }

  /** The tally of each condition that was tried, the rest of the slice being as it is. */
  byRung(checkpoint: Id, slice: Slice): { rung: Rung; tally: Tally }[] {
    return rungs
      .map((rung) => ({ rung, tally: this.at(checkpoint, { ...slice, rung }) }))
      .filter(({ tally }) => tally.reached > 0);
  }
  bySide(checkpoint: Id, slice: Slice): { side: Side; tally: Tally }[] {
    return sides
      .map((side) => ({ side, tally: this.at(checkpoint, { ...slice, side }) }))
      .filter(({ tally }) => tally.reached > 0);
  }
  byPartner(checkpoint: Id, slice: Slice): { partner: Partner; tally: Tally }[] {
    return partners
      .map((partner) => ({ partner, tally: this.at(checkpoint, { ...slice, partner }) }))
      .filter(({ tally }) => tally.reached > 0);
  }
}

/** One for each student who has cells, in the order of their ids, and one for all. */
export function talliedOf(cells: readonly Cell[]): { squad: Tallied; students: Map<Id, Tallied> } {
  const byStudent = new Map<Id, Cell[]>();
  for (const cell of cells) {
    const own = byStudent.get(cell.student);
    if (own) own.push(cell);
    else byStudent.set(cell.student, [cell]);
  }
  const sorted = [...byStudent].sort(([a], [b]) => (a < b ? -1 : 1));
  return { squad: new Tallied(cells), students: new Map(sorted.map(([id, own]) => [id, new Tallied(own)])) };
}
