import { z } from 'zod';
import { type Breakdown, Id } from '../breakdown';
import { isJudged, observe, observingRoot, type Observation, type Rep, showsAt } from '../rep';
import { Practice } from './practice';
import { type Weekday, weekNumber, weekOf } from './week';
import { Counts, WeekTally } from './week-tally';

/** Every published edition of one technique, by its number. */
export type EditionsByNumber = ReadonlyMap<number, Breakdown>;

const weighed = z.number().min(0);
/** Weighed reps after which as many doses were drilled: what was seen then is not what one would see now. */
const Part = z.object({ doses: z.number(), weightReached: weighed, weightFailed: weighed });
/** Counts of a checkpoint, and the same with each rep weighed by its age; in parts, by what was drilled since. */
export const Tally = Counts.extend({ weightReached: weighed, weightFailed: weighed, parts: z.array(Part) });
export type Tally = z.infer<typeof Tally>;

/** The weeks of one student on one technique under like conditions, folded into one by their age. */
export const Cell = WeekTally.omit({ week: true }).extend({ checkpoints: z.record(Id, Tally) });
export type Cell = z.infer<typeof Cell>;

/** ln(partner mass / student mass) in tenths, rounded; 0 where a mass is not known. */
export const massBandOf = (studentKg: number | null, partnerKg: number | null): number =>
  studentKg && partnerKg ? Math.round(10 * Math.log(partnerKg / studentKg)) + 0 : 0;

/** What each rep says about each checkpoint, judged by the edition it was logged against. Reps of unknown editions are left out. */
export function* observations(
  editions: EditionsByNumber,
  reps: Iterable<Rep>,
): Generator<{ rep: Rep; checkpoint: Id; observation: Observation }> {
  for (const rep of reps) {
    const edition = editions.get(rep.edition);
    if (!edition) continue;
    for (const [checkpoint, observation] of observe(edition, rep)) yield { rep, checkpoint, observation };
  }
}

/**
 * Tallies standing reps by week, each from the weekday that `begins` it. The answer does not depend on their order, so tallies
 * can be made again at any time; `massOf` tells a person's mass in kilograms, or null.
 */
export function tallyWeeks(
  editions: ReadonlyMap<Id, EditionsByNumber>,
  reps: Iterable<Rep>,
  massOf: (person: Id) => number | null,
  begins?: Weekday,
): WeekTally[] {
  const tallies = new Map<string, WeekTally>();
  for (const rep of reps) {
    const edition = editions.get(rep.technique)?.get(rep.edition);
    if (!edition) continue;
    const { technique, student, rung, side } = rep;
    const week = weekOf(rep.at, begins);
    const massBand = massBandOf(massOf(student), rep.partner === null ? null : massOf(rep.partner));
    const key = `${technique} ${week} ${student} ${rung} ${side} ${massBand}`;
    let tally = tallies.get(key);
    if (!tally)
      tallies.set(
        key,
        (tally = {
          technique,
          week,
          student,
          rung,
          side,
          massBand,
          reps: 0,
          judged: 0,
          finished: 0,
          checkpoints: {},
        }),
      );
    tally.reps += 1;
    if (rep.from === null && rep.to === null && isJudged(rep)) {
      tally.judged += 1;
      if (rep.outcome !== 'stopped') tally.finished += 1;
    }
    countRoots(tally, edition, rep);
    for (const [checkpoint, observation] of observe(edition, rep)) {
      if (observation === 'not seen') continue;
      const counts = countsAt(tally, checkpoint);
      counts.reached += 1;
      if (checkpoint === rep.from) counts.begun += 1;
      if (observation !== 'failed') continue;
      counts.failed += 1;
      const cause = rep.cause ?? '';
      counts.causes[cause] = stopsBy(counts, cause) + 1;
    }
  }
  return [...tallies.values()];
}

const countsAt = ({ checkpoints }: WeekTally, checkpoint: Id): Counts =>
  heldAt(checkpoints, checkpoint, () => ({ reached: 0, failed: 0, begun: 0, causes: {} }));

/** Counts a rep at each checkpoint where what begins there can show later. */
function countRoots(tally: WeekTally, edition: Breakdown, rep: Rep): void {
  let asRoot: ReturnType<typeof observingRoot> | undefined;
  edition.checkpoints.forEach(({ id }, place) => {
    const shows = showsAt(edition, place);
    if (shows.length < 2) return;
    asRoot ??= observingRoot(edition, rep);
    const all = asRoot(place);
    const held = shows.filter((to) => asRoot!(place, to) === 'held');
    if (all === 'not seen' && held.length === 0) return;
    const root = (countsAt(tally, id).root ??= { failed: 0, open: 0, held: {} });
    if (all === 'failed' || all === 'open') root[all] += 1;
    else
      for (const to of held) {
        const at = edition.checkpoints[to]!.id;
        root.held[at] = (Object.hasOwn(root.held, at) ? root.held[at]! : 0) + 1;
      }
  });
}

