import { type Door, placeOf, readFor, type Technique } from '../breakdown';
import { type CareNote } from '../care';
import type { Breakdown, Id } from '../breakdown';
import { byTime, type Rep, type Rung, stepWith } from '../rep';
import { carriedOf } from './carried';
import { clockAt, type Rounds, toggled } from './clock';
import { likelyOnce } from './doubles';
import { type GroupChange, rotated } from './groups';
import { type Common, goneOn, type PairView, testAfter } from './pair-view';
import {
  movedStep,
  doorsIn,
  nothingBegun,
  type Begun,
  type OpenPair,
  repOf,
  type Tap,
  tapped,
  type Tapping,
} from './tapping';
import type { Session, Setting } from './session';
import { type Pair, pairKey, partnerOf, sameTurn, type Turn, turnOf } from './turn';

/** What lies over the Mat. */
export type Over =
  | {
      is:
        'about' | 'earlier day' | 'everybody' | 'keys' | 'let' | 'pairs' | 'play' | 'reps' | 'twice' | 'work';
    }
  | { is: 'care'; note: CareNote }
  | { is: 'undo'; rep: Rep };

/** Something that was said: about one pair, with which it leaves the screen, or about the class. */
export interface Said {
  words: string;
  /** The key of the pair; null for the class. */
  about: string | null;
  /** It changes what the coach does next, so it takes the place of the advice for a moment if there is no other room. */
  loud: boolean;
  /** The how-manieth thing that was said: the same words twice are said twice. */
  nth: number;
}

/** What one device holds of a running class. All that decides whose rep it is stands in the facts of the class, not here. */
export interface MatState {
  /** The pair that is open, by its people. */
  open: Pair | null;
  /** What is begun on each pair and not logged yet, by the pair's key. */
  begun: ReadonlyMap<string, Begun>;
  over: Over | null;
  said: Said | null;
  /** The last ending that was tapped here, if a finger tapped it. */
  ended: { pair: string; at: number } | null;
  /** Undos of this device's reps by others that this coach has read. */
  read: ReadonlySet<string>;
  /** The coach has said that a class of an earlier day goes on. */
  goesOn: boolean;
}

export const matAtRest: MatState = {
  open: null,
  begun: new Map(),
  over: null,
  said: null,
  ended: null,
  read: new Set(),
  goesOn: false,
};

/** What can be done on the Mat, from wherever it comes. */
export type MatAction =
  | { do: 'open'; pair: Pair }
  /** So many pairs on in walking order. */
  | { do: 'walk'; by: 1 | -1 }
  /** `finger`: it came from a pointer, of which a second one at once is a slip. */
  | { do: 'tap'; tap: Tap; finger?: boolean }
  /** A tap on what the attacker works on. */
  | { do: 'stop at work' }
  | { do: 'go on'; door: Door }
  | { do: 'meet'; defence: Id; answer: Id | null }
  /** A defence is called to the partner; `draw` is a number in [0, 1). */
  | { do: 'call'; draw: number }
  | { do: 'come back' }
  | { do: 'change'; set: Setting; words?: string }
  | { do: 'rung'; step: 1 | -1 }
  /** Who works with whom, as one coach changed it. */
  | { do: 'regroup'; changes: readonly GroupChange[] }
  | { do: 'everybody switches' }
  | { do: 'partners rotate' }
  | { do: 'clock' }
  /** Asks first where another device logged it. */
  | { do: 'undo'; rep: Rep; sure?: boolean }
  | { do: 'undo last' }
  | { do: 'restore'; rep: Rep }
  | { do: 'move'; rep: Rep; to: Pick<Rep, 'student' | 'partner' | 'side'> }
  /** Two reps that look like one: one of them is kept, or both are reps, or one becomes a second opinion on the other. */
  | { do: 'twice'; two: readonly [Rep, Rep]; keep: Rep | 'both'; opinion?: boolean }
  | { do: 'read'; undo: string }
  /** The class is of an earlier day, and its reps of today belong to it all the same. */
  | { do: 'class goes on' }
  | { do: 'safety' }
  | { do: 'over'; over: Over | null }
  | { do: 'say'; words: string };

