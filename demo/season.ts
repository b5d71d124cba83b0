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
/**
 * The harder season: half of the stops are by defences, whose answers are learnt apart; most mistakes show later than they
 * begin; and a class may take somebody to the last checkpoint four times. Its logits are lower, so that as much finishes.
 */
const harder = { ownShare: 0.4, lower: 0.6, finishesAClass: 4 } as const;
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
  /** For the answer to the defence there, and not for the checkpoint itself. */
  answer?: boolean;
}

/** A rep as an observer saw it. Places from 0; `stop` is null if it finished. */
export interface SeenRep {
  student: number;
  from: number;
  rung: 1 | 2 | 3;
  stop: number | null;
  /** Where a tag says that the stop has its root: at the stop itself, at its checkpoint's root, or a defence; null without a tag. */
  tag: number | 'defence' | null;
  /** The last place of its span. */
  to: number;
  drilled: boolean;
}

/** One student as they truly are, and how fast they learn: logits at rung 2, now and before the first class. */
export interface Learner {
  now: number[];
  start: number[];
  /** The same for the answers to the defences; nothing is lost by them in the easier season. */
  answers: { now: number[]; start: number[] };
  rate: number;
}

export interface SeasonSquad {
  learners: Learner[];
  /** The root of every checkpoint but the first, an earlier one; of the first, itself. */
  roots: number[];
  /** Is it the harder season? */
  defences: boolean;
  chance: () => number;
}

/** Draws a squad. `rate` multiplies how fast everybody learns. */
export function seasonSquad(seed: number, rate = 1, defences = false): SeasonSquad {
  const chance = randomLcg(seed);
  const normal = randomNormal.source(chance)(0, 1);
  const level = Array.from({ length: season.checkpoints }, () => spread.mean + spread.checkpoint * normal());
  const roots = level.map((_, at) => (at === 0 ? 0 : Math.floor(chance() * at)));
  const learners = Array.from({ length: season.students }, (): Learner => {
    const skill = spread.student * normal();
    const start = level.map((at) => at + skill + spread.deviation * normal());
    return {
      now: [...start],
      start,
      answers: { now: [], start: [] },
      rate: rate * learning.usual * Math.exp(learning.spread * normal()),
    };
  });
  // Drawn last, so that the easier season of a seed stays what it is.
  if (defences) {
    const strong = level.map(() => spread.mean + spread.checkpoint * normal());
    for (const { answers } of learners) {
      answers.start = strong.map((at) => at + Math.hypot(spread.student, spread.deviation) * normal());
      answers.now = [...answers.start];
    }
  }
  return { learners, roots, defences, chance };
}

const failsAlone = (x: number, rung: number): number => logistic(x + rungStep * (rung - 2));

/** What ends a rep at a checkpoint at a rung: its own mistake, its root's, and a defence without an answer; they are tried in turn. */
function endsAt({ now, answers }: Learner, { roots, defences }: SeasonSquad, at: number, rung: number) {
  const lower = defences ? harder.lower : 0;
  const share = at === 0 ? 1 : defences ? harder.ownShare : ownShare;
  return {
    own: share * failsAlone(now[at]! - lower, rung),
    rooted: (1 - share) * failsAlone(now[roots[at]!]! - lower, rung),
    blocked: defences ? failsAlone(answers.now[at]! - lower, rung) : 0,
  };
}

/** P(stop at a checkpoint | reached) at a rung. */
function hazardAt(learner: Learner, squad: SeasonSquad, at: number, rung: number): number {
  const { own, rooted, blocked } = endsAt(learner, squad, at, rung);
  return 1 - (1 - own - rooted) * (1 - blocked);
}

export const hazardsOf = (learner: Learner, squad: SeasonSquad, rung = 2): number[] =>
  learner.now.map((_, at) => hazardAt(learner, squad, at, rung));

const holdAt = (learner: Learner, squad: SeasonSquad, at: number, rung: number): number =>
  1 - hazardAt(learner, squad, at, rung);

/** How much of the best a rep teaches that holds so often. */
const worthOf = (hold: number): number => Math.exp(-0.5 * ((hold - learning.hold) / learning.width) ** 2);

/** The share of whole reps at rung 2 that truly finish. */
export const trueFinish = (learner: Learner, squad: SeasonSquad): number =>
  hazardsOf(learner, squad).reduce((alive, hazard) => alive * (1 - hazard), 1);

