import type { Breakdown } from '@ulkret/core/breakdown';
import { logistic } from '@ulkret/core/math';
import { gain } from '@ulkret/core/reading';
import type { Rep } from '@ulkret/core/rep';
import { randomLcg, randomNormal } from 'd3-random';

/** What a fixed checkpoint breaks at, in the gains that judge. */
export const judgedTarget = 0.05;

/** A squad whose true hazards are known, because they were drawn: the only fair judge of a judgement. */
export interface KnownSquad {
  students: string[];
  /** Checkpoint by checkpoint, its mean over everybody, in logits. */
  level: number[];
  /** Student by student, P(stop at checkpoint | reached), in order. */
  hazards: number[][];
  chance: () => number;
}

const squad = { students: 16, checkpoints: 8 } as const;
/** Logit-normal: checkpoint N(−1.7, 0.6²), student N(0, 0.45²), a student's deviation at a checkpoint N(0, 0.7²). */
const spread = { mean: -1.7, checkpoint: 0.6, student: 0.45, deviation: 0.7 } as const;

export function knownSquad(seed: number): KnownSquad {
  const chance = randomLcg(seed);
  const normal = randomNormal.source(chance)(0, 1);
  const level = Array.from({ length: squad.checkpoints }, () => spread.mean + spread.checkpoint * normal());
  const hazards = Array.from({ length: squad.students }, () => {
    const skill = spread.student * normal();
    return level.map((at) => logistic(at + skill + spread.deviation * normal()));
  });
  return {
    students: hazards.map((_, i) => `s${i}`),
    level,
    hazards,
    chance,
  };
}

/** What fixing one checkpoint of one student would truly gain, checkpoint by checkpoint. */
export const trueGains = ({ hazards }: KnownSquad, student: number): number[] =>
  hazards[student]!.map((_, at) => gain(hazards[student]!, at, judgedTarget));

/** Evenly spaced values over ±width. */
const evenly = (width: number, n: number): number[] =>
  Array.from({ length: n }, (_, i) => width * ((2 * i) / (n - 1) - 1));
const skills = evenly(4 * spread.student, 25);
const deviations = evenly(4 * spread.deviation, 41);

/** A place in a list of growing sums, by chance. */
function pick(sums: readonly number[], chance: () => number): number {
  const at = chance() * sums.at(-1)!;
  return sums.findIndex((sum) => sum >= at);
}

/**
 * The checkpoint that a judge would correct first who is told what no reps tell: the scales of students and deviations, and
 * the mean of every checkpoint. Exact but for the grid: of each skill, what every checkpoint's counts say by themselves.
 */
export function informedChoice(
  { level, chance }: KnownSquad,
  counts: readonly { reached: number; failed: number }[],
): number {
  const weighed = skills.map((skill) => {
    const at = counts.map(({ reached, failed }, c) => {
      const hazards = deviations.map((one) => logistic(level[c]! + skill + one));
      const logs = hazards.map(
        (hazard, i) =>
          failed * Math.log(hazard) +
          (reached - failed) * Math.log(1 - hazard) -
          (deviations[i]! / spread.deviation) ** 2 / 2,
      );
      const top = Math.max(...logs);
      let sum = 0;
      const sums = logs.map((log) => (sum += Math.exp(log - top)));
      return { hazards, sums, log: top + Math.log(sum) };
    });
    return { at, log: at.reduce((sum, { log }) => sum + log, -((skill / spread.student) ** 2) / 2) };
  });
  const top = Math.max(...weighed.map(({ log }) => log));
  let all = 0;
  const sums = weighed.map(({ log }) => (all += Math.exp(log - top)));
  const promise = counts.map(() => 0);
  for (let draw = 0; draw < 400; draw++) {
    const hazards = weighed[pick(sums, chance)]!.at.map((one) => one.hazards[pick(one.sums, chance)]!);
    const gains = hazards.map((_, at) => gain(hazards, at, judgedTarget));
    const best = Math.max(...gains);
    if (best > 0) gains.forEach((one, at) => (promise[at]! += one / best));
  }
  return promise.indexOf(Math.max(...promise));
}

const instant = '2026-03-05T18:00:00.000Z';

/** Reps of one student, from a checkpoint on; each ends at the first that breaks. */
export const drill = (
  { students, hazards, chance }: KnownSquad,
  breakdown: Breakdown,
  student: number,
  reps: number,
  from = 0,
): Rep[] =>
  Array.from({ length: reps }, () => {
    let at = from;
    while (at < squad.checkpoints && chance() >= hazards[student]![at]!) at++;
    const stop = breakdown.checkpoints[at]?.id;
    return {
      id: '00000000-0000-7000-8000-000000000000',
      session: null,
      at: instant,
      technique: breakdown.technique,
      edition: breakdown.edition,
      student: students[student]!,
      partner: null,
      side: 'right' as const,
      rung: 2 as const,
      from: from === 0 ? null : breakdown.checkpoints[from]!.id,
      to: null,
      soft: [],
      cause: null,
      observer: 'coach',
      source: 'mat' as const,
      note: '',
      ...(stop === undefined ? { outcome: 'finished' as const } : { outcome: 'stopped' as const, stop }),
    };
  });

/** A breakdown with independent checkpoints and no known causes. */
export const plainStrand: Breakdown = {
  technique: 'known',
  edition: 1,
  author: 'a simulation',
  date: '2026-03-05',
  source: 'made up',
  checkpoints: Array.from({ length: squad.checkpoints }, (_, i) => ({
    id: `c${i + 1}`,
    kind: 'base' as const,
    title: `Point ${i + 1}`,
    criterion: 'It is there.',
    proofs: [],
    after: [],
    belief: 100 / squad.checkpoints,
    mendable: null,
    variants: [],
  })),
  mistakes: [],
  defences: [],
};