/** A fact to be entered, without what every fact has. */
export type Entered =
  | { is: 'rep'; rep: Rep }
  | { is: 'change'; set: Setting }
  | { is: 'void'; rep: string; restores?: true }
  | { is: 'look'; rep: string; stop: Id | null }
  | { is: 'note'; note: CareNote };

/** A stop whose cause is asked for. */
export interface CauseAsked {
  rep: string;
  breakdown: Breakdown;
  place: number;
  side: Rep['side'];
}

/** What an action comes to. */
export interface MatStep {
  state: MatState;
  enter: readonly Entered[];
  /** The stop whose cause is asked for now, null to ask no more; undefined leaves it as it is. */
  ask?: CauseAsked | null;
  /** The clock was started, or a defence called: it is heard as well. */
  signal?: true;
}

/** The class as this device knows it at the moment of an action. */
export interface Scene {
  session: Pick<Session, 'id' | 'repsPerSide'> & Rounds;
  /** The day on which the class began (ISO date), where the academy is. */
  startedOn: string;
  common: Common;
  views: readonly PairView[];
  /** Reps by id and by time, whoever did them. */
  reps: { last: readonly Rep[]; of(student: Id): readonly Rep[] };
  coach: Id;
  device: string;
  nameOf(id: Id): string;
  /** Milliseconds since the epoch, by the server's clock. */
  now: number;
  /** A new id, and an instant after all that this device has entered. */
  made(): { id: string; at: string };
}

/** Two endings of one pair by finger within this many milliseconds are a double tap: nobody does a rep in that time. Common sense. */
export const doubleTapMs = 250;

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
      ...(there && carried && { follows: carried.follows }),
    },
  };
}

/** What a rep was, in a few words: “stopped at 4”, “finished”. */
export function repWords({ common }: Pick<Scene, 'common'>, rep: Rep): string {
  if (rep.outcome === 'left') return 'switched';
  if (rep.outcome !== 'stopped') return rep.outcome;
  const breakdown =
    rep.technique === common.breakdown.technique
      ? common.breakdown
      : common.library.get(rep.technique)?.breakdown;
  return `stopped at ${breakdown ? placeOf(breakdown, rep.stop) + 1 : rep.stop}`;
}

/** “Ada attacks Ben, right side” */
export const turnWords = (
  nameOf: Scene['nameOf'],
  { student, partner, side }: Pick<Turn, 'student' | 'partner' | 'side'>,
): string => `${nameOf(student)} attacks${partner === null ? '' : ` ${nameOf(partner)}`}, ${side} side`;

/** Why a rep of the open pair is not logged; null where it is. */
function refusal({ common }: Scene, { view }: OpenScene): string | null {
  if (common.now.endedAt !== null) return 'Not logged: this class has ended. Reopen it first.';
  if (view.stopped) return 'Not logged: this pair was stopped for safety. Say what went wrong first.';
  if (view.permit.verdict === 'not allowed')
    return `Not logged: ${view.permit.reasons[0]?.words ?? 'not allowed'}`;
  return null;
}

const meanings: Readonly<Record<Tapping, string>> = {
  stop: 'A tap on a knot is a stop again.',
  forced: 'Forced: tap every knot that failed, then the ring.',
  'not judged': 'Not judged: tap the last knot that held, or the ring if nothing was seen.',
};

const saying = (words: string, about: string | null, loud = true): Said => ({ words, about, loud, nth: 0 });

/** What an action on the Mat comes to. Nothing is entered here: whoever calls enters the facts. */
export function onMat(state: MatState, action: MatAction, scene: Scene): MatStep {
  const step = stepOf(state, action, scene);
  const { said } = step.state;
  return said === state.said || !said
    ? step
    : { ...step, state: { ...step.state, said: { ...said, nth: (state.said?.nth ?? 0) + 1 } } };
}

