import { z } from 'zod';
import { answersOf, type Breakdown, Id } from '../breakdown';
import { type Beta, betaEstimate, Estimate, wilson } from '../math';
import { byTime, followersOf, isJudged, observing, placesIn, Rep, sequenceFrom } from '../rep';
import type { EditionsByNumber } from './tally';
import { type Trial, versus } from './versus';

/** What people chose, and what came of it: the ways of a checkpoint, the answers to a defence, what a rep went on to. */

const n = z.int().min(0);

/** The latest reps that a number is made of, and whether each went well. */
const Behind = z.array(z.object({ rep: Rep, well: z.boolean() }));
type Behind = z.infer<typeof Behind>;

/** One way of a checkpoint, as it was used. */
export const WayReading = z.object({
  /** A variant of the checkpoint; null where it was met as it is written, or nobody said how. */
  way: Id.nullable(),
  reached: n,
  failed: n,
  students: n,
  held: Estimate,
  behind: Behind,
});
export type WayReading = z.infer<typeof WayReading>;

/** Of the two that look best, how sure it is that `first` does better than `second`: at least an even chance. */
export const Better = z.object({ first: Id, second: Id, chance: z.number().min(0.5).max(1) });
export type Better = z.infer<typeof Better>;

export const WaysReading = z.object({
  checkpoint: Id,
  /** The ways that were used, the one that holds best first. */
  ways: z.array(WayReading),
  /** Null where fewer than two were reached often enough to say. */
  better: Better.nullable(),
});
export type WaysReading = z.infer<typeof WaysReading>;

/** One answer to a defence: how often it was tried, and how often it worked. */
export const AnswerReading = z.object({
  /** Null where nobody said which one was tried. */
  answer: Id.nullable(),
  tried: n,
  worked: n,
  works: Estimate,
  /** The same, student by student, those who tried it most first. */
  students: z.array(z.object({ student: Id, tried: n, worked: n, works: Estimate })),
  behind: Behind,
});
export type AnswerReading = z.infer<typeof AnswerReading>;

export const AnswersReading = z.object({
  defence: Id,
  /** Reps that met it, whether somebody said so or it is the cause of their stop. */
  met: n,
  /** The reps that it ended. */
  ended: n,
  /** Reps in which the partner had been told to play it. */
  asked: n,
  answers: z.array(AnswerReading),
  /** Null where fewer than two were tried often enough to say. */
  better: Better.nullable(),
});
export type AnswersReading = z.infer<typeof AnswersReading>;

/** How often a technique finishes on its own, and how often with follow-ups. */
export const SequenceReading = z.object({
  /** Whole reps that began here and whose end is known. */
  begun: n,
  byItself: n,
  /** Of those that went on, the ones whose end is not known: they count nowhere. */
  open: n,
  finished: n,
  /** Shares as counted, with Wilson’s interval; null where nothing began here. */
  alone: Estimate.nullable(),
  together: Estimate.nullable(),
  /** By the exit or answer by which it was left (null: nobody said), how often that was done and how often it finished. */
  doors: z.array(z.object({ by: Id.nullable(), to: Id, went: n, finished: n, behind: Behind })),
});
export type SequenceReading = z.infer<typeof SequenceReading>;

export const ChoicesReading = z.object({
  technique: Id,
  edition: z.int().positive(),
  ways: z.array(WaysReading),
  answers: z.array(AnswersReading),
  sequence: SequenceReading,
});
export type ChoicesReading = z.infer<typeof ChoicesReading>;

/** What a rate is thought to be before anybody has tried: two of four. */
const prior: Beta = { a: 2, b: 2 };
const rate = (well: number, all: number): Estimate =>
  betaEstimate({ a: prior.a + well, b: prior.b + all - well });

/** Reps on either way below which no comparison is told. */
export const reachedForBetter = 5;
const listed = 30;
/** Adds one to a list in a map. */
function push<K>(lists: Map<K, Behind>, key: K, one: Behind[number]): void {
  const list = lists.get(key);
  if (list) list.push(one);
  else lists.set(key, [one]);
}

const latest = (behind: Behind): Behind => [...behind].sort((a, b) => byTime(b.rep, a.rep)).slice(0, listed);

/** Reps and whether each went well, of each student. */
const byStudent = (behind: Behind) => {
  const counts = new Map<Id, { well: number; all: number }>();
  for (const { rep, well } of behind) {
    const one = counts.get(rep.student) ?? { well: 0, all: 0 };
    counts.set(rep.student, { well: one.well + Number(well), all: one.all + 1 });
  }
  return counts;
};

const trialsOf = (behind: Behind, of: 'a' | 'b'): Trial[] =>
  behind.map(({ rep: { student, rung, side }, well }) => ({
    student,
    of,
    rung,
    side,
    held: Number(well),
    n: 1,
  }));

/** An 80 % interval of a rate that is wider than this says too little to compare. */
const wideToTell = 0.5;

/** P(the first does better than the second); null if too little is known of either. */
export function chanceBetter(first: Behind, second: Behind): number | null {
  const { chance, a, b } = versus([...trialsOf(first, 'a'), ...trialsOf(second, 'b')]);
  return Math.max(a.high - a.low, b.high - b.low) > wideToTell ? null : chance;
}

const wellIn = (behind: Behind): number => behind.filter(({ well }) => well).length;

