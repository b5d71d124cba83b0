import type { Breakdown, Id, Side } from '../breakdown';
import { type Beta, fromDraws, quantile, type Steps } from '../math';
import { readingOf, type Shared } from './reading-of';
import type { Method, Reading, Slice, SquadReading } from './reading';
import { drawCount, type Eye, mean, type Sight, smallSquadTarget } from './sight';
import { type Tallied, talliedOf } from './tallied';
import type { Cell } from './tally';

/** Students who have reached a checkpoint, below which the squad's best quartile says nothing. */
const squadForQuartile = 8;
export interface ReadingQuestion {
  /** The edition whose checkpoints are read; reps on others count at the checkpoints they share. */
  breakdown: Breakdown;
  /** Cells of this technique; others are left out. */
  cells: readonly Cell[];
  slice: Slice;
  /** Everybody's main side; where it is missing, right. */
  mainSides: ReadonlyMap<Id, Side>;
  /** What a fixed hazard is, where it is not to be the squad's best quartile. */
  target?: number;
}

/** The sight of the squad as one: the mean of its students, who drill the same breakdown. */
function together(sights: readonly Sight[], own: Beta): Sight {
  const draws = Float64Array.from({ length: drawCount }, (_, i) =>
    mean(sights.map((sight) => sight.draws[i]!)),
  );
  return {
    hazard: fromDraws(mean(sights.map(({ hazard }) => hazard.value)), draws),
    draws,
    beta: own,
    heldAt: (condition) => {
      const each = sights.map(({ heldAt }) => heldAt(condition));
      return {
        value: mean(each.map(({ value }) => value)),
        low: mean(each.map(({ low }) => low)),
        high: mean(each.map(({ high }) => high)),
      };
    },
    sideGap: null,
    massGap: null,
  };
}

/**
 * What each hazard would be if it were fixed: the squad's best quartile. A small squad has none: there it is what a good
 * student of this room would reach, by what is thought of somebody who has not been seen, within bounds.
 */
function targetsOf(
  ids: readonly Id[],
  slice: Slice,
  sights: readonly { tallied: Tallied; sights: Sight[] }[],
  unseen: () => Sight[],
): number[] {
  let room: Sight[] | undefined;
  return ids.map((id, i) => {
    const known = sights.filter(({ tallied }) => tallied.at(id, slice).reached > 0);
    if (known.length < squadForQuartile) {
      room ??= unseen();
      const good = quantile(Float64Array.from(room[i]!.draws).sort(), 0.25);
      return Math.min(smallSquadTarget.high, Math.max(smallSquadTarget.low, good));
    }
    // Over the draws, because estimates that lean on each other lie closer together than the truth does.
    return mean(
      Array.from({ length: drawCount }, (_, n) =>
        quantile(Float64Array.from(known, ({ sights: own }) => own[i]!.draws[n]!).sort(), 0.25),
      ),
    );
  });
}

/**
 * Reads a technique with the eyes of a method: survival, leaks, causes and gains of everybody who has a rep in the slice.
 * `squadEye` sees the squad as one; without it, it is the mean of its students. It pauses after each student.
 */
export function* readSquad(
  question: ReadingQuestion,
  method: Method,
  eye: Eye,
  squadEye?: (squad: Tallied) => Sight[],
): Steps<SquadReading> {
  const { breakdown, slice } = question;
  const ids = breakdown.checkpoints.map(({ id }) => id);
  const places = new Map(ids.map((id, i) => [id, i]));
  const { squad, students } = talliedOf(
    question.cells.filter(({ technique }) => technique === breakdown.technique),
  );
  const each: { student: Id; tallied: Tallied; sights: Sight[] }[] = [];
  for (const [student, tallied] of students)
    if (tallied.counts(slice).reps > 0) {
      each.push({ student, tallied, sights: eye(student, tallied) });
      yield;
    }
  const { target } = question;
  const targets =
    target === undefined ? targetsOf(ids, slice, each, () => eye('', squad)) : ids.map(() => target);

  const shared: Shared = { breakdown, slice, ids, places, squad, targets };

  // With no students, use the reading of an unseen student.
  const seen = each.length > 0 ? each.map(({ sights }) => sights) : [eye('', squad)];
  const squadSights =
    squadEye?.(squad) ??
    ids.map((id, i) => {
      const { weightReached, weightFailed } = squad.at(id, slice);
      return together(
        seen.map((sights) => sights[i]!),
        { a: 1 + weightFailed, b: 1 + weightReached - weightFailed },
      );
    });
  const readings: Reading[] = [];
  for (const { student, tallied, sights } of each) {
    readings.push(readingOf(shared, student, tallied, sights));
    yield;
  }
  return {
    technique: breakdown.technique,
    edition: breakdown.edition,
    method,
    slice,
    squad: readingOf(shared, null, squad, squadSights),
    students: readings,
  };
}

/** A seed in 0…1 that a name always gives (FNV-1a). */
export function seedOf(name: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < name.length; i++) hash = Math.imul(hash ^ name.charCodeAt(i), 0x01000193);
  return (hash >>> 0) / 2 ** 32;
}