/** What a record holds under an id, put there where it is not: an id may be a word that every object knows ("constructor"). */
function heldAt<T>(record: Record<Id, T>, id: Id, make: () => T): T {
  if (!Object.hasOwn(record, id)) record[id] = make();
  return record[id]!;
}

/** Stops by cause; '' holds the untagged ones. */
export const stopsBy = ({ causes }: Pick<Counts, 'causes'>, cause: string): number =>
  Object.hasOwn(causes, cause) ? causes[cause]! : 0;

/** Which weeks are folded, and how fast a rep loses weight. */
export interface Folding {
  /** An instant or a day; its whole week counts, later ones do not. */
  asOf: string;
  /** The day on which the first week that counts began; from the beginning where it is left out. */
  since?: string | undefined;
  /** The weekday on which the weeks begin; Monday where it is left out. */
  weekBegins?: Weekday | undefined;
  /** Days after which a rep counts half; Infinity lets all count alike. */
  halfLifeDays: number;
}

export const emptyTally = (): Tally => ({
  reached: 0,
  failed: 0,
  begun: 0,
  weightReached: 0,
  weightFailed: 0,
  causes: {},
  parts: [],
});

/** Adds one tally to another, in place. */
export function addTally(total: Tally, other: Counts, weightReached: number, weightFailed: number): void {
  total.reached += other.reached;
  total.failed += other.failed;
  total.begun += other.begun;
  total.weightReached += weightReached;
  total.weightFailed += weightFailed;
  for (const [cause, stops] of Object.entries(other.causes))
    total.causes[cause] = stopsBy(total, cause) + stops;
  if (!other.root) return;
  total.root ??= { failed: 0, open: 0, held: {} };
  total.root.failed += other.root.failed;
  total.root.open += other.root.open;
  for (const [at, held] of Object.entries(other.root.held))
    total.root.held[at] = (Object.hasOwn(total.root.held, at) ? total.root.held[at]! : 0) + held;
}

/** Weight of a rep: 2^(−age / half-life), its age in whole weeks before that of `asOf`. */
export const weightOf = (week: string, { asOf, halfLifeDays, weekBegins }: Folding): number =>
  2 ** (-(7 * Math.max(0, weekNumber(asOf, weekBegins) - weekNumber(week, weekBegins))) / halfLifeDays);

/** Doses to the nearest quarter: weeks between which nearly as much was drilled are one part. */
const inSteps = (doses: number): number => Math.round(doses * 4) / 4 + 0;

/** Folds weeks into cells: counts as they are, and weighed by their age. Sorted, so that equal tallies give equal cells. */
export function fold(tallies: Iterable<WeekTally>, folding: Folding): Cell[] {
  const { weekBegins } = folding;
  const number = (week: string) => weekNumber(week, weekBegins);
  const until = weekOf(folding.asOf, weekBegins);
  const cells = new Map<string, Cell>();
  // In order, because sums of weights differ in their last digit with the order in which they are made.
  const inOrder = [...tallies]
    .filter(({ week }) => week <= until && (folding.since === undefined || week >= folding.since))
    .sort((a, b) => (a.week < b.week ? -1 : a.week > b.week ? 1 : 0));
  const practice = new Practice(inOrder, number, 2 ** (-7 / folding.halfLifeDays));
  const now = number(until);
  for (const { week, ...tally } of inOrder) {
    const weight = weightOf(week, folding);
    const { technique, student, rung, side, massBand } = tally;
    const key = `${technique} ${student} ${rung} ${side} ${massBand}`;
    let cell = cells.get(key);
    if (!cell) cells.set(key, (cell = { ...tally, reps: 0, judged: 0, finished: 0, checkpoints: {} }));
    cell.reps += tally.reps;
    cell.judged += tally.judged;
    cell.finished += tally.finished;
    for (const [checkpoint, counts] of Object.entries(tally.checkpoints)) {
      const total = heldAt(cell.checkpoints, checkpoint, emptyTally);
      const weightReached = weight * counts.reached;
      const weightFailed = weight * counts.failed;
      addTally(total, counts, weightReached, weightFailed);
      if (counts.reached === 0) continue;
      const doses = inSteps(practice.since(tally, checkpoint, number(week), now));
      const part = total.parts.find((one) => one.doses === doses);
      if (!part) total.parts.push({ doses, weightReached, weightFailed });
      else {
        part.weightReached += weightReached;
        part.weightFailed += weightFailed;
      }
    }
  }
  return [...cells].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, cell]) => cell);
}
