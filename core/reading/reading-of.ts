import { type Breakdown, CheckpointKind, type Id } from '../breakdown';
import { type Estimate, fromDraws, wilson } from '../math';
import { type Rung, rungs } from '../rep';
import { rootCounts, rootHazard, rootSight } from './at-root';
import { causeShares, rootShares } from './causes';
import type { CheckpointReading, Reading, Slice } from './reading';
import { drawCount, fewestReps, holdsAt, mean, moreNeeded, type Sight } from './sight';
import { finishRate, gain, leaks, rootGain, survival } from './survival';
import type { Tallied } from './tallied';

/** The data shared by all readings of a squad. */
export interface Shared {
  breakdown: Breakdown;
  slice: Slice;
  ids: readonly Id[];
  places: ReadonlyMap<Id, number>;
  squad: Tallied;
  /** By place. */
  targets: readonly number[];
}

/** Everything about one student that several checkpoints need; lists are by place, draws by their number. */
function preparedOf(
  { breakdown, slice, ids, places, squad, targets }: Shared,
  tallied: Tallied,
  sights: Sight[],
) {
  const hazards = sights.map(({ hazard }) => hazard.value);
  const drawn = Array.from({ length: drawCount }, (_, n) => sights.map(({ draws }) => draws[n]!));
  const tallies = ids.map((id) => tallied.at(id, slice));
  const causes = ids.map((id, i) => causeShares(breakdown, id, tallies[i]!, squad.at(id, slice)));
  const roots = rootShares(causes, places);
  const drawnGains = drawn.map((one) => ids.map((_, i) => rootGain(one, roots, i, targets)));
  return {
    hazards,
    drawn,
    drawnLeaks: drawn.map(leaks),
    before: survival(hazards),
    lost: leaks(hazards),
    tallies,
    causes,
    roots,
    drawnGains,
    best: drawnGains.map((gains) => Math.max(...gains)),
    heldAtRung: heldByRung(sights),
  };
}
type Prepared = ReturnType<typeof preparedOf>;

/** Hold rates of every checkpoint at one rung, each computed once: a root is lost at later ones as well. */
function heldByRung(sights: readonly Sight[]): (rung: Rung) => Estimate[] {
  const known = new Map<Rung, Estimate[]>();
  return (rung) => {
    const held = known.get(rung) ?? sights.map(({ heldAt }) => heldAt({ rung }));
    known.set(rung, held);
    return held;
  };
}

/** The reading of one student, or of the squad as one (null). */
export function readingOf(shared: Shared, student: Id | null, tallied: Tallied, sights: Sight[]): Reading {
  const { breakdown, slice, ids } = shared;
  const prepared = preparedOf(shared, tallied, sights);
  const { hazards, drawn, lost, drawnLeaks } = prepared;
  const { reps, judged, finished } = tallied.counts(slice);
  return {
    student,
    reps,
    finished,
    finishedShare: judged > 0 ? wilson(finished, judged) : null,
    finishRate: fromDraws(finishRate(hazards), drawn.map(finishRate)),
    checkpoints: ids.map((_, place) => checkpointOf(shared, prepared, tallied, sights[place]!, place)),
    kinds: CheckpointKind.options.flatMap((kind) => {
      const own = breakdown.checkpoints.flatMap((one, i) => (one.kind === kind ? [i] : []));
      const leak = (list: readonly number[]) => own.reduce((sum, i) => sum + list[i]!, 0);
      return own.length === 0 ? [] : [{ kind, leak: fromDraws(leak(lost), drawnLeaks.map(leak)) }];
    }),
  };
}

function checkpointOf(
  shared: Shared,
  prepared: Prepared,
  tallied: Tallied,
  { hazard, beta, heldAt, sideGap, massGap }: Sight,
  i: number,
): CheckpointReading {
  const { slice, ids, targets } = shared;
  const { hazards, drawn, drawnLeaks, before, lost, tallies, causes, roots, drawnGains, best, heldAtRung } =
    prepared;
  const id = ids[i]!;
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
    atRoot: atRoot(shared, prepared, tallied, i),
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
}

/** The losses that start at a checkpoint, wherever they show: all of them, and by rung. */
function atRoot(
  { breakdown, slice, ids, targets }: Shared,
  { hazards, drawn, roots, heldAtRung }: Prepared,
  tallied: Tallied,
  i: number,
): CheckpointReading['atRoot'] {
  const { shown, ...counts } = rootCounts(breakdown, i, tallied, slice);
  const heldTo = (last: number) =>
    rungs.map((rung) => {
      const lostAt = heldAtRung(rung).map(({ value }) => 1 - value);
      return 1 - rootHazard(lostAt, roots, i, last);
    });
  return {
    ...counts,
    ...rootSight(hazards, drawn, targets, roots, i),
    shown: shown.map(({ place, reached }) => ({ at: ids[place]!, reached, held: heldTo(place) })),
    tried: tallied.byRung(ids[i]!, slice).map(({ rung, tally: { reached } }) => ({ rung, reached })),
  };
}
