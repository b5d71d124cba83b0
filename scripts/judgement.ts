import { parseArgs } from 'node:util';
import { finished } from '@ulkret/core/hazard';
import { prescribe } from '@ulkret/core/prescription';
import {
  defaultHalfLifeDays,
  everything,
  fitAcademy,
  fold,
  fullReading,
  gain,
  plainReading,
  type Reading,
  smallSquadTarget,
  tallyWeeks,
} from '@ulkret/core/reading';
import type { Rep } from '@ulkret/core/rep';
import { drill, type KnownSquad, knownSquad, plainStrand, trueGains } from '@ulkret/demo/judgement';
import { Trouble } from './trouble';

const usage = `npm run -s bench:judgement -- [--seed N] [--reps R] [--squads Q]
  --seed N     which squads are drawn (default 1)
  --reps R     reps a student; without it 10, 20, 40 and 80
  --squads Q   how many squads (default 200)`;

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
  target: smallSquadTarget,
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

/** A student's rates alone, with half a rep held and half a rep failed so that none is 0 of 0. */
const rateOf = ({ failed, reached }: { failed: number; reached: number }) => (failed + 0.5) / (reached + 1);

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

const methods = [
  'notebook count',
  'plain rates',
  'pooled rates',
  'product',
  'product, choosing where reps start',
] as const;

/** Scores of the methods over many squads: true gain of what each would correct first, of the best there is. */
function scores(seed: number, squads: number, reps: number) {
  const total = Object.fromEntries(methods.map((name) => [name, 0])) as Record<
    (typeof methods)[number],
    number
  >;
  let [students, covered, intervals] = [0, 0, 0];
  for (let q = 0; q < squads; q++) {
    // Far apart, so that two seeds share no squad.
    const squad = knownSquad(((seed * 7919 + q) * 0.618_033_988_7) % 1);
    const question = questionOf(squad.students.flatMap((_, i) => drill(squad, plainStrand, i, reps)));
    const plain = plainReading(question);
    const full = fullReading(question, finished(fitAcademy(question.cells, mainSides)));
    const spans = fullOf(watched(squad, reps));
    squad.students.forEach((student, i) => {
      const of = ({ students: list }: typeof plain) => list.find((one) => one.student === student)!;
      const gains = trueGains(squad, i);
      const best = Math.max(...gains);
      if (best <= 0) return;
      const own = of(plain).checkpoints;
      const rates = own.map(rateOf);
      const pooled = own.map(({ hazard }) => hazard.value);
      const chosen: Record<(typeof methods)[number], number> = {
        'notebook count': largest(own.map(({ failed }) => failed)),
        'plain rates': largest(rates.map((_, at) => gain(rates, at, smallSquadTarget))),
        'pooled rates': largest(pooled.map((_, at) => gain(pooled, at, smallSquadTarget))),
        product: choiceOf(of(full)),
        'product, choosing where reps start': choiceOf(of(spans)),
      };
      for (const name of methods) total[name] += gains[chosen[name]]! / best;
      students += 1;
      of(full).checkpoints.forEach(({ hazard }, at) => {
        const truth = squad.hazards[i]![at]!;
        intervals += 1;
        if (hazard.low <= truth && truth <= hazard.high) covered += 1;
      });
    });
  }
  return {
    reps,
    squads,
    seed,
    coverage: covered / intervals,
    score: Object.fromEntries(methods.map((name) => [name, total[name] / students])),
  };
}

/** `npm run bench:judgement`: is what the product would correct first worth correcting first? */
export async function run(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      seed: { type: 'string', default: '1' },
      reps: { type: 'string' },
      squads: { type: 'string', default: '200' },
    },
  });
  const [seed, squads] = [Number(values.seed), Number(values.squads)];
  const sizes = values.reps === undefined ? [10, 20, 40, 80] : [Number(values.reps)];
  if (![seed, squads, ...sizes].every((n) => Number.isInteger(n) && n > 0)) throw new Trouble(usage);
  for (const reps of sizes) {
    const { score, coverage } = scores(seed, squads, reps);
    console.log(`${reps} reps a student, ${squads} squads, seed ${seed}`);
    for (const [name, value] of Object.entries(score))
      console.log(`  ${name.padEnd(36)} ${value.toFixed(3)}`);
    console.log(`  ${'80 % intervals that hold the truth'.padEnd(36)} ${(100 * coverage).toFixed(1)} %`);
  }
}
