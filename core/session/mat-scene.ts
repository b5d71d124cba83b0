import { type Breakdown, type Id, numberOf, readFor, type Technique } from '../breakdown';
import type { Rep, Rung } from '../rep';
import { clockAt, type Rounds } from './clock';
import type { MatState } from './mat-state';
import { type Common, goneOn, type PairView } from './pair-view';
import type { Session } from './session';
import type { OpenPair } from './tapping';
import { type Pair, pairKey, type Turn } from './turn';

/** The class as this device knows it at the moment of an action. */
export interface Scene {
  session: Pick<Session, 'id' | 'repsPerSide'> & Rounds;
  /** The day on which the class began (ISO date), where the academy is. */
  startedOn: string;
  common: Common;
  views: readonly PairView[];
  /** The last reps of the class, and those of one student. */
  reps: { last: readonly Rep[]; of(student: Id): readonly Rep[] };
  coach: Id;
  device: string;
  nameOf(id: Id): string;
  /** Milliseconds since the epoch, by the server's clock. */
  now: number;
  /** A new id, and an instant after all that this device has entered. */
  made(): { id: string; at: string };
}

/** The open pair as it drills: the technique of the class, or what it has gone on to. */
export interface OpenScene {
  view: PairView;
  pair: OpenPair;
  technique: Technique;
  breakdown: Breakdown;
  /** Has it gone on to another technique? */
  gone: boolean;
  rung: Rung;
}

/** The open pair; null where none is open, or it is no pair any more. */
export function openScene(
  state: Pick<MatState, 'open'>,
  { common, views }: Pick<Scene, 'common' | 'views'>,
): OpenScene | null {
  const key = state.open && pairKey(state.open);
  const own = views.find((view) => view.key === key);
  if (!own) return null;
  const { carried, members } = own;
  const there = carried && common.library.get(carried.technique);
  const view = there ? goneOn(common, members, own, carried, there) : own;
  const { breakdown, technique } = there ?? common;
  const task = own.own.task;
  return {
    view,
    technique,
    breakdown,
    gone: Boolean(there),
    rung: own.own.rung,
    pair: {
      breakdown,
      members,
      turn: view.turn,
      span: view.span,
      ways: view.ways.map(({ variant }) => variant.id),
      task: there || !task || task.called ? [] : task.task,
      entry: there ? null : (own.own.entry ?? null),
      ...(there && carried && { follows: carried.follows }),
    },
  };
}

/** What a rep was, in a few words: “stopped at 4”, “finished”. */
export function repWords({ common }: Pick<Scene, 'common'>, rep: Rep): string {
  if (rep.outcome === 'left') return 'switched';
  const breakdown =
    rep.technique === common.breakdown.technique
      ? common.breakdown
      : common.library.get(rep.technique)?.breakdown;
  const finish = breakdown?.finishes?.find(({ id }) => id === rep.finish);
  if (rep.outcome !== 'stopped')
    return finish ? `${rep.outcome}: ${readFor(finish.title, rep.side)}` : rep.outcome;
  return `stopped at ${breakdown ? numberOf(breakdown, rep.stop) : rep.stop}`;
}

/** “Ada attacks Ben, right side” */
export const turnWords = (
  nameOf: Scene['nameOf'],
  { student, partner, side }: Pick<Turn, 'student' | 'partner' | 'side'>,
): string => `${nameOf(student)} attacks${partner === null ? '' : ` ${nameOf(partner)}`}, ${side} side`;

/** The names of a pair: “Ada and Ben”. */
export const namesOf = (pair: Pair, nameOf: Scene['nameOf']): string => pair.map(nameOf).join(' and ');

/** Was it tapped on this device? A rep of before devices had names is its coach's. */
export const isOwn = (rep: Rep, { coach, device }: Pick<Scene, 'coach' | 'device'>): boolean =>
  rep.device === undefined ? rep.observer === coach : rep.device === device;

/** The pair that a rep belongs to; null where it is a pair no more. */
export const keyOf = (
  { student, partner }: Pick<Rep, 'student' | 'partner'>,
  { views }: Scene,
): string | null =>
  views.find(({ members }) => members.includes(student) && (partner === null || members.includes(partner)))
    ?.key ?? null;

/** The clock's part in whose turn it is. */
export const turningOf = (
  { repsPerSide, ...rounds }: Scene['session'],
  clock: Common['now']['clock'],
  now: number,
): Common['turning'] => {
  if (repsPerSide !== null) return { repsPerSide };
  const { round, half } = clockAt(clock, now, rounds);
  return { repsPerSide, round, half };
};
