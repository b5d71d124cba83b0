import { execFile } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { parseArgs, promisify } from 'node:util';
import type { Breakdown } from '@ulkret/core/breakdown';
import { neutralRules } from '@ulkret/core/care';
import { finished, type Scales } from '@ulkret/core/hazard';
import { logistic, logit, normalQuantile, tails } from '@ulkret/core/math';
import {
  bestHold,
  type DecisionContext,
  goesOn,
  type Lives,
  livesOf,
  type Prescription,
  prescribe,
  type Step,
  stoodOn,
  type Terms,
  termsOf,
} from '@ulkret/core/prescription';
import {
  defaultHalfLifeDays,
  everything,
  fitAcademy,
  fold,
  fullReading,
  type Reading,
  tallyWeeks,
  type WeekTally,
} from '@ulkret/core/reading';
import type { Rep, Rung } from '@ulkret/core/rep';
import { plainStrand } from '@ulkret/demo/judgement';
import {
  beliefs,
  bestDrill,
  drillClass,
  type Drilled,
  forget,
  season,
  seasonSquad,
  type SeasonSquad,
  type SeenRep,
  trueFinish,
} from '@ulkret/demo/season';
import { z } from 'zod';
import { Trouble } from './trouble';

const usage = `npm run -s bench:season -- [--seed N] [--seasons S] [--rate R] [--regime NAME]
  --seed N       which squads are drawn (default 1)
  --seasons S    how many seasons (default 60)
  --rate R       everybody learns R times as fast (default 1)
  --regime NAME  this one only
  --defences     the harder season: half of the stops are by defences, symptoms are late, caps bind`;

/** A way of choosing what each student drills in the next class; it sees what a coach saw, and nothing else. */
interface Regime {
  choose(student: number, lesson: number): Drilled | null;
  see?(reps: readonly SeenRep[], lesson: number): void;
}

const place = (checkpoint: string): number => Number(checkpoint.slice(1)) - 1;
const checkpointAt = (at: number): string => `c${at + 1}`;
const largest = (list: readonly number[]): number => list.indexOf(Math.max(...list));
const drillable = (rung: Rung): Drilled['rung'] => (rung === 0 ? 1 : rung === 4 ? 3 : rung);

/** Most counted stops of the last eight classes. */
function notebook(): Regime {
  const classes: (readonly SeenRep[])[] = [];
  return {
    choose(student) {
      const stops = Array<number>(season.checkpoints).fill(0);
      const blocked = Array<number>(season.checkpoints).fill(0);
      for (const reps of classes.slice(-8))
        for (const { student: who, stop, tag } of reps) {
          if (who !== student || stop === null) continue;
          stops[stop]! += 1;
          if (tag !== null) blocked[stop]! += tag === 'defence' ? 1 : -1;
        }
      const checkpoint = largest(stops);
      return { checkpoint, rung: 2, answer: blocked[checkpoint]! > 0 };
    },
    see: (reps) => classes.push(reps),
  };
}

/** The worst first by what a coach believes, two weeks each. */
function belief(squad: SeasonSquad): Regime {
  const orders = beliefs(squad).map((list) => list.map((_, at) => at).sort((a, b) => list[b]! - list[a]!));
  return {
    choose: (student, lesson) => ({
      checkpoint: orders[student]![Math.floor(lesson / (2 * season.classesAWeek)) % season.checkpoints]!,
      rung: 2,
    }),
  };
}

