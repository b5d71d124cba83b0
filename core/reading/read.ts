import { type Breakdown, CheckpointKind, type Id, type Side } from '../breakdown';
import { type Beta, betaEstimate, type Estimate, fromDraws, quantile, type Steps, wilson } from '../math';
import { rootHazard, Roots, rootSight } from './at-root';
import { causeShares, rootShares } from './causes';
import { type Rung, rungs } from '../rep';
import { type Tallied, talliedOf } from './tallied';
import type { CheckpointReading, Method, Reading, Slice, SquadReading } from './reading';
import { finishRate, gain, leaks, rootGain, survival } from './survival';
import type { Cell } from './tally';

/** What a fixed checkpoint breaks at where the squad is too small to say. */
export const smallSquadTarget = 0.05;
/** An 80 % interval at most this wide is enough to act on… */
export const enoughWidth = 0.25;
/** …once a student has this many reps of their own there, more than the squad's rate is worth. */
export const fewestReps = 5;
/** The hold rate at which a rung counts as held. */
export const holdsAt = 0.75;
/** P(one side, or a heavier partner, is worse) above which it is said, and both sides are prescribed. */
export const sideGapAbove = 0.9;
/** Seeded draws for products of hazards. */
export const drawCount = 400;

/** Students who have reached a checkpoint, below which the squad's best quartile says nothing. */
const squadForQuartile = 8;
/** Reps on either side, or with either kind of partner, below which no gap is told. */
export const reachedForGap = 5;