function stepOf(state: MatState, action: MatAction, scene: Scene): MatStep {
  const { common, views, nameOf } = scene;
  const open = openScene(state, scene);
  const about = open?.view.key ?? null;
  const still = (next: Partial<MatState> = {}, enter: readonly Entered[] = []): MatStep => ({
    state: { ...state, ...next },
    enter,
  });
  const say = (words: string, loud = true) => still({ said: saying(words, about, loud) });
  const change = (set: Setting, words: string, next: Partial<MatState> = {}): MatStep =>
    still({ ...next, said: saying(words, about) }, [{ is: 'change', set }]);

  switch (action.do) {
    case 'open': {
      const view = views.find(({ key }) => key === pairKey(action.pair));
      if (!view) return say('That pair has changed: choose again.');
      return {
        ...still({ open: view.members, said: saying(turnWords(nameOf, view.turn), view.key, false) }),
        ask: null,
      };
    }
    case 'walk': {
      const at = views.findIndex(({ key }) => key === about);
      const from = at < 0 && action.by < 0 ? 0 : at;
      const next = views[(from + action.by + views.length) % views.length];
      return next ? stepOf(state, { do: 'open', pair: next.members }, scene) : still();
    }
    case 'tap':
      return open ? onTap(state, action.tap, open, scene, action.finger ?? false) : noPair(state);
    case 'stop at work': {
      if (!open) return noPair(state);
      const { work, turn } = open.view;
      const checkpoint = work && open.breakdown.checkpoints[work.place]?.id;
      return checkpoint === undefined || checkpoint === null
        ? say(`${nameOf(turn.student)} has no correction here: tap the knot.`)
        : onTap(state, { do: 'knot', checkpoint }, open, scene, false);
    }
    case 'go on':
      return open ? onGoingOn(state, action.door, open, scene) : noPair(state);
    case 'meet': {
      if (!open) return noPair(state);
      const { defence, answer } = action;
      const door = doorsIn(open.breakdown, open.view.span).find(
        ({ by, answers }) => by === answer && answers === defence,
      );
      // An answer that leads into another technique is gone on to at once.
      return door && common.library.has(door.technique)
        ? onGoingOn(state, door, open, scene)
        : onTap(state, { do: 'meet', defence, answer }, open, scene, false);
    }
    case 'call': {
      const task = open?.view.own.task?.task ?? [];
      const defence = task[Math.floor(action.draw * task.length)];
      if (!open || defence === undefined) return still();
      const title = open.breakdown.defences.find(({ id }) => id === defence)?.title ?? defence;
      const step = onTap(state, { do: 'call', defence }, open, scene, false);
      const said = saying(`Partner: ${readFor(title, open.view.turn.side)}`, about);
      return { ...step, state: { ...step.state, said }, signal: true };
    }
    case 'come back': {
      const carried = open?.view.carried;
      if (!open || !carried) return still();
      const set: Setting = { is: 'back', pair: [...open.view.members], rep: carried.follows.rep };
      return change(set, `Back to ${common.technique.name}`, {
        begun: withBegun(state, open.view.key, nothingBegun),
      });
    }
    case 'change':
      return action.words === undefined
        ? still({}, [{ is: 'change', set: action.set }])
        : change(action.set, action.words);
    case 'rung': {
      if (!open) return noPair(state);
      const rung = Math.min(4, Math.max(0, open.rung + action.step)) as Rung;
      if (rung === open.rung) return say(`Rung ${rung} is the ${rung === 0 ? 'lowest' : 'highest'}.`);
      const { members } = open.view;
      return change({ is: 'rung', pair: [...members], rung }, `Rung ${rung} for ${namesOf(members, nameOf)}`);
    }
    case 'regroup':
      return onRegroup(state, action.changes, scene);
    case 'everybody switches': {
      const enter = views.map((view): Entered => {
        const { members, turn } = view;
        const student = members[(members.indexOf(turn.student) + 1) % members.length]!;
        return {
          is: 'change',
          set: turnSet(common, view, { student, partner: partnerOf(members, student), side: turn.side }),
        };
      });
      return still({ said: saying('Everybody switched: the partners attack now.', null) }, enter);
    }
    case 'partners rotate': {
      const next = rotated(views.map(({ members }) => members));
      const changed = next.filter((pair) => views.every(({ key }) => key !== pairKey(pair)));
      return still(
        {
          said: saying(
            changed.length === 0 ? 'There is nobody else to rotate with.' : 'Everybody has a new partner.',
            null,
          ),
        },
        changed.map((pair): Entered => ({ is: 'change', set: { is: 'together', pair: [...pair] } })),
      );
    }
    case 'clock': {
      const next = toggled(common.now.clock, scene.now, scene.session);
      const step = still({}, [{ is: 'change', set: { is: 'clock', clock: next } }]);
      return next.since !== null && next.ranMs === 0 ? { ...step, signal: true } : step;
    }
    case 'undo last': {
      const rep = scene.reps.last.findLast((one) => isOwn(one, scene));
      return rep
        ? stepOf(state, { do: 'undo', rep }, scene)
        : say('Nothing that was logged on this device is left to undo here.');
    }
    case 'undo': {
      const { rep } = action;
      if (!isOwn(rep, scene) && !action.sure) return still({ over: { is: 'undo', rep } });
      return {
        ...still(
          {
            over: state.over?.is === 'undo' ? null : state.over,
            said: saying(`Undone: ${nameOf(rep.student)}, ${repWords(scene, rep)}`, keyOf(rep, scene)),
          },
          stepWith(rep, scene.reps.of(rep.student)).map(({ id }) => ({ is: 'void', rep: id })),
        ),
        ask: null,
      };
    }
    case 'restore':
      return still(
        {
          read: new Set([...state.read, action.rep.id]),
          said: saying(
            `Restored: ${nameOf(action.rep.student)}, ${repWords(scene, action.rep)}`,
            keyOf(action.rep, scene),
          ),
        },
        [{ is: 'void', rep: action.rep.id, restores: true }],
      );
    case 'move': {
      const { rep, to } = action;
      const step = stepWith(rep, scene.reps.of(rep.student));
      const by = { observer: scene.coach, device: scene.device, id: () => scene.made().id };
      return still(
        {
          said: saying(
            `Moved: ${nameOf(to.student)}, ${to.side} side, ${repWords(scene, rep)}`,
            keyOf({ ...rep, ...to }, scene),
          ),
        },
        [
          ...movedStep(step, rep, to, by).map((one): Entered => ({ is: 'rep', rep: one })),
          ...step.map(({ id }): Entered => ({ is: 'void', rep: id })),
        ],
      );
    }
    case 'twice':
      return onTwice(state, action, scene);
    case 'read':
      return still({ read: new Set([...state.read, action.undo]) });
    case 'class goes on':
      return still({ goesOn: true, over: null, said: saying('New reps go to this class.', null) });
    case 'safety': {
      const { turn } = open?.view ?? {};
      const first = turn?.partner ?? turn?.student ?? common.now.pairs[0]?.[0] ?? common.now.waiting[0];
      if (first === undefined) return say('Nobody is in this class yet.');
      const note: CareNote = {
        ...scene.made(),
        session: scene.session.id,
        observer: scene.coach,
        person: first,
        why: 'not said',
        regions: [],
        side: null,
        until: common.today,
        words: '',
        replaces: null,
      };
      return { ...still({ over: { is: 'care', note } }, [{ is: 'note', note }]), ask: null };
    }
    case 'over':
      return still({ over: action.over });
    case 'say':
      return say(action.words);
  }
}

