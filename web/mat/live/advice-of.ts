import { placeOf, readFor } from '@ulkret/core/breakdown';
import { lastBeforeLoad } from '@ulkret/core/care';
import type { Void } from '@ulkret/core/facts';
import { signOffWords } from '@ulkret/core/prescription';
import type { Rep } from '@ulkret/core/rep';
import {
  doublesIn,
  type MatAction,
  type OpenScene,
  pairKey,
  repWords,
  type WatchedStudent,
  type WorkInProgress,
  workShort,
} from '@ulkret/core/session';
import type { MatNow } from './mat-store';

/** One thing that a coach must know about the open pair, and what to do about it. */
export interface AdviceNote {
  /** What it is about, for a part that draws it in its own way. */
  is: 'state' | 'twice' | 'undone' | 'cap' | 'care' | 'work' | 'watch' | 'rule';
  grave?: 'stop' | 'care';
  words: string;
  does: readonly { words: string; act: MatAction }[];
}

/** How many of the last reps of a student may be one of two. */
const lookedAt = 30;
/** How long the Mat shows that somebody undid a rep of this device. */
const toldForMs = 20 * 60_000;

/** Two reps of this pair that look like one seen twice and that nobody has settled; null where there are none. */
export function twiceIn({ open, common }: Pick<MatNow, 'open' | 'common'>): readonly [Rep, Rep] | null {
  if (!open) return null;
  const { members, reps } = open.view;
  return (
    members
      .flatMap((one) => doublesIn(reps.filter(({ student }) => student === one).slice(-lookedAt)))
      .findLast((two) => !two.some(({ id }) => common.now.settled.has(id))) ?? null
  );
}

/** A rep of this device that somebody else, or this coach on another device, has undone and that this coach has not read of. */
function undoneElsewhere(
  { log, state }: Pick<MatNow, 'log' | 'state'>,
  { device, now }: { device: string; now: number },
): { rep: Rep; by: Void } | null {
  return (
    log
      .undone()
      .find(
        ({ rep, by }) =>
          rep.device === device &&
          by.device !== device &&
          !by.ofImport &&
          !state.read.has(rep.id) &&
          now - Date.parse(by.at) < toldForMs,
      ) ?? null
  );
}

/** What somebody works on, in a sentence: what would sign it off, and how far the dose is. */
function workWords(name: string, work: WorkInProgress, title: string, rung: number): string {
  const dose =
    work.dose && work.how.sets
      ? ` ${work.how.sets} × ${work.how.reps}: ${work.dose.done} of ${work.dose.of} done.`
      : '';
  const point = `${name} works on ${work.place + 1} “${title}”`;
  if (!work.counts) return `${point}: only counts from rung ${work.rung} (now ${rung}).`;
  if (work.recheck) return `${name}, ${work.place + 1} “${title}”: ${workShort(work)}.`;
  return `${point}: ${signOffWords(work.test)}${dose}`;
}

/** What the advice needs besides the Mat: what people are called on this device, and what its coach may do. */
interface AdviceContext {
  nameOf(id: string): string;
  /** “yours” for a rep of this device, otherwise its coach's name. */
  whose(one: { observer: string; device?: string | undefined }): string;
  /** The name of the coach who undid a rep. */
  who(observer: string): string;
  decides: boolean;
  device: string;
  at: number;
  watched: WatchedStudent | null;
}

/** The Mat with a pair open. */
type OpenMat = MatNow & { open: OpenScene };

type AdviceRule = (now: OpenMat, to: AdviceContext) => AdviceNote | readonly AdviceNote[] | null;

const stopped: AdviceRule = ({ open }) =>
  open.view.stopped && {
    is: 'state',
    grave: 'stop',
    words: 'Stopped for safety. Say what went wrong before they continue.',
    does: [{ words: 'What went wrong?', act: { do: 'over', over: { is: 'care', note: open.view.stopped } } }],
  };

const isRefused = ({ open }: OpenMat): boolean => open.view.permit.verdict === 'not allowed';

/** The attacker switched to another technique: how did it end there? */
const switched: AdviceRule = (now, { nameOf }) => {
  const { technique, gone, view } = now.open;
  if (!gone) return null;
  const refused = isRefused(now);
  const careful = technique.loadSpeed === 'fast' || view.permit.verdict === 'with care';
  return {
    is: 'state',
    ...(refused ? { grave: 'stop' as const } : careful && { grave: 'care' as const }),
    words: refused
      ? `Not allowed: ${view.permit.reasons[0]?.words}`
      : `${nameOf(view.turn.student)} switched to ${technique.name}. How did it end?`,
    does: [{ words: 'Back', act: { do: 'come back' } }],
  };
};

const refused: AdviceRule = (now, { decides }) => {
  const { gone, view } = now.open;
  if (gone || !isRefused(now)) return null;
  return {
    is: 'state',
    grave: 'stop',
    words: `Not allowed: ${view.permit.reasons[0]?.words}`,
    does: [
      { words: 'Swap roles', act: { do: 'tap', tap: { do: 'swap' } } },
      ...(view.permit.overridable && decides
        ? [{ words: 'Override with a reason', act: { do: 'over', over: { is: 'let' } } } as const]
        : []),
    ],
  };
};