/** Decayed Beta rates, root shares from the squad's tags, the rung at which it holds nearest to the best. */
function plain({ roots }: SeasonSquad): Regime {
  const kept = 0.85;
  const counts = () =>
    Array.from({ length: season.students }, () => Array<number>(season.checkpoints).fill(0));
  const [reached, failed] = [counts(), counts()];
  // As if five stops had been tagged at each checkpoint, of which one and a half at its root.
  const tagged = roots.map(() => 5);
  const rooted = roots.map(() => 1.5);
  /** Of the tags here, how many more are a defence's than a mistake's. */
  const blocked = roots.map(() => 0);
  return {
    choose(student) {
      const hazards = failed[student]!.map((f, at) => (f + 1) / (reached[student]![at]! + 6));
      const share = (at: number) => (at === 0 ? 0 : rooted[at]! / tagged[at]!);
      const worth = hazards.map((_, root) =>
        hazards.reduce((sum, hazard, at) => {
          const here = at === root ? 1 - share(at) : roots[at] === root ? share(at) : 0;
          return sum + (here * hazard) / (1 - hazard);
        }, 0),
      );
      const checkpoint = largest(worth);
      const off = ([1, 2, 3] as const).map((rung) =>
        Math.abs(1 - logistic(logit(hazards[checkpoint]!) + 0.5 * (rung - 2)) - bestHold),
      );
      const rung = ([1, 2, 3] as const)[off.indexOf(Math.min(...off))]!;
      return { checkpoint, rung, answer: blocked[checkpoint]! > 0 };
    },
    see(reps) {
      for (const list of [...reached, ...failed]) list.forEach((n, at) => (list[at] = n * kept));
      for (const { student, from, to, stop, tag } of reps) {
        for (let at = from; at <= (stop ?? to); at++) reached[student]![at]! += 1;
        if (stop === null) continue;
        failed[student]![stop]! += 1;
        if (tag !== null) blocked[stop]! += tag === 'defence' ? 1 : -1;
        if (tag === null || tag === 'defence' || stop === 0) continue;
        tagged[stop]! += 1;
        if (tag !== stop) rooted[stop]! += 1;
      }
    },
  };
}

/** The strand of a season: every checkpoint has one mistake of its own and, but for the first, one with its root at an earlier one. */
function strandOf({ roots, defences }: SeasonSquad): Breakdown {
  const mistake = (id: string, at: number, root: number): Breakdown['mistakes'][number] => ({
    id,
    at: checkpointAt(at),
    root: checkpointAt(root),
    title: id,
    seen: 'It is gone.',
    believes: '',
    breaks: 'It is gone.',
    cue: 'Keep it.',
    drills: [],
    priorShare: 1,
  });
  return {
    ...plainStrand,
    mistakes: roots.flatMap((root, at) => [
      mistake(`own-${at}`, at, at),
      ...(at > 0 ? [mistake(`root-${at}`, at, root)] : []),
    ]),
    defences: defences
      ? roots.map((_, at) => ({
          id: `defence-${at}`,
          opens: checkpointAt(at),
          closes: checkpointAt(at),
          underLoadOnly: false,
          type: 'counter',
          title: `Defence ${at + 1}`,
          signal: 'It begins.',
          leaves: { position: 'guard', ahead: 'neither' },
          answers: [{ id: `answer-${at}`, do: 'mend', at: checkpointAt(at), how: 'Answer it.', bait: false }],
          priorShare: 1,
        }))
      : [],
  };
}

const firstClass = Date.UTC(2026, 0, 5, 18);
const dayMs = 86_400_000;
/** Mondays and Wednesdays. */
const classAt = (lesson: number): string =>
  new Date(firstClass + (7 * Math.floor(lesson / 2) + 2 * (lesson % 2)) * dayMs).toISOString();

/** A rep as the Mat would have noted it: one that is drilled for a checkpoint is asked to start there. */
function repOf(breakdown: Breakdown, seen: SeenRep, at: string): Rep {
  const { student, from, to, rung, stop, tag, drilled } = seen;
  const cause =
    tag === null || stop === null
      ? null
      : tag === 'defence'
        ? `defence-${stop}`
        : tag === stop
          ? `own-${stop}`
          : `root-${stop}`;
  return {
    id: '00000000-0000-7000-8000-000000000000',
    session: null,
    at,
    technique: breakdown.technique,
    edition: breakdown.edition,
    student: `s${student}`,
    partner: null,
    side: 'right',
    rung,
    from: drilled ? checkpointAt(from) : null,
    to: to < season.checkpoints - 1 ? checkpointAt(to) : null,
    soft: [],
    cause,
    observer: 'coach',
    source: 'mat',
    note: '',
    ...(stop === null ? { outcome: 'finished' } : { outcome: 'stopped', stop: checkpointAt(stop) }),
  };
}

/** A season has no other side: what is signed off on this one is on both. */
const onBoth = (signedOff: Lives['signedOff']): Lives['signedOff'] =>
  new Map([...signedOff].map(([checkpoint, { right }]) => [checkpoint, { right, left: right }]));

