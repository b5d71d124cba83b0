import { logistic } from '@ulkret/core/math';
import { randomLcg, randomNormal } from 'd3-random';

/**
 * A season of a squad that learns: sixteen students, eight checkpoints, twelve weeks. Everything about them is known,
 * because it was drawn, so it can be said what a way of correcting them was worth. The learner is made up and fixed;
 * nothing that judges it may be tuned to it.
 */
export const season = { students: 16, checkpoints: 8, weeks: 12, classesAWeek: 2, repsAClass: 40 } as const;

/** Logits of failing alone at rung 2: checkpoint N(−1.7, 0.6²), student N(0, 0.45²), their deviation N(0, 0.7²). */
const spread = { mean: -1.7, checkpoint: 0.6, student: 0.45, deviation: 0.7 } as const;
/** A rung above the second adds this to a logit, one below takes it away. */
const rungStep = 0.5;
/** Of a checkpoint's hazard, how much is its own and how much its root's. */
const ownShare = 0.7;
/** A drilled rep lowers its logit by 0.03 · exp(0.4 z) at best, most where it holds 72.5 times in a hundred. */
const learning = { usual: 0.03, spread: 0.4, hold: 0.725, width: 0.15, besides: 0.1 } as const;
/** Of what was learnt half is gone after six weeks without a rep drilled for it. */
const keptAWeek = 0.5 ** (1 / 6);
/** Half of the stops that are seen are tagged, nine tags in ten rightly. */
const told = { tagged: 0.5, rightly: 0.9 } as const;

/** What one rep of two, in fours, is drilled for: a checkpoint (from 0) at a rung. */
export interface Drilled {
  checkpoint: number;
  rung: 1 | 2 | 3;
}

/** A rep as an observer saw it. Places from 0; `stop` is null if it finished. */
export interface SeenRep {
  student: number;
  from: number;
  rung: 1 | 2 | 3;
  stop: number | null;
  /** Where a tag says that the stop has its root: at the stop itself, or at its checkpoint's root; null without a tag. */
  tag: number | null;
  drilled: boolean;
}

/** One student as they truly are, and how fast they learn: logits at rung 2, now and before the first class. */
export interface Learner {
  now: number[];
  start: number[];
  rate: number;
}

export interface SeasonSquad {
  learners: Learner[];
  /** The root of every checkpoint but the first, an earlier one; of the first, itself. */
  roots: number[];
  chance: () => number;
}

/** Draws a squad. `rate` multiplies how fast everybody learns. */
export function seasonSquad(seed: number, rate = 1): SeasonSquad {
  const chance = randomLcg(seed);
  const normal = randomNormal.source(chance)(0, 1);
  const level = Array.from({ length: season.checkpoints }, () => spread.mean + spread.checkpoint * normal());
  const roots = level.map((_, at) => (at === 0 ? 0 : Math.floor(chance() * at)));
  const learners = Array.from({ length: season.students }, (): Learner => {
    const skill = spread.student * normal();
    const start = level.map((at) => at + skill + spread.deviation * normal());
    return { now: [...start], start, rate: rate * learning.usual * Math.exp(learning.spread * normal()) };
  });
  return { learners, roots, chance };
}

const failsAlone = (x: number, rung: number): number => logistic(x + rungStep * (rung - 2));

/** P(stop at a checkpoint | reached) at a rung: its own part and its root's. */
export function hazardsOf(now: readonly number[], roots: readonly number[], rung = 2): number[] {
  return now.map((x, at) =>
    at === 0
      ? failsAlone(x, rung)
      : ownShare * failsAlone(x, rung) + (1 - ownShare) * failsAlone(now[roots[at]!]!, rung),
  );
}

const holdAt = (now: readonly number[], roots: readonly number[], at: number, rung: number): number => {
  const own = failsAlone(now[at]!, rung);
  return 1 - (at === 0 ? own : ownShare * own + (1 - ownShare) * failsAlone(now[roots[at]!]!, rung));
};