export interface Question {
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

/** How a method sees one student at one checkpoint. Rates are hazards unless they are called held. */
export interface Sight {
  hazard: Estimate;
  /** Hazards, `drawCount` of them; the n-th of every checkpoint of a student belong together. */
  draws: Float64Array;
  /** A Beta that is as wide: what the interval would do with more reps is told from it. */
  beta: Beta;
  heldAt: (condition: Partial<Slice>) => Estimate;
  sideGap: number | null;
  massGap: number | null;
}

/** A way of seeing a student: a sight at each checkpoint of the breakdown, in its order. */
export type Eye = (student: Id, tallied: Tallied) => Sight[];

/** About how many more reps that reach a checkpoint bring its expected interval under `enoughWidth`; 0 where it is there. */
export function moreNeeded({ a, b }: Beta): number {
  const mean = a / (a + b);
  const wide = (more: number): boolean => {
    const { low, high } = betaEstimate({ a: a + more * mean, b: b + more * (1 - mean) });
    return high - low > enoughWidth;
  };
  if (!wide(0)) return 0;
  let below = 0;
  let above = 1;
  while (wide(above)) [below, above] = [above, above * 2];
  while (above - below > 1) {
    const middle = (below + above) >> 1;
    if (wide(middle)) below = middle;
    else above = middle;
  }
  return above;
}

const mean = (list: readonly number[]): number => list.reduce((sum, x) => sum + x, 0) / list.length;

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

/** What each hazard would be if it were fixed: the squad's best quartile, or a small rate where the squad is too small. */
function targetsOf(
  ids: readonly Id[],
  slice: Slice,
  sights: readonly { tallied: Tallied; sights: Sight[] }[],
): number[] {
  return ids.map((id, i) => {
    const known = sights.filter(({ tallied }) => tallied.at(id, slice).reached > 0);
    if (known.length < squadForQuartile) return smallSquadTarget;
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
  question: Question,
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
  const targets = target === undefined ? targetsOf(ids, slice, each) : ids.map(() => target);

  const rooted = new Roots(breakdown);

  const readingOf = (student: Id | null, tallied: Tallied, sights: Sight[]): Reading => {
    const hazards = sights.map(({ hazard }) => hazard.value);
    const drawn = Array.from({ length: drawCount }, (_, i) => sights.map(({ draws }) => draws[i]!));
    const drawnLeaks = drawn.map(leaks);
    const before = survival(hazards);
    const lost = leaks(hazards);
    const tallies = ids.map((id) => tallied.at(id, slice));
    const causes = ids.map((id, i) => causeShares(breakdown, id, tallies[i]!, squad.at(id, slice)));
    const roots = rootShares(causes, places);
    const { reps, judged, finished } = tallied.counts(slice);
    const drawnGains = drawn.map((one) => ids.map((_, i) => rootGain(one, roots, i, targets)));
    const best = drawnGains.map((gains) => Math.max(...gains));
    /** Hold rates of every checkpoint at one rung: a root is lost at later ones as well. */
    const atRung = new Map<Rung, Estimate[]>();
    const heldAtRung = (rung: Rung): Estimate[] => {
      const known = atRung.get(rung) ?? sights.map(({ heldAt }) => heldAt({ rung }));
      atRung.set(rung, known);
      return known;
    };
    const heldAtRoot = (rung: Rung, place: number): number =>
      1 -
      rootHazard(
        heldAtRung(rung).map(({ value }) => 1 - value),
        roots,
        place,
      );
    return {
      student,
      reps,
      finished,
      finishedShare: judged > 0 ? wilson(finished, judged) : null,
      finishRate: fromDraws(finishRate(hazards), drawn.map(finishRate)),
      checkpoints: ids.map((id, i): CheckpointReading => {
        const { hazard, beta, heldAt, sideGap, massGap } = sights[i]!;
        const { reached, failed } = tallies[i]!;
        const more = Math.max(moreNeeded(beta), fewestReps - reached, 0);
        const byRung = tallied.byRung(id, slice).map(({ rung, tally }) => ({
          rung,
          reached: tally.reached,
          failed: tally.failed,
          held: heldAtRung(rung)[i]!,
        }));
        return {
          checkpoint: id,
          reached,
          failed,
          atRoot: {
            ...rooted.counts(id, i, tallied, slice),
            ...rootSight(hazards, drawn, targets, roots, i),
            byRung: rungs.map((rung) => {
              const { reached, failed } = rooted.counts(id, i, tallied, { ...slice, rung });
              const here = heldAtRung(rung)[i]!.value;
              return { rung, reached, failed, held: heldAtRoot(rung, i), here };
            }),
          },
          hazard,
          survivalBefore: before[i]!,
          target: targets[i]!,
          leak: fromDraws(
            lost[i]!,
            Float64Array.from(drawnLeaks, (leak) => leak[i]!),
          ),
          rootLeak: Math.min(
            1,
            lost.reduce((sum, leak, at) => sum + leak * roots[at]![i]!, 0),
          ),
          gain: fromDraws(
            gain(hazards, i, targets[i]!),
            drawn.map((one) => gain(one, i, targets[i]!)),
          ),
          rootGain: fromDraws(
            rootGain(hazards, roots, i, targets),
            drawnGains.map((gains) => gains[i]!),
          ),
          promise: mean(drawnGains.map((gains, n) => (best[n]! > 0 ? gains[i]! / best[n]! : 0))),
          causes: causes[i]!,
          enough: more === 0,
          moreNeeded: more,
          byRung,
          bySide: tallied.bySide(id, slice).map(({ side, tally }) => ({
            side,
            reached: tally.reached,
            failed: tally.failed,
            held: heldAt({ side }),
          })),
          byPartner: tallied.byPartner(id, slice).map(({ partner, tally }) => ({
            partner,
            reached: tally.reached,
            failed: tally.failed,
            held: heldAt({ partner }),
          })),
          holdsUpTo: byRung.filter(({ held }) => held.value >= holdsAt).at(-1)?.rung ?? null,
          sideGap,
          massGap,
        };
      }),
      kinds: CheckpointKind.options.flatMap((kind) => {
        const own = breakdown.checkpoints.flatMap((one, i) => (one.kind === kind ? [i] : []));
        const leak = (list: readonly number[]) => own.reduce((sum, i) => sum + list[i]!, 0);
        return own.length === 0 ? [] : [{ kind, leak: fromDraws(leak(lost), drawnLeaks.map(leak)) }];
      }),
    };
  };

  // Of nobody a method says what it says of somebody it has never seen.
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
    readings.push(readingOf(student, tallied, sights));
    yield;
  }
  return {
    technique: breakdown.technique,
    edition: breakdown.edition,
    method,
    slice,
    squad: readingOf(null, squad, squadSights),
    students: readings,
  };
}

/** A seed in 0…1 that a name always gives (FNV-1a). */
export function seedOf(name: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < name.length; i++) hash = Math.imul(hash ^ name.charCodeAt(i), 0x01000193);
  return (hash >>> 0) / 2 ** 32;
}