/** The names of a pair: “Ada and Ben”. */
export const namesOf = (pair: Pair, nameOf: Scene['nameOf']): string => pair.map(nameOf).join(' and ');

/** Was it tapped on this device? A rep of before devices had names is its coach's. */
export const isOwn = (rep: Rep, { coach, device }: Pick<Scene, 'coach' | 'device'>): boolean =>
  rep.device === undefined ? rep.observer === coach : rep.device === device;

/** The pair that a rep belongs to; null where it is a pair no more. */
const keyOf = ({ student, partner }: Pick<Rep, 'student' | 'partner'>, { views }: Scene): string | null =>
  views.find(({ members }) => members.includes(student) && (partner === null || members.includes(partner)))
    ?.key ?? null;

const noPair = (state: MatState): MatStep => ({
  state: { ...state, said: saying('Not logged: no pair is open. Tap a pair first.', null) },
  enter: [],
});

/** A turn as the change that sets it. */
const turnSet = (
  { turning }: Common,
  { members }: PairView,
  { student, partner, side }: Pick<Turn, 'student' | 'partner' | 'side'>,
): Setting => ({
  is: 'turn',
  pair: [...members],
  student,
  partner,
  side,
  during: turning.repsPerSide === null ? { round: turning.round, half: turning.half } : null,
});