/** A strangle of which a class may take somebody to the finish four times. */
const finishes: NonNullable<DecisionContext['load']> = {
  technique: {
    kind: 'submission',
    regions: ['neck'],
    loadSpeed: 'slow',
    loads: [{ region: 'neck', whom: 'partner', from: checkpointAt(season.checkpoints - 1), how: 'finish' }],
  },
  caps: { ...neutralRules.caps, neck: 4 },
};

/** The model's scales are searched again every few classes: they move slowly, and it is most of the work. */
const searchEvery = 6;

/** The engine as it ships: the reading, the prescription, the sign-off and the recheck, from what was seen only. */
function ulkret(squad: SeasonSquad): Regime {
  const breakdown = strandOf(squad);
  const editions = new Map([[breakdown.edition, breakdown]]);
  const tallies: WeekTally[] = [];
  const reps = squad.learners.map((): Rep[] => []);
  const steps = squad.learners.map((): Step[] => []);
  let readings: ReadonlyMap<string, Reading> = new Map();
  let scales: Scales | undefined;

  /** Agrees to what is proposed, as a coach who always does. */
  function accept(
    student: number,
    terms: Terms,
    stood: Extract<Step['does'], { is: 'accepted' }>['stood'],
    lesson: number,
  ) {
    steps[student]!.push({
      id: `00000000-0000-7000-8000-${String(lesson).padStart(12, '0')}`,
      session: null,
      at: classAt(lesson),
      observer: 'coach',
      student: `s${student}`,
      technique: breakdown.technique,
      edition: breakdown.edition,
      does: { is: 'accepted', terms, stood },
    });
  }
  const drilledFor = ({ checkpoint, rung, defence }: Terms): Drilled => ({
    checkpoint: place(checkpoint),
    rung: drillable(rung),
    answer: defence !== null,
  });
  /** What is asked for where nothing is prescribed: what to watch, or to go on with. */
  const besides = (now: Exclude<Prescription, { kind: 'correct' }>): Drilled | null => {
    const then = now.kind === 'watch' ? now : now.onwards;
    return then && { checkpoint: place(then.checkpoint), rung: drillable(then.rung) };
  };

  return {
    choose(student, lesson) {
      const reading = readings.get(`s${student}`);
      if (!reading) return null;
      const { current, signedOff, declined } = livesOf(
        editions,
        steps[student]!,
        reps[student]!,
        classAt(lesson),
      );
      const known = {
        mainSide: 'right',
        signedOff: onBoth(signedOff),
        declined: new Set(declined.keys()),
        inWork: current,
        ...(squad.defences && { load: finishes }),
      } as const;
      const now = prescribe(breakdown, reading, known);
      if (current && goesOn(current, now)) return drilledFor(current.terms);
      if (now.kind !== 'correct') return besides(now);
      const terms = termsOf(breakdown, now);
      accept(student, terms, stoodOn(now), lesson);
      return drilledFor(terms);
    },
    see(seen, lesson) {
      // After the decision of that evening, so that they count for it.
      const at = new Date(Date.parse(classAt(lesson)) + 60_000).toISOString();
      const facts = seen.map((one) => repOf(breakdown, one, at));
      seen.forEach(({ student }, i) => reps[student]!.push(facts[i]!));
      tallies.push(...tallyWeeks(new Map([[breakdown.technique, editions]]), facts, () => null));
      const cells = fold(tallies, { asOf: at, halfLifeDays: defaultHalfLifeDays });
      const mainSides = new Map();
      const options = scales ? (lesson % searchEvery === 0 ? { start: scales } : { at: scales }) : {};
      const posterior = finished(fitAcademy(cells, mainSides, options));
      ({ scales } = posterior.mode);
      const reading = fullReading({ breakdown, cells, slice: everything, mainSides }, posterior);
      readings = new Map(reading.students.map((one) => [one.student!, one]));
    },
  };
}

const regimes: Readonly<Record<string, (squad: SeasonSquad) => Regime>> = {
  none: () => ({ choose: () => null }),
  notebook,
  belief,
  plain,
  ulkret,
  oracle: (squad) => ({ choose: (student) => bestDrill(squad.learners[student]!, squad) }),
};

