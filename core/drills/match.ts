import { type Breakdown, defencesOpenAt, fundamentalsOf, type Id } from '../breakdown';
import type { Rung } from '../rep';
import { type Drill, DrillKind, endOf, type Need } from './drill';

/** What a correction is about, as a drill can be made for it. */
export interface Wanted {
  checkpoint: Id;
  mistake: Id | null;
  defence: Id | null;
  /** The ways of the checkpoint that the student's body calls for. */
  ways?: readonly Id[];
}

const same = (words: string): string => words.trim().toLowerCase();

/** The drill that a breakdown calls by its id or its title; undefined where the words are only words. */
export const drillCalled = (drills: readonly Drill[], words: string): Drill | undefined =>
  drills.find(({ id, title }) => id === words || same(title) === same(words));

/** How near a drill is to what is wanted: 3 made for its cause, or for the way that a body calls for, 2 for its checkpoint or the piece that it is, 1 for its kind, 0 for something else. */
export function nearness(drill: Drill, breakdown: Breakdown, wanted: Wanted): 0 | 1 | 2 | 3 {
  const { technique } = breakdown;
  const { kinds, answers, checkpoints, mistakes, defences, ways, pieces = [] } = drill.trains;
  const has = (list: typeof checkpoints, id: Id | null) =>
    list.some((one) => one.technique === technique && one.id === id);
  const mistake = breakdown.mistakes.find(({ id }) => id === wanted.mistake);
  if (wanted.mistake !== null && has(mistakes, wanted.mistake)) return 3;
  if (mistake?.drills.some((words) => drillCalled([drill], words))) return 3;
  if (wanted.defence !== null && has(defences, wanted.defence)) return 3;
  if (wanted.ways?.some((id) => has(ways, id))) return 3;
  const checkpoint = breakdown.checkpoints.find(({ id }) => id === wanted.checkpoint);
  const isMadeForIt =
    has(checkpoints, wanted.checkpoint) ||
    (checkpoint?.piece !== undefined && pieces.includes(checkpoint.piece));
  // Where the partner ends it, what is drilled is the answer, and not the point once more.
  if (wanted.defence !== null) return answers ? (isMadeForIt ? 2 : 1) : 0;
  if (isMadeForIt) return 2;
  return checkpoint && kinds.includes(checkpoint.kind) ? 1 : 0;
}

/** The last place (from 0) that the reps of a drill for the checkpoint at a place get to. */
export function lastOf(
  drill: Pick<Drill, 'ends' | 'kind'>,
  { checkpoints }: Pick<Breakdown, 'checkpoints'>,
  place: number,
): number {
  const ends = endOf(drill);
  const whole = checkpoints.length - 1;
  return ends === 'goes on' ? whole : Math.min(whole, ends === 'next' ? place + 1 : place);
}

/** Can a drill not be done for a checkpoint at a rung, by what it needs? */
export function contradicts(
  { needs = [] }: Pick<Drill, 'needs'>,
  breakdown: Breakdown,
  { checkpoint }: Pick<Wanted, 'checkpoint'>,
  rung: Rung,
): boolean {
  const kept = [...fundamentalsOf(breakdown, checkpoint), checkpoint];
  const grips = breakdown.checkpoints.filter(({ id, kind }) => kind === 'grip' && kept.includes(id)).length;
  const no: Readonly<Record<Need, boolean>> = {
    'free hands': grips > 0,
    'one arm': grips > 1,
    'still partner': rung > 1,
    'a defence': rung < 2 || defencesOpenAt(breakdown, checkpoint).length === 0,
    // Such reps would count for its sign-off.
    'failing on purpose': true,
  };
  return needs.some((need) => no[need]);
}

/** The plainer kinds first; where the partner ends it, those that are made of defences before all. */
const order = (kind: DrillKind, { defence }: Wanted): number =>
  defence !== null && kind === 'defence' ? -1 : DrillKind.options.indexOf(kind);

/** A drill with how near it is to what is wanted. */
export interface Near {
  drill: Drill;
  near: 1 | 2 | 3;
}

/** Many students want the same: a list of drills and an edition never change, so each answer is looked up once. */
const known = new WeakMap<readonly Drill[], WeakMap<Breakdown, Map<string, readonly Near[]>>>();

/** The drills for what is wanted at a rung, the nearest first; of equally near ones the plainer kind. */
export function drillsFor(
  drills: readonly Drill[],
  breakdown: Breakdown,
  wanted: Wanted,
  rung: Rung,
): readonly Near[] {
  const byBreakdown = known.get(drills) ?? new WeakMap<Breakdown, Map<string, readonly Near[]>>();
  known.set(drills, byBreakdown);
  const answers = byBreakdown.get(breakdown) ?? new Map<string, readonly Near[]>();
  byBreakdown.set(breakdown, answers);
  const key = `${wanted.checkpoint} ${wanted.mistake} ${wanted.defence} ${wanted.ways?.join()} ${rung}`;
  let answer = answers.get(key);
  if (!answer) answers.set(key, (answer = lookedUp(drills, breakdown, wanted, rung)));
  return answer;
}

const lookedUp = (
  drills: readonly Drill[],
  breakdown: Breakdown,
  wanted: Wanted,
  rung: Rung,
): readonly Near[] =>
  drills
    .filter(({ retired, rungs }) => !retired && rungs.low <= rung && rung <= rungs.high)
    .flatMap((drill): Near[] => {
      const near = contradicts(drill, breakdown, wanted, rung) ? 0 : nearness(drill, breakdown, wanted);
      return near === 0 ? [] : [{ drill, near }];
    })
    .sort(
      (a, b) =>
        b.near - a.near ||
        order(a.drill.kind, wanted) - order(b.drill.kind, wanted) ||
        (a.drill.id < b.drill.id ? -1 : 1),
    );
