import { execFile } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { parseArgs, promisify } from 'node:util';
import { finished } from '@ulkret/core/hazard';
import { prescribe } from '@ulkret/core/prescription';
import {
  defaultHalfLifeDays,
  everything,
  fitAcademy,
  fold,
  fullReading,
  gain,
  generalHazard,
  posterior,
  type Reading,
  type SquadReading,
  tallyWeeks,
} from '@ulkret/core/reading';
import type { Rep } from '@ulkret/core/rep';
import {
  drill,
  informedChoice,
  type KnownSquad,
  knownSquad,
  plainStrand,
  trueGains,
  judgedTarget,
} from '@ulkret/demo/judgement';
import { z } from 'zod';
import { Trouble } from './trouble';

const usage = `npm run -s bench:judgement -- [--seed N] [--reps R] [--squads Q] [--starts]
  --seed N     which squads are drawn (default 1)
  --reps R     reps a student; without it 10, 20, 40 and 80
  --squads Q   how many squads (default 400)
  --starts     also: half of the reps started where the product asks for them (three times as slow)`;

/** What the product must reach of a judge who knows the scales and the means of the checkpoints. */
const leastOfInformed = (reps: number): number => (reps < 20 ? 0.95 : reps < 40 ? 0.97 : 0.985);

const day = '2026-03-05';
const editions = new Map([[plainStrand.technique, new Map([[plainStrand.edition, plainStrand]])]]);
const mainSides = new Map();

const questionOf = (reps: readonly Rep[]) => ({
  breakdown: plainStrand,
  cells: fold(
    tallyWeeks(editions, reps, () => null),
    { asOf: day, halfLifeDays: defaultHalfLifeDays },
  ),
  slice: everything,
  mainSides,
  target: judgedTarget,
});

function fullOf(reps: readonly Rep[]) {
  const question = questionOf(reps);
  return fullReading(question, finished(fitAcademy(question.cells, mainSides)));
}

const largest = (list: readonly number[]): number => list.indexOf(Math.max(...list));
const placeOf = (checkpoint: string): number =>
  plainStrand.checkpoints.findIndex(({ id }) => id === checkpoint);

/** What the product says to a coach who asks it: the checkpoint of its prescription, or of what it would watch first. */
function choiceOf(reading: Reading): number {
  const prescription = prescribe(plainStrand, reading, { mainSide: 'right' });
  return prescription.kind === 'none' ? 0 : placeOf(prescription.checkpoint);
}

interface Counts {
  reached: number;
  failed: number;
}

/** A student's rates alone, with half a rep held and half a rep failed so that none is 0 of 0. */
const rateOf = ({ failed, reached }: Counts) => (failed + 0.5) / (reached + 1);

/** What the plain reading makes of counts: around a prior rate. All reps are of one day, so none has aged. */
function meanOf({ failed, reached }: Counts, prior: number): number {
  const { a, b } = posterior({ weightReached: reached, weightFailed: failed }, prior);
  return a / (a + b);
}

/** Half of the reps whole; of the other half each starts where the product asks for it, a quarter at a time. */
function watched(squad: KnownSquad, reps: number): Rep[] {
  const own = squad.students.map((_, i) => drill(squad, plainStrand, i, Math.ceil(reps / 2)));
  for (let left = Math.floor(reps / 2); left > 0;) {
    const part = Math.min(left, Math.max(1, Math.ceil(reps / 4)));
    const { students } = fullOf(own.flat());
    for (const reading of students) {
      const i = squad.students.indexOf(reading.student!);
      // The most uncertain of the promising checkpoints: where a rep changes the choice most.
      const worth = reading.checkpoints.map(
        ({ promise, rootGain }) => promise * (rootGain.high - rootGain.low),
      );
      own[i]!.push(...drill(squad, plainStrand, i, part, largest(worth)));
    }
    left -= part;
  }
  return own.flat();
}

const Scores = z.object({
  /** True gain of what would be corrected first, of the best there is: a student's share, summed over the squad. */
  of: z.record(z.string(), z.number()),
  students: z.number(),
  covered: z.number(),
  intervals: z.number(),
});
type Scores = z.infer<typeof Scores>;

const product = 'product';
const informed = 'a judge who knows scales and means';