/** How much of the best a rep teaches that holds so often. */
const worthOf = (hold: number): number => Math.exp(-0.5 * ((hold - learning.hold) / learning.width) ** 2);

/** The share of whole reps at rung 2 that truly finish. */
export const trueFinish = (now: readonly number[], roots: readonly number[]): number =>
  hazardsOf(now, roots).reduce((alive, hazard) => alive * (1 - hazard), 1);

/** One rep: it teaches what it is drilled for before it is tried, and a tenth of that whatever else it tests. */
function rep(
  { now, rate }: Learner,
  { roots, chance }: SeasonSquad,
  drilled: Drilled | null,
): Omit<SeenRep, 'student'> {
  const rung = drilled?.rung ?? 2;
  const from = drilled?.checkpoint ?? 0;
  for (let at = from; at < now.length; at++) {
    const share = drilled?.checkpoint === at ? 1 : learning.besides;
    now[at]! -= share * rate * worthOf(holdAt(now, roots, at, rung));
    const hazard = 1 - holdAt(now, roots, at, rung);
    if (chance() >= hazard) continue;
    const own = (at === 0 ? 1 : ownShare) * failsAlone(now[at]!, rung);
    const rooted = chance() * hazard >= own;
    const says = chance() < told.rightly ? rooted : !rooted;
    const tag = chance() < told.tagged ? (says ? roots[at]! : at) : null;
    return { from, rung, stop: at, tag, drilled: drilled !== null };
  }
  return { from, rung, stop: null, tag: null, drilled: drilled !== null };
}

/** A class: two of every four reps drilled for what was chosen for a student, every second rep seen. */
export function drillClass(squad: SeasonSquad, chosen: (student: number) => Drilled | null): SeenRep[] {
  return squad.learners.flatMap((learner, student) => {
    const drilled = chosen(student);
    return Array.from({ length: season.repsAClass }, (_, n) => ({
      student,
      ...rep(learner, squad, n % 4 < 2 ? drilled : null),
    })).filter((_, n) => n % 2 === 0);
  });
}

/** The end of a week: what nobody drilled goes back towards where it began. */
export function forget(
  { learners }: SeasonSquad,
  drilled: (student: number, checkpoint: number) => boolean,
): void {
  learners.forEach(({ now, start }, student) => {
    for (let at = 0; at < now.length; at++)
      if (!drilled(student, at)) now[at] = start[at]! + (now[at]! - start[at]!) * keptAWeek;
  });
}

/** The checkpoint and rung whose twenty drilled reps truly raise the finish rate most. */
export function bestDrill({ now, rate }: Learner, roots: readonly number[]): Drilled {
  let best: Drilled & { finish: number } = { checkpoint: 0, rung: 2, finish: -1 };
  for (let checkpoint = 0; checkpoint < now.length; checkpoint++)
    for (const rung of [1, 2, 3] as const) {
      const then = [...now];
      for (let n = 0; n < season.repsAClass / 2; n++)
        then[checkpoint]! -= rate * worthOf(holdAt(then, roots, checkpoint, rung));
      const finish = trueFinish(then, roots);
      if (finish > best.finish) best = { checkpoint, rung, finish };
    }
  return { checkpoint: best.checkpoint, rung: best.rung };
}

/** What a coach believes of each student's checkpoints: it correlates 0.4 with how they truly are. */
export function beliefs({ learners, chance }: SeasonSquad): number[][] {
  const normal = randomNormal.source(chance)(0, 1);
  const all = learners.flatMap(({ now }) => now);
  const mean = all.reduce((sum, x) => sum + x, 0) / all.length;
  const deviation = Math.sqrt(all.reduce((sum, x) => sum + (x - mean) ** 2, 0) / all.length);
  return learners.map(({ now }) =>
    now.map((x) => (0.4 * (x - mean)) / deviation + Math.sqrt(1 - 0.4 ** 2) * normal()),
  );
}