const loggedTwice: AdviceRule = (now, { nameOf, whose }) => {
  const twice = twiceIn(now);
  return (
    twice && {
      is: 'twice',
      grave: 'care',
      words: `Logged twice? ${nameOf(twice[0].student)}: ${twice.map((rep) => `${whose(rep)} ${repWords(now, rep)}`).join(', ')}.`,
      does: [
        ...twice.map((keep) => ({
          words: `Keep ${whose(keep)}`,
          act: { do: 'twice', two: twice, keep } as const,
        })),
        { words: 'Two reps', act: { do: 'twice', two: twice, keep: 'both' } },
      ],
    }
  );
};

/** Another device undid a rep of this one. */
const undone: AdviceRule = (now, { nameOf, who, device, at }) => {
  const found = undoneElsewhere(now, { device, now: at });
  return (
    found && {
      is: 'undone',
      grave: 'care',
      words: `${who(found.by.observer)} undid your rep: ${nameOf(found.rep.student)} ${repWords(now, found.rep)}.`,
      does: [
        { words: 'Restore it', act: { do: 'restore', rep: found.rep } },
        { words: 'Got it', act: { do: 'read', undo: found.rep.id } },
      ],
    }
  );
};

/** Reps of the pair end here from now on; null is the finish. */
const stopAt = ({ open, common }: OpenMat, to: string | null): MatAction => ({
  do: 'change',
  set: { is: 'span', pair: [...open.view.members], from: common.session.from, to },
  words: to === null ? 'To the finish again.' : 'They stop before the finish.',
});

const atTheCap: AdviceRule = (now, { nameOf }) => {
  const { view, breakdown, technique, gone } = now.open;
  const full = view.caps.find(({ spent, cap }) => spent >= cap);
  const capped = full?.whom === 'student' ? view.turn.student : view.turn.partner;
  if (!full || !capped) return null;
  const spared = lastBeforeLoad(breakdown, technique);
  return {
    is: 'cap',
    grave: 'care',
    words: `${nameOf(capped)} is at the cap for today: ${full.spent} of ${full.cap} ${full.counts}.`,
    does: [
      { words: 'Swap roles', act: { do: 'tap', tap: { do: 'swap' } } },
      ...(spared && !gone ? [{ words: 'Stop before the finish', act: stopAt(now, spared) }] : []),
    ],
  };
};

const withoutLoad: AdviceRule = (now) => {
  const { view, breakdown, technique, gone } = now.open;
  const { to } = view.span;
  return !gone && to !== null && to === lastBeforeLoad(breakdown, technique) && view.caps.length === 0
    ? {
        is: 'cap',
        words: 'They stop before the finish: no load.',
        does: [{ words: 'Full technique', act: stopAt(now, now.common.session.to) }],
      }
    : null;
};

const withCare: AdviceRule = (now) =>
  isRefused(now)
    ? null
    : now.open.view.permit.reasons.map(({ words }): AdviceNote => ({
        is: 'care',
        grave: 'care',
        words,
        does: [],
      }));

/** The attacker's correction; without one, whether the next rep is worth watching. */
const ofTheAttacker: AdviceRule = ({ open }, { nameOf, watched }) => {
  const { view, breakdown, gone, rung } = open;
  const { work, turn } = view;
  if (gone) return null;
  const titleAt = (place: number) => readFor(breakdown.checkpoints[place]?.title ?? '', turn.side);
  if (work)
    return {
      is: 'work',
      words: workWords(nameOf(turn.student), work, titleAt(work.place), rung),
      does: [{ words: 'Cue and drill', act: { do: 'over', over: { is: 'work' } } }],
    };
  if (!watched || watched.student !== turn.student) return null;
  const place = placeOf(breakdown, watched.checkpoint);
  return {
    is: 'watch',
    words: `Watch ${nameOf(turn.student)} at ${place + 1} “${titleAt(place)}”; start the next rep there.`,
    does: [],
  };
};

/** What can be said of the open pair, the gravest first. */
const advice: readonly AdviceRule[] = [
  stopped,
  switched,
  refused,
  loggedTwice,
  undone,
  atTheCap,
  withoutLoad,
  withCare,
  ofTheAttacker,
];

/** Why no rep can be logged at all; null if one can. */
function closedNote({ open, state, common }: MatNow, { nameOf }: AdviceContext): AdviceNote | null {
  if (common.now.endedAt !== null)
    return {
      is: 'state',
      grave: 'stop',
      words: 'This class has ended. Reopen it to log more reps.',
      does: [{ words: 'Reopen the class', act: { do: 'change', set: { is: 'go on' } } }],
    };
  if (open) return null;
  return {
    is: 'state',
    grave: 'stop',
    words: state.open
      ? `${state.open.map(nameOf).join(' and ')} do not work together any more. Choose a pair.`
      : 'No pair is open. Choose a pair.',
    does: [],
  };
}

/** Everything to know about the open pair, the gravest first. */
export function adviceOf(now: MatNow, to: AdviceContext): AdviceNote[] {
  const closed = closedNote(now, to);
  if (closed) return [closed];
  const notes = advice.flatMap((one) => one(now as OpenMat, to) ?? []);
  return notes.length > 0 ? notes : [{ is: 'rule', words: now.common.rules.tap, does: [] }];
}

/** Is what was said about the open pair, or about the class? What is about another pair is not shown. */
export const isSaidHere = ({ state }: Pick<MatNow, 'state'>): boolean =>
  state.said !== null &&
  (state.said.about === null || (state.open !== null && state.said.about === pairKey(state.open)));