/** Scores of every method on one squad. */
function scoresOf(seed: number, q: number, reps: number, starts: boolean): Scores {
  // Far apart, so that two seeds share no squad.
  const squad = knownSquad(((seed * 7919 + q) * 0.618_033_988_7) % 1);
  const question = questionOf(squad.students.flatMap((_, i) => drill(squad, plainStrand, i, reps)));
  const full = fullReading(question, finished(fitAcademy(question.cells, mainSides)));
  const spans = starts ? fullOf(watched(squad, reps)) : null;
  const scores: Scores = { of: {}, students: 0, covered: 0, intervals: 0 };
  squad.students.forEach((student, i) => {
    const gains = trueGains(squad, i);
    const best = Math.max(...gains);
    if (best <= 0) return;
    const of = (reading: SquadReading) => reading.students.find((one) => one.student === student)!;
    const own = of(full).checkpoints;
    const rates = own.map(rateOf);
    const pooled = own.map((one, at) => meanOf(one, meanOf(full.squad.checkpoints[at]!, generalHazard)));
    const chosen = {
      'notebook count': largest(own.map(({ failed }) => failed)),
      'plain rates': largest(rates.map((_, at) => gain(rates, at, judgedTarget))),
      'pooled rates': largest(pooled.map((_, at) => gain(pooled, at, judgedTarget))),
      [product]: choiceOf(of(full)),
      ...(spans && { 'product, choosing where reps start': choiceOf(of(spans)) }),
      [informed]: informedChoice(squad, own),
    };
    for (const [name, at] of Object.entries(chosen))
      scores.of[name] = (scores.of[name] ?? 0) + gains[at]! / best;
    scores.students += 1;
    of(full).checkpoints.forEach(({ hazard }, at) => {
      const truth = squad.hazards[i]![at]!;
      scores.intervals += 1;
      if (hazard.low <= truth && truth <= hazard.high) scores.covered += 1;
    });
  });
  return scores;
}

/** The product's score over the informed judge's, and its 95 % interval: a ratio of sums over squads (delta method). */
function ratioOf(squads: readonly Scores[]): { ratio: number; away: number } {
  const sum = (of: (one: Scores) => number) => squads.reduce((total, one) => total + of(one), 0);
  const below = sum(({ of }) => of[informed]!);
  const ratio = sum(({ of }) => of[product]!) / below;
  const off = sum(({ of }) => (of[product]! - ratio * of[informed]!) ** 2);
  return { ratio, away: (1.96 * Math.sqrt(off)) / below };
}

function tell(reps: number, seed: number, squads: readonly Scores[]): boolean {
  const sum = (of: (one: Scores) => number) => squads.reduce((total, one) => total + of(one), 0);
  const line = (name: string, value: string) => console.log(`  ${name.padEnd(36)} ${value}`);
  console.log(`${reps} reps a student, ${squads.length} squads, seed ${seed}`);
  const students = sum((one) => one.students);
  for (const name of Object.keys(squads[0]!.of))
    line(name, (sum(({ of }) => of[name] ?? 0) / students).toFixed(3));
  const { ratio, away } = ratioOf(squads);
  const least = leastOfInformed(reps);
  const holds = ratio >= least;
  line(
    'the product of that judge',
    `${ratio.toFixed(3)} ± ${away.toFixed(3)}, ${holds ? 'as wanted' : `under ${least}`}`,
  );
  line(
    '80 % intervals that hold the truth',
    `${((100 * sum(({ covered }) => covered)) / sum(({ intervals }) => intervals)).toFixed(1)} %`,
  );
  return holds;
}

/** Every n-th squad, in a process of its own: one for each core. */
async function shared(squads: number, options: string[]): Promise<Scores[]> {
  const parts = Math.min(availableParallelism(), squads);
  const each = await Promise.all(
    Array.from({ length: parts }, async (_, i) => {
      const args = ['scripts/run.mjs', 'judgement', ...options, '--squads', String(squads)];
      const { stdout } = await promisify(execFile)(
        process.execPath,
        [...args, '--part', String(i), '--parts', String(parts)],
        { maxBuffer: 64 * 2 ** 20 },
      );
      return z.array(Scores).parse(JSON.parse(stdout));
    }),
  );
  return each.flat();
}

/** `npm run bench:judgement`: is what the product would correct first worth correcting first? */
export async function run(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      seed: { type: 'string', default: '1' },
      reps: { type: 'string' },
      squads: { type: 'string', default: '400' },
      starts: { type: 'boolean', default: false },
      // How it calls itself.
      part: { type: 'string' },
      parts: { type: 'string', default: '1' },
    },
  });
  const { starts } = values;
  const [seed, squads, parts] = [Number(values.seed), Number(values.squads), Number(values.parts)];
  const sizes = values.reps === undefined ? [10, 20, 40, 80] : [Number(values.reps)];
  if (![seed, squads, parts, ...sizes].every((n) => Number.isInteger(n) && n > 0)) throw new Trouble(usage);
  if (values.part !== undefined) {
    const own = Array.from({ length: squads }, (_, q) => q).filter((q) => q % parts === Number(values.part));
    console.log(JSON.stringify(own.map((q) => scoresOf(seed, q, sizes[0]!, starts))));
    return;
  }
  let held = true;
  for (const reps of sizes) {
    const options = ['--seed', String(seed), '--reps', String(reps), ...(starts ? ['--starts'] : [])];
    held = tell(reps, seed, await shared(squads, options)) && held;
  }
  if (!held) process.exitCode = 1;
}