/** Plays one season; gives the finish rate at its end, true, a student's on average. */
function play(
  seed: number,
  rate: number,
  defences: boolean,
  regimeOf: (squad: SeasonSquad) => Regime,
): number {
  const squad = seasonSquad(seed, rate, defences);
  const regime = regimeOf(squad);
  for (let week = 0; week < season.weeks; week++) {
    const drilled = new Set<string>();
    for (let k = 0; k < season.classesAWeek; k++) {
      const lesson = week * season.classesAWeek + k;
      const chosen = squad.learners.map((_, student) => regime.choose(student, lesson));
      chosen.forEach(
        (one, student) => one && drilled.add(`${student} ${one.checkpoint} ${one.answer ?? false}`),
      );
      const seen = drillClass(squad, (student) => chosen[student]!);
      regime.see?.(seen, lesson);
    }
    forget(squad, (student, checkpoint, answer) => drilled.has(`${student} ${checkpoint} ${answer}`));
  }
  const rates = squad.learners.map((learner) => trueFinish(learner, squad));
  return rates.reduce((sum, x) => sum + x, 0) / rates.length;
}

const Played = z.record(z.string(), z.array(z.number()));
type Played = z.infer<typeof Played>;

/** Every n-th season, in a process of its own: one for each core. */
async function shared(seasons: number, options: string[]): Promise<Played> {
  const parts = Math.min(availableParallelism(), seasons);
  const each = await Promise.all(
    Array.from({ length: parts }, async (_, i) => {
      const args = ['scripts/run.mjs', 'season', ...options, '--seasons', String(seasons)];
      const { stdout } = await promisify(execFile)(process.execPath, [
        ...args,
        '--part',
        String(i),
        '--parts',
        String(parts),
      ]);
      return Played.parse(JSON.parse(stdout));
    }),
  );
  return Object.fromEntries(Object.keys(each[0]!).map((name) => [name, each.flatMap((one) => one[name]!)]));
}

const mean = (list: readonly number[]): number => list.reduce((sum, x) => sum + x, 0) / list.length;

/** The mean over seasons with its 80 % interval. */
function interval(list: readonly number[]): { mean: number; low: number; high: number } {
  const middle = mean(list);
  const variance = list.reduce((sum, x) => sum + (x - middle) ** 2, 0) / Math.max(1, list.length - 1);
  const away = normalQuantile(tails.high) * Math.sqrt(variance / list.length);
  return { mean: middle, low: middle - away, high: middle + away };
}

/** `npm run bench:season`: does following the engine for twelve weeks make a squad better than following anything else? */
export async function run(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      seed: { type: 'string', default: '1' },
      seasons: { type: 'string', default: '60' },
      rate: { type: 'string', default: '1' },
      regime: { type: 'string' },
      defences: { type: 'boolean', default: false },
      // How it calls itself.
      part: { type: 'string' },
      parts: { type: 'string', default: '1' },
    },
  });
  const [seed, seasons, rate, parts] = [values.seed, values.seasons, values.rate, values.parts].map(
    Number,
  ) as [number, number, number, number];
  const { regime, defences } = values;
  if (![seed, seasons, parts].every((n) => Number.isInteger(n) && n > 0) || !(rate > 0))
    throw new Trouble(usage);
  if (regime !== undefined && !Object.hasOwn(regimes, regime)) throw new Trouble(usage);
  const names = Object.keys(regimes).filter((name) => regime === undefined || name === regime);
  if (values.part !== undefined) {
    const own = Array.from({ length: seasons }, (_, i) => i).filter((i) => i % parts === Number(values.part));
    // Far apart, so that two seeds share no squad.
    const drawn = own.map((i) => ((seed * 7919 + i) * 0.618_033_988_7) % 1);
    const played = names.map((name) => [name, drawn.map((one) => play(one, rate, defences, regimes[name]!))]);
    console.log(JSON.stringify(Object.fromEntries(played)));
    return;
  }
  const options = [
    '--seed',
    String(seed),
    '--rate',
    String(rate),
    ...(regime ? ['--regime', regime] : []),
    ...(defences ? ['--defences'] : []),
  ];
  const played = await shared(seasons, options);
  const told = Object.fromEntries(names.map((name) => [name, interval(played[name]!)]));
  for (const name of names) {
    const { mean: middle, low, high } = told[name]!;
    console.log(`${name} ${middle.toFixed(4)} ${low.toFixed(4)} ${high.toFixed(4)}`);
  }
  if (regime !== undefined) return;
  const scoreOf = (name: string) =>
    (told[name]!.mean - told['none']!.mean) / (told['oracle']!.mean - told['none']!.mean);
  console.log(`score ${scoreOf('ulkret').toFixed(3)}`);
}
