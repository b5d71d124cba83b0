import type { Id } from '../breakdown';
import { byTime, type Rung } from '../rep';
import { stoppedClock } from './clock';
import { type Groups, regroup } from './groups';
import type { ChangeOf, Prescribed, SessionChange, RoundClock, Session, WorksOn } from './session';
import { type Pair, pairKey, type SetTurn, type Sides } from './turn';

/** What a partner plays: each of these defences, or one of them at random a rep. */
export type SetTask = Pick<ChangeOf<'task'>, 'task' | 'called'>;

/** What a coach set for one pair; what is not set there is as it is for everybody. */
export interface PairSettings {
  rung?: Rung;
  sides?: Sides;
  task?: SetTask | null;
  span?: { from: Id | null; to: Id | null };
  /** The turn that a coach has set. */
  turn?: SetTurn;
  /** The variants that a coach chose. */
  ways?: readonly Id[];
  /** The entry by which its reps begin. */
  entry?: Id | null;
  /** The rep after which the pair was last brought back to the technique of the class. */
  back?: string;
}

/** A session as its changes leave it. */
export interface SessionNow extends Groups {
  /** By the pair's members in any order, see `pairKey`. */
  settings: ReadonlyMap<string, PairSettings>;
  /** What holds for every pair without a setting of its own. */
  everybody: { rung: Rung; sides: Sides; task: SetTask | null };
  /** Reps that looked like one seen twice, and that a coach has looked at. */
  settled: ReadonlySet<string>;
  /** What everybody works on, with what was decided since the session was set up. */
  prescribed: readonly Prescribed[];
  clock: RoundClock;
  endedAt: string | null;
}

/** Everything that holds for one pair. */
export interface PairNow extends PairSettings {
  rung: Rung;
  sides: Sides;
  task: SetTask | null;
  span: { from: Id | null; to: Id | null };
}

const unset: PairSettings = {};

/** What holds for a pair: what a coach set for it, then what holds for everybody. */
export function pairNow(
  session: Pick<Session, 'from' | 'to'>,
  { settings, everybody }: Pick<SessionNow, 'settings' | 'everybody'>,
  pair: Pair,
): PairNow {
  const { from, to } = session;
  return { ...everybody, span: { from, to }, ...(settings.get(pairKey(pair)) ?? unset) };
}

/** The session after its changes, in whichever order they came. */
export function sessionNow(session: Session, changes: readonly SessionChange[]): SessionNow {
  let groups: Groups = { pairs: session.pairs, waiting: [] };
  let { endedAt } = session;
  let clock = stoppedClock;
  let everybody: SessionNow['everybody'] = { rung: session.rung, sides: 'both', task: null };
  const settings = new Map<string, PairSettings>();
  const settled = new Set<string>();
  const works = new Map<Id, WorksOn | null>();
  const put = (pair: Pair, own: PairSettings) =>
    settings.set(pairKey(pair), { ...settings.get(pairKey(pair)), ...own });
  /** For one pair, or for everybody: then no pair keeps a setting of its own. */
  const hold = (pair: Pair | null, own: Partial<SessionNow['everybody']>) => {
    if (pair) return put(pair, own as PairSettings);
    everybody = { ...everybody, ...own };
    for (const [key, before] of settings)
      settings.set(
        key,
        Object.fromEntries(Object.entries(before).filter(([field]) => !(field in own))) as PairSettings,
      );
  };
  for (const { at, set } of [...changes].sort(byTime))
    switch (set.is) {
      case 'pairs':
        groups = { pairs: set.pairs, waiting: [] };
        break;
      case 'rung':
        hold(set.pair, { rung: set.rung });
        break;
      case 'sides':
        hold(set.pair, { sides: set.sides });
        break;
      case 'task':
        hold(set.pair, { task: { task: set.task, called: set.called } });
        break;
      case 'span':
        put(set.pair, { span: { from: set.from, to: set.to } });
        break;
      case 'turn':
        put(set.pair, { turn: { at, ...set } });
        break;
      case 'ways':
        put(set.pair, { ways: set.ways });
        break;
      case 'entry':
        put(set.pair, { entry: set.entry });
        break;
      case 'back':
        put(set.pair, { back: set.rep });
        break;
      case 'settled':
        for (const rep of set.reps) settled.add(rep);
        break;
      case 'works':
        works.set(set.about, set.on);
        break;
      case 'clock':
        ({ clock } = set);
        break;
      case 'end':
        endedAt = at;
        break;
      case 'go on':
        endedAt = null;
        break;
      case 'words':
        break;
      default:
        groups = regroup(groups, set);
    }
  // The same list while nobody has decided anything else.
  const prescribed =
    works.size === 0
      ? session.prescribed
      : [
          ...session.prescribed.filter(({ student }) => !works.has(student)),
          ...[...works].flatMap(([student, on]) => (on ? [{ ...on, student }] : [])),
        ];
  return { ...groups, settings, everybody, settled, prescribed, clock, endedAt };
}
