import type { Id } from '../breakdown';
import { byTime } from '../rep';
import { stoppedClock } from './clock';
import type { Pair, SetTurn } from './turn';
import type { ChangeOf, Prescribed, SessionChange, RoundClock, Session, WorksOn } from './session';

/** What a partner plays: each of these defences, or one of them at random a rep. */
export type SetTask = Pick<ChangeOf<'task'>, 'task' | 'called'>;

/** A session as its changes leave it. */
export interface SessionNow {
  pairs: readonly Pair[];
  /** By the pair's members in any order; a pair that is not named drills what the session does. */
  spans: ReadonlyMap<string, { from: Id | null; to: Id | null }>;
  /** Turns that somebody has set by hand, by the pair's members in any order. */
  turns: ReadonlyMap<string, SetTurn>;
  /** The ways that were chosen for a pair by hand, and what its partner plays. */
  ways: ReadonlyMap<string, readonly Id[]>;
  tasks: ReadonlyMap<string, SetTask>;
  /** The rep after which a pair was last brought back to the technique of the class. */
  back: ReadonlyMap<string, string>;
  /** What everybody works on, with what was decided since the session was set up. */
  prescribed: readonly Prescribed[];
  clock: RoundClock;
  endedAt: string | null;
}

/** A pair whatever the order of its members. */
export const pairKey = (pair: Pair): string => [...pair].sort().join(' ');

/** The session after its changes, in whichever order they came. */
export function sessionNow(session: Session, changes: readonly SessionChange[]): SessionNow {
  let { pairs, endedAt }: { pairs: readonly Pair[]; endedAt: string | null } = session;
  let clock = stoppedClock;
  const spans = new Map<string, { from: Id | null; to: Id | null }>();
  const turns = new Map<string, SetTurn>();
  const ways = new Map<string, readonly Id[]>();
  const tasks = new Map<string, SetTask>();
  const back = new Map<string, string>();
  const works = new Map<Id, WorksOn | null>();
  for (const { at, set } of [...changes].sort(byTime)) {
    if (set.is === 'pairs') ({ pairs } = set);
    else if (set.is === 'span') spans.set(pairKey(set.pair), { from: set.from, to: set.to });
    else if (set.is === 'turn') turns.set(pairKey(set.pair), { at, ...set });
    else if (set.is === 'ways') ways.set(pairKey(set.pair), set.ways);
    else if (set.is === 'task') tasks.set(pairKey(set.pair), { task: set.task, called: set.called });
    else if (set.is === 'back') back.set(pairKey(set.pair), set.rep);
    else if (set.is === 'works') works.set(set.about, set.on);
    else if (set.is === 'clock') ({ clock } = set);
    else if (set.is !== 'words') endedAt = set.is === 'end' ? at : null;
  }
  // The same list while nobody has decided anything else.
  const prescribed =
    works.size === 0
      ? session.prescribed
      : [
          ...session.prescribed.filter(({ student }) => !works.has(student)),
          ...[...works].flatMap(([student, on]) => (on ? [{ ...on, student }] : [])),
        ];
  return { pairs, spans, turns, ways, tasks, back, prescribed, clock, endedAt };
}
