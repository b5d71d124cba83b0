import { readFor } from '../breakdown';
import type { CareNote } from '../care';
import type { Rung } from '../rep';
import { toggled } from './clock';
import { type GroupChange, rotated } from './groups';
import { namesOf, type OpenScene, openScene, type Scene, turnWords } from './mat-scene';
import type { Entered, MatAction, MatState, MatStep } from './mat-state';
import { changing, noPair, saying, stepTo, turnSet, withBegun } from './mat-steps';
import { onGoingOn, onTap } from './mat-tap';
import { onMove, onRestore, onTwice, onUndo, onUndoLast } from './mat-undo';
import { doorsIn, nothingBegun } from './tapping';
import { pairKey, partnerOf } from './turn';

type ActionOf<D extends MatAction['do']> = Extract<MatAction, { do: D }>;
type Does<D extends MatAction['do']> = (
  state: MatState,
  action: ActionOf<D>,
  scene: Scene,
  /** The open pair; null where none is open. */
  open: OpenScene | null,
) => MatStep;

/** The result of each action on the Mat. */
const does: { readonly [D in MatAction['do']]: Does<D> } = {
  open: (state, { pair }, { views, nameOf }) => {
    const view = views.find(({ key }) => key === pairKey(pair));
    if (!view) return stepTo(state, { said: saying('That pair has changed: choose again.', null) });
    const said = saying(turnWords(nameOf, view.turn), view.key, false);
    return { ...stepTo(state, { open: view.members, said }), ask: null };
  },
  walk: (state, { by }, scene, open) => {
    const { views } = scene;
    const at = views.findIndex(({ key }) => key === open?.view.key);
    const next = views[((at < 0 && by < 0 ? 0 : at) + by + views.length) % views.length];
    return next ? does.open(state, { do: 'open', pair: next.members }, scene, open) : stepTo(state, {});
  },
  tap: (state, { tap, finger = false }, scene, open) =>
    open ? onTap(state, tap, open, scene, finger) : noPair(state),
  'stop at work': (state, _, scene, open) => {
    if (!open) return noPair(state);
    const { work, turn, key } = open.view;
    const checkpoint = work ? open.breakdown.checkpoints[work.place]?.id : undefined;
    return checkpoint === undefined
      ? stepTo(state, {
          said: saying(`${scene.nameOf(turn.student)} has no correction here: tap a checkpoint.`, key),
        })
      : onTap(state, { do: 'knot', checkpoint }, open, scene, false);
  },
  'go on': (state, { door }, scene, open) => (open ? onGoingOn(state, door, open, scene) : noPair(state)),
  meet: (state, { defence, answer }, scene, open) => {
    if (!open) return noPair(state);
    const door = doorsIn(open.breakdown, open.view.span).find(
      ({ by, answers }) => by === answer && answers === defence,
    );
    // An answer that leads into another technique is gone on to at once.
    return door && scene.common.library.has(door.technique)
      ? onGoingOn(state, door, open, scene)
      : onTap(state, { do: 'meet', defence, answer }, open, scene, false);
  },
  call: (state, { draw }, scene, open) => {
    const task = open?.view.own.task?.task ?? [];
    const defence = task[Math.floor(draw * task.length)];
    if (!open || defence === undefined) return stepTo(state, {});
    const title = open.breakdown.defences.find(({ id }) => id === defence)?.title ?? defence;
    const step = onTap(state, { do: 'call', defence }, open, scene, false);
    const said = saying(`Partner: ${readFor(title, open.view.turn.side)}`, open.view.key);
    return { ...step, state: { ...step.state, said }, signal: true };
  },
  'come back': (state, _, { common }, open) => {
    const carried = open?.view.carried;
    if (!open || !carried) return stepTo(state, {});
    const { key, members } = open.view;
    const next = {
      begun: withBegun(state, key, nothingBegun),
      said: saying(`Back to ${common.technique.name}`, key),
    };
    return stepTo(state, next, [changing({ is: 'back', pair: [...members], rep: carried.follows.rep })]);
  },
  change: (state, { set, words }, _, open) =>
    stepTo(state, words === undefined ? {} : { said: saying(words, open?.view.key ?? null) }, [
      changing(set),
    ]),
  rung: (state, { step }, { nameOf }, open) => {
    if (!open) return noPair(state);
    const { members, key } = open.view;
    const rung = Math.min(4, Math.max(0, open.rung + step)) as Rung;
    if (rung === open.rung)
      return stepTo(state, {
        said: saying(`Rung ${rung} is the ${rung === 0 ? 'lowest' : 'highest'}.`, key),
      });
    return stepTo(state, { said: saying(`Rung ${rung} for ${namesOf(members, nameOf)}`, key) }, [
      changing({ is: 'rung', pair: [...members], rung }),
    ]);
  },
  regroup: (state, { changes }, scene) => onRegroup(state, changes, scene),
  'everybody switches': (state, _, { common, views }) =>
    stepTo(
      state,
      { said: saying('Everybody switched: the partners attack now.', null) },
      views.map((view) => {
        const { members, turn } = view;
        const student = members[(members.indexOf(turn.student) + 1) % members.length]!;
        return changing(
          turnSet(common, view, { student, partner: partnerOf(members, student), side: turn.side }),
        );
      }),
    ),
  'partners rotate': (state, _, { views }) => {
    const changed = rotated(views.map(({ members }) => members)).filter((pair) =>
      views.every(({ key }) => key !== pairKey(pair)),
    );
    const words = changed.length === 0 ? 'Nobody else to rotate with.' : 'Everybody has a new partner.';
    return stepTo(
      state,
      { said: saying(words, null) },
      changed.map((pair) => changing({ is: 'together', pair: [...pair] })),
    );
  },
  clock: (state, _, { common, now, session }) => {
    const next = toggled(common.now.clock, now, session);
    const step = stepTo(state, {}, [changing({ is: 'clock', clock: next })]);
    return next.since !== null && next.ranMs === 0 ? { ...step, signal: true } : step;
  },
  undo: onUndo,
  'undo last': (state, _, scene) => onUndoLast(state, scene),
  restore: onRestore,
  move: onMove,
  twice: onTwice,
  read: (state, { undo }) => stepTo(state, { read: new Set([...state.read, undo]) }),
  'class goes on': (state) =>
    stepTo(state, { goesOn: true, over: null, said: saying('New reps go to this class.', null) }),
  safety: (state, _, scene, open) => {
    const { common } = scene;
    const { turn } = open?.view ?? {};
    const person = turn?.partner ?? turn?.student ?? common.now.pairs[0]?.[0] ?? common.now.waiting[0];
    if (person === undefined) return stepTo(state, { said: saying('This class has no students yet.', null) });
    const note: CareNote = {
      ...scene.made(),
      session: scene.session.id,
      observer: scene.coach,
      person,
      why: 'not said',
      regions: [],
      side: null,
      until: common.today,
      words: '',
      replaces: null,
    };
    return { ...stepTo(state, { over: { is: 'care', note } }, [{ is: 'note', note }]), ask: null };
  },
  over: (state, { over }) => stepTo(state, { over }),
};

/** What an action on the Mat comes to. Nothing is entered here: the caller enters the facts. */
export function onMat(state: MatState, action: MatAction, scene: Scene): MatStep {
  const doing = does[action.do] as Does<MatAction['do']>;
  const step = doing(state, action, scene, openScene(state, scene));
  const { said } = step.state;
  return said === state.said || !said
    ? step
    : { ...step, state: { ...step.state, said: { ...said, nth: (state.said?.nth ?? 0) + 1 } } };
}

/** Changed pairs. Where only the order of a pair changed, its first attacks now, whatever was drilled before. */
function onRegroup(state: MatState, changes: readonly GroupChange[], { common, views }: Scene): MatStep {
  const enter = changes.flatMap((set): Entered[] => {
    const view = set.is === 'together' ? views.find(({ key }) => key === pairKey(set.pair)) : undefined;
    if (!view || set.is !== 'together') return [changing(set)];
    const student = set.pair[0]!;
    const partner = partnerOf(set.pair, student);
    const turn = turnSet(common, view, { student, partner, side: view.turn.side });
    return [changing(set), changing(turn)];
  });
  return { state: { ...state, over: null, said: saying('Pairs changed.', null) }, enter };
}