function withBegun({ begun }: MatState, key: string, next: Begun): MatState['begun'] {
  if (next === (begun.get(key) ?? nothingBegun)) return begun;
  const all = new Map(begun);
  if (next === nothingBegun) all.delete(key);
  else all.set(key, next);
  return all;
}

/** Changed pairs. Where only the order of a pair changed, its first attacks now, whatever was drilled before. */
function onRegroup(state: MatState, changes: readonly GroupChange[], { common, views }: Scene): MatStep {
  const enter = changes.flatMap((set): Entered[] => {
    const view = set.is === 'together' ? views.find(({ key }) => key === pairKey(set.pair)) : undefined;
    if (!view || set.is !== 'together') return [{ is: 'change', set }];
    const student = set.pair[0]!;
    const partner = partnerOf(set.pair, student);
    const turn = turnSet(common, view, { student, partner, side: view.turn.side });
    return [
      { is: 'change', set },
      { is: 'change', set: turn },
    ];
  });
  return { state: { ...state, over: null, said: saying('The pairs are changed.', null) }, enter };
}

/** The pair goes on to another technique; the answer by which it does has worked. */
function onGoingOn(state: MatState, door: Door, open: OpenScene, scene: Scene): MatStep {
  const begun = state.begun.get(open.view.key) ?? nothingBegun;
  const met = new Map(begun.met);
  if (door.answers !== null) met.set(door.answers, { answer: door.by, worked: true });
  const from = { ...state, begun: withBegun(state, open.view.key, { ...begun, met }) };
  const step = onTap(from, { do: 'leave', heldTo: door.heldTo, by: door.by }, open, scene, false);
  if (step.enter.length === 0) return step;
  const onwards = scene.common.library.get(door.technique)?.technique.name ?? door.technique;
  const words = `${scene.nameOf(open.view.turn.student)} goes on: ${onwards}`;
  return { ...step, state: { ...step.state, said: saying(words, open.view.key) } };
}

/** A tap on the open pair: what it begins, the rep that it ends, and what is said of it. */
function onTap(state: MatState, tap: Tap, open: OpenScene, scene: Scene, finger: boolean): MatStep {
  const { common, nameOf } = scene;
  const { view } = open;
  const { key, turn } = view;
  const from = state.begun.get(key) ?? nothingBegun;
  const so = tapped(from, tap, open.pair);
  const stay = (said: Said | null): MatStep => ({ state: { ...state, said }, enter: [] });
  if (so.refused)
    return stay(saying('The answer did not work: tap the knot where the rep was lost to it.', key));
  const begun = withBegun(state, key, so.begun);
  if (so.turned)
    return {
      state: { ...state, begun, said: saying(turnWords(nameOf, so.turned), key) },
      enter: [{ is: 'change', set: turnSet(common, view, so.turned) }],
    };
  if (!so.ending)
    return {
      state: { ...state, begun, said: begunWords(from, so.begun, tap, open) ?? state.said },
      enter: [],
    };

  const refused = refusal(scene, open);
  if (refused !== null) return stay(saying(refused, key));
  if (scene.startedOn < common.today && !state.goesOn)
    return {
      state: {
        ...state,
        over: { is: 'earlier day' },
        said: saying('Not logged: this class is of an earlier day.', null),
      },
      enter: [],
    };
  const { ended } = state;
  if (finger && ended?.pair === key && scene.now - ended.at < doubleTapMs)
    return stay(saying('Two taps at once: one rep was logged. Tap again if it was another.', key));
  const logged = {
    ...scene.made(),
    session: scene.session.id,
    observer: scene.coach,
    device: scene.device,
    technique: open.breakdown.technique,
    edition: open.breakdown.edition,
    rung: open.rung,
  };
  const rep = repOf(so.ending, from, open.pair, logged);
  return {
    state: {
      ...state,
      begun,
      ended: finger ? { pair: key, at: scene.now } : null,
      said: afterRep(rep, open, scene),
    },
    enter: [{ is: 'rep', rep }],
    ask:
      rep.outcome === 'stopped' && rep.cause === null
        ? {
            rep: rep.id,
            breakdown: open.breakdown,
            place: placeOf(open.breakdown, rep.stop),
            side: turn.side,
          }
        : null,
  };
}