/** Compares the two that look best of those with enough reps. The likelier one is first, which need not be the one with more reps. */
function betterOf(lists: Iterable<readonly [Id | null, Behind]>): Better | null {
  const [one, other] = [...lists]
    .flatMap(([id, behind]) =>
      id === null || behind.length < reachedForBetter
        ? []
        : [{ id, behind, value: rate(wellIn(behind), behind.length).value }],
    )
    .sort((a, b) => b.value - a.value);
  const chance = one && other ? chanceBetter(one.behind, other.behind) : null;
  if (chance === null) return null;
  const [first, second] = chance < 0.5 ? [other!.id, one!.id] : [one!.id, other!.id];
  return { first, second, chance: Math.max(chance, 1 - chance) };
}

function waysOf(breakdown: Breakdown, editions: EditionsByNumber, reps: readonly Rep[]): WaysReading[] {
  const behind = new Map<Id, Map<Id | null, Behind>>();
  const varied = breakdown.checkpoints.filter(({ variants }) => variants.length > 0);
  for (const rep of reps) {
    const edition = editions.get(rep.edition);
    if (!edition) continue;
    const at = observing(edition, rep);
    for (const { id, variants } of varied) {
      const seen = at(placesIn(edition).get(id) ?? -1);
      if (seen === 'not seen') continue;
      const used = variants.filter((variant) => rep.ways?.includes(variant.id)).map((variant) => variant.id);
      const own = behind.get(id) ?? new Map<Id | null, Behind>();
      behind.set(id, own);
      for (const way of used.length > 0 ? used : [null]) push(own, way, { rep, well: seen !== 'failed' });
    }
  }
  return varied.flatMap(({ id: checkpoint }) => {
    const own = behind.get(checkpoint);
    if (!own || ![...own.keys()].some((way) => way !== null)) return [];
    const better = betterOf(own);
    const ways = [...own].map(([way, list]) => {
      const [reached, well] = [list.length, wellIn(list)];
      return {
        way,
        reached,
        failed: reached - well,
        students: byStudent(list).size,
        held: rate(well, reached),
        behind: latest(list),
      };
    });
    const isFirst = (way: Id | null): number => Number(better !== null && way === better.first);
    ways.sort((a, b) => isFirst(b.way) - isFirst(a.way) || b.held.value - a.held.value);
    return [{ checkpoint, ways, better }];
  });
}

function answersIn(breakdown: Breakdown, reps: readonly Rep[]): AnswersReading[] {
  return breakdown.defences.flatMap((defence) => {
    const { id } = defence;
    const tried = new Map<Id | null, Behind>();
    let [met, ended, asked] = [0, 0, 0];
    for (const rep of reps) {
      if (rep.task?.includes(id)) asked++;
      const said = rep.met?.find((one) => one.defence === id);
      const stopped = rep.cause === id;
      if (!said && !stopped) continue;
      met++;
      if (stopped) ended++;
      if (said) push(tried, said.answer, { rep, well: said.worked });
    }
    if (met + asked === 0) return [];
    const known = [...answersOf(defence).map((one): Id | null => one.id), null];
    return [
      {
        defence: id,
        met,
        ended,
        asked,
        better: betterOf(tried),
        answers: known.flatMap((answer) => {
          const behind = tried.get(answer);
          if (!behind) return [];
          const worked = wellIn(behind);
          return [
            {
              answer,
              tried: behind.length,
              worked,
              works: rate(worked, behind.length),
              students: [...byStudent(behind)]
                .map(([student, { well, all }]) => ({
                  student,
                  tried: all,
                  worked: well,
                  works: rate(well, all),
                }))
                .sort((a, b) => b.tried - a.tried || (a.student < b.student ? -1 : 1)),
              behind: latest(behind),
            },
          ];
        }),
      },
    ];
  });
}

const isFinish = ({ outcome }: Rep): boolean => outcome === 'finished' || outcome === 'forced';

function sequencesOf(technique: Id, all: readonly Rep[]): SequenceReading {
  const next = followersOf(all);
  const doors = new Map<string, { by: Id | null; to: Id; behind: Behind }>();
  let [begun, byItself, open, finished] = [0, 0, 0, 0];
  for (const rep of all) {
    if (rep.technique !== technique || rep.follows || rep.from !== null || rep.to !== null) continue;
    if (rep.outcome === 'not judged') continue;
    const chain = sequenceFrom(rep, next);
    const last = chain.at(-1)!;
    if (!isJudged(last)) {
      open++;
      continue;
    }
    begun++;
    if (isFinish(rep)) byItself++;
    const well = isFinish(last);
    if (well) finished++;
    const second = chain[1];
    if (!second) continue;
    const by = second.follows!.by ?? (rep.outcome === 'left' ? rep.by : null);
    const key = `${by} ${second.technique}`;
    const door = doors.get(key) ?? { by, to: second.technique, behind: [] };
    doors.set(key, door);
    door.behind.push({ rep: last, well });
  }
  return {
    begun,
    byItself,
    open,
    finished,
    alone: begun > 0 ? wilson(byItself, begun) : null,
    together: begun > 0 ? wilson(finished, begun) : null,
    doors: [...doors.values()]
      .map(({ behind, ...door }) => ({
        ...door,
        went: behind.length,
        finished: wellIn(behind),
        behind: latest(behind),
      }))
      .sort((a, b) => b.went - a.went),
  };
}

/**
 * What was chosen on a technique and what came of it. `reps` are its standing reps of a window, and those of any technique
 * that go on from them. The rate of a way or an answer is a Beta around two of four; how often a technique finishes is as counted.
 */
export function choicesOf(
  breakdown: Breakdown,
  editions: EditionsByNumber,
  reps: readonly Rep[],
): ChoicesReading {
  const own = reps.filter(({ technique }) => technique === breakdown.technique);
  return {
    technique: breakdown.technique,
    edition: breakdown.edition,
    ways: waysOf(breakdown, editions, own),
    answers: answersIn(breakdown, own),
    sequence: sequencesOf(breakdown.technique, reps),
  };
}