/** One rep: it teaches what it is drilled for before it is tried, and a tenth of that whatever else it tests. */
function rep(
  learner: Learner,
  squad: SeasonSquad,
  drilled: Drilled | null,
  to: number,
): Omit<SeenRep, 'student'> {
  const { now, answers, rate } = learner;
  const { roots, chance } = squad;
  const rung = drilled?.rung ?? 2;
  const from = drilled?.checkpoint ?? 0;
  const seen = { from, to, rung, drilled: drilled !== null };
  for (let at = from; at <= to; at++) {
    const worth = rate * worthOf(holdAt(learner, squad, at, rung));
    const isFor = (answer: boolean) =>
      drilled?.checkpoint === at && (drilled.answer ?? false) === answer ? 1 : learning.besides;
    now[at]! -= isFor(false) * worth;
    if (squad.defences) answers.now[at]! -= isFor(true) * worth;
    const { own, rooted, blocked } = endsAt(learner, squad, at, rung);
    if (squad.defences && chance() < blocked) {
      const says = chance() < told.rightly ? 'defence' : at;
      return { ...seen, stop: at, tag: chance() < told.tagged ? says : null };
    }
    if (chance() >= own + rooted) continue;
    const isRooted = chance() * (own + rooted) >= own;
    const says = chance() < told.rightly ? isRooted : !isRooted;
    return { ...seen, stop: at, tag: chance() < told.tagged ? (says ? roots[at]! : at) : null };
  }
  return { ...seen, stop: null, tag: null };
}

/** A class: two of every four reps drilled for what was chosen for a student, every second rep seen. */
export function drillClass(squad: SeasonSquad, chosen: (student: number) => Drilled | null): SeenRep[] {
  const last = season.checkpoints - 1;
  return squad.learners.flatMap((learner, student) => {
    const drilled = chosen(student);
    let finishes = 0;
    return Array.from({ length: season.repsAClass }, (_, n) => {
      const own = n % 4 < 2 ? drilled : null;
      // Where the caps bind, drilled reps end before the last checkpoint, and few are drilled for it.
      const isLast = squad.defences && own?.checkpoint === last;
      if (isLast) finishes += 1;
      const mayBe = isLast && finishes > harder.finishesAClass ? null : own;
      return {
        student,
        ...rep(learner, squad, mayBe, squad.defences && mayBe && !isLast ? last - 1 : last),
      };
    }).filter((_, n) => n % 2 === 0);
  });
}

/** The end of a week: what nobody drilled goes back towards where it began. */
export function forget(
  { learners }: SeasonSquad,
  drilled: (student: number, checkpoint: number, answer: boolean) => boolean,
): void {
  learners.forEach((learner, student) => {
    for (const [{ now, start }, answer] of [
      [learner, false],
      [learner.answers, true],
    ] as const)
      for (let at = 0; at < now.length; at++)
        if (!drilled(student, at, answer)) now[at] = start[at]! + (now[at]! - start[at]!) * keptAWeek;
  });
}

/** The checkpoint and rung, or the answer there, whose twenty drilled reps truly raise the finish rate most. */
export function bestDrill(learner: Learner, squad: SeasonSquad): Drilled {
  let best: Drilled & { finish: number } = { checkpoint: 0, rung: 2, finish: -1 };
  const last = season.checkpoints - 1;
  for (let checkpoint = 0; checkpoint <= last; checkpoint++)
    for (const rung of [1, 2, 3] as const)
      for (const answer of squad.defences ? [false, true] : [false]) {
        const then: Learner = {
          ...learner,
          now: [...learner.now],
          answers: { ...learner.answers, now: [...learner.answers.now] },
        };
        const reps = squad.defences && checkpoint === last ? harder.finishesAClass : season.repsAClass / 2;
        const drilled = answer ? then.answers.now : then.now;
        for (let n = 0; n < reps; n++)
          drilled[checkpoint]! -= learner.rate * worthOf(holdAt(then, squad, checkpoint, rung));
        const finish = trueFinish(then, squad);
        if (finish > best.finish) best = { checkpoint, rung, answer, finish };
      }
  const { finish: _, ...drill } = best;
  return drill;
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