/** What is said of something begun. */
function begunWords(before: Begun, after: Begun, tap: Tap, { view, breakdown }: OpenScene): Said | null {
  const number = (id: Id) => placeOf(breakdown, id) + 1;
  if (tap.do === 'mean') return saying(meanings[tap.tapping], view.key);
  if (tap.do === 'soften' && after.soft !== before.soft)
    return saying(
      after.soft.has(tap.checkpoint)
        ? `${number(tap.checkpoint)} is soft in the next rep. No rep was logged.`
        : `${number(tap.checkpoint)} is not soft any more.`,
      view.key,
    );
  if (tap.do === 'knot' && after.failed !== before.failed)
    return saying(
      `${number(tap.checkpoint)} ${after.failed.has(tap.checkpoint) ? 'failed' : 'did not fail'}.`,
      view.key,
      false,
    );
  return null;
}

/** What is said of a rep: what it was, what it settled, and whose turn it is where that changes. */
function afterRep(rep: Rep, open: OpenScene, scene: Scene): Said {
  const { common, nameOf } = scene;
  const { view } = open;
  const words = [`${nameOf(rep.student)} ${repWords(scene, rep)}.`];
  let loud = false;
  if (view.work?.test.state === 'open' && !view.work.recheck) {
    const { place } = view.work;
    const { state } = testAfter(open.breakdown, view.work, rep);
    if (state !== 'open') {
      loud = true;
      words.push(
        state === 'signed off'
          ? `${place + 1} is signed off.`
          : `${place + 1} is too hard still: one rung down, or an easier drill.`,
      );
    }
  }
  if (open.gone) {
    const back = carriedOf(
      view.members,
      (student) => [...common.log.of(student), ...(student === rep.student ? [rep] : [])].sort(byTime),
      (id) => common.library.get(id)?.breakdown,
    );
    if (!back) {
      loud = true;
      words.push(`Back to ${common.technique.name}.`);
    }
  } else {
    const next = turnOf(
      view.members,
      likelyOnce([...view.reps, rep], common.now.settled),
      common.turning,
      view.own.turn,
      view.own.sides,
    );
    if (!sameTurn(next, view.turn)) {
      loud = true;
      words.push(turnWords(nameOf, next));
    }
  }
  return saying(words.join(' '), view.key, loud);
}

/** Two reps that look like one, and what the coach says of them. */
function onTwice(
  state: MatState,
  { two, keep, opinion }: Extract<MatAction, { do: 'twice' }>,
  scene: Scene,
): MatStep {
  const key = keyOf(two[0], scene);
  const pair = scene.views.find((view) => view.key === key)?.members;
  const over = state.over?.is === 'twice' ? null : state.over;
  const looked: Entered[] = pair
    ? [{ is: 'change', set: { is: 'settled', pair: [...pair], reps: [two[0].id, two[1].id] } }]
    : [];
  if (keep === 'both')
    return { state: { ...state, over, said: saying('Both are reps.', key) }, enter: looked };
  const other = two.find(({ id }) => id !== keep.id)!;
  const kept = `Kept: ${scene.nameOf(keep.student)} ${repWords(scene, keep)}`;
  const stop = other.outcome === 'stopped' ? other.stop : null;
  return {
    state: {
      ...state,
      over,
      said: saying(opinion ? `${kept}. Yours is a second opinion on it.` : `${kept}.`, key),
    },
    enter: [
      ...looked,
      ...(opinion ? [{ is: 'look', rep: keep.id, stop } as const] : []),
      { is: 'void', rep: other.id },
    ],
  };
}

/** Can the other of two reps become a second opinion on this one: is it this coach's, and did both see an end? */
export const mayBeOpinion = (keep: Rep, other: Rep, { coach }: Pick<Scene, 'coach'>): boolean =>
  other.observer === coach &&
  keep.observer !== coach &&
  [keep, other].every(({ outcome }) => outcome === 'stopped' || outcome === 'finished');

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
