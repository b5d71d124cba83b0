import { z } from 'zod';
import { answersOf, type Breakdown, Id } from '../breakdown';
import { Estimate, wilson } from '../math';
import { followersOf, isJudged, observing, placesIn, type Rep, sequenceFrom } from '../rep';
import { Behind, Better, betterOf, byStudent, latest, push, rate, wellIn } from './behind';
import { measuredIn, MeasuredReading } from './measured';
import type { EditionsByNumber } from './tally';

/** What people chose, and what came of it: the ways of a checkpoint, the answers to a defence, what a rep went on to. */

const n = z.int().min(0);

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

/** Reps that began by one entry (null: from the start position), and how often these finished. */
export const EntryReading = z.object({
  entry: Id.nullable(),
  begun: n,
  finished: n,
  finishes: Estimate,
  behind: Behind,
});
export type EntryReading = z.infer<typeof EntryReading>;

export const ChoicesReading = z.object({
  technique: Id,
  edition: z.int().positive(),
  ways: z.array(WaysReading),
  answers: z.array(AnswersReading),
  sequence: SequenceReading,
  /** By which entry reps began; empty where no rep says. */
  entries: z.array(EntryReading),
  /** Which finish ended them; empty where no rep says. */
  finishes: z.array(z.object({ finish: Id, ended: n, behind: Behind })),
  measured: z.array(MeasuredReading),
});
export type ChoicesReading = z.infer<typeof ChoicesReading>;

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
      const became = rep.met?.some((one) => one.became === id);
      if (!said && !stopped && !became) continue;
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

function entriesOf(technique: Id, reps: readonly Rep[]): EntryReading[] {
  const by = new Map<Id | null, Behind>();
  for (const rep of reps)
    if (rep.technique === technique && rep.to === null && isJudged(rep))
      // A rep that began in the middle, by no entry, began nowhere that is compared.
      if (rep.entry !== undefined || rep.from === null)
        push(by, rep.entry ?? null, { rep, well: isFinish(rep) });
  if (![...by.keys()].some((entry) => entry !== null)) return [];
  return [...by]
    .map(([entry, behind]) => {
      const [begun, finished] = [behind.length, wellIn(behind)];
      return { entry, begun, finished, finishes: rate(finished, begun), behind: latest(behind) };
    })
    .sort((a, b) => b.begun - a.begun);
}

function finishesOf(technique: Id, reps: readonly Rep[]): ChoicesReading['finishes'] {
  const by = new Map<Id, Behind>();
  for (const rep of reps)
    if (rep.technique === technique && rep.finish !== undefined) push(by, rep.finish, { rep, well: true });
  return [...by]
    .map(([finish, behind]) => ({ finish, ended: behind.length, behind: latest(behind) }))
    .sort((a, b) => b.ended - a.ended);
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
    entries: entriesOf(breakdown.technique, own),
    finishes: finishesOf(breakdown.technique, own),
    measured: measuredIn(breakdown, editions, own),
  };
}
