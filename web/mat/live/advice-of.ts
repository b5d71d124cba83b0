import { placeOf, readFor } from '@ulkret/core/breakdown';
import { lastBeforeLoad } from '@ulkret/core/care';
import type { Void } from '@ulkret/core/facts';
import { signOffWords } from '@ulkret/core/prescription';
import type { Rep } from '@ulkret/core/rep';
import {
  doublesIn,
  type MatAction,
  pairKey,
  repWords,
  type Watched,
  type Work,
  workShort,
} from '@ulkret/core/session';
import type { MatNow } from './mat-store';

/** One thing that a coach must know about the open pair, and what to do about it. */
export interface Note {
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
export function undoneElsewhere(
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
export function workWords(name: string, work: Work, title: string, rung: number): string {
  const dose =
    work.dose && work.how.sets
      ? ` ${work.how.sets} × ${work.how.reps}: ${work.dose.done} of ${work.dose.of} done.`
      : '';
  const point = `${name} works on ${work.place + 1} “${title}”`;
  if (!work.counts) return `${point}: only counts from rung ${work.rung} (now ${rung}).`;
  if (work.recheck) return `${name}, ${work.place + 1} “${title}”: ${workShort(work)}.`;
  return `${point}: ${signOffWords(work.test)}${dose}`;
}

/** All that is to be known of the open pair, what matters most first. */
export function adviceOf(
  now: MatNow,
  to: {
    nameOf(id: string): string;
    /** “yours” for a rep of this device, otherwise its coach's name. */
    whose(one: { observer: string; device?: string | undefined }): string;
    /** The name of the coach who undid a rep. */
    who(observer: string): string;
    decides: boolean;
    device: string;
    at: number;
    watched: Watched | null;
  },
): Note[] {
  const { open, state, common } = now;
  const { nameOf } = to;
  if (common.now.endedAt !== null)
    return [
      {
        is: 'state',
        grave: 'stop',
        words: 'This class has ended. Reopen it to log more reps.',
        does: [{ words: 'Reopen the class', act: { do: 'change', set: { is: 'go on' } } }],
      },
    ];
  if (!open)
    return [
      {
        is: 'state',
        grave: 'stop',
        words: state.open
          ? `${state.open.map(nameOf).join(' and ')} do not work together any more. Choose a pair.`
          : 'No pair is open. Choose a pair.',
        does: [],
      },
    ];
  const { view, technique, breakdown, gone } = open;
  const { permit, caps, stopped, work, turn, span } = view;
  const scene = { common };
  const notes: Note[] = [];
  if (stopped)
    notes.push({
      is: 'state',
      grave: 'stop',
      words: 'Stopped for safety. Say what went wrong before they continue.',
      does: [{ words: 'What went wrong?', act: { do: 'over', over: { is: 'care', note: stopped } } }],
    });
  const refused = permit.verdict === 'not allowed';
  const back = { words: 'Back', act: { do: 'come back' } } as const;
  if (gone)
    notes.push({
      is: 'state',
      ...(refused
        ? { grave: 'stop' as const }
        : (technique.loadSpeed === 'fast' || permit.verdict === 'with care') && { grave: 'care' as const }),
      words: refused
        ? `Not allowed: ${permit.reasons[0]?.words}`
        : `${nameOf(turn.student)} switched to ${technique.name}. How did it end?`,
      does: [back],
    });
  else if (refused)
    notes.push({
      is: 'state',
      grave: 'stop',
      words: `Not allowed: ${permit.reasons[0]?.words}`,
      does: [
        { words: 'Swap roles', act: { do: 'tap', tap: { do: 'swap' } } },
        ...(permit.overridable && to.decides
          ? [{ words: 'Override with a reason', act: { do: 'over', over: { is: 'let' } } } as const]
          : []),
      ],
    });
  const twice = twiceIn(now);
  if (twice)
    notes.push({
      is: 'twice',
      grave: 'care',
      words: `Logged twice? ${nameOf(twice[0].student)}: ${twice.map((rep) => `${to.whose(rep)} ${repWords(scene, rep)}`).join(', ')}.`,
      does: [
        ...twice.map((keep) => ({
          words: `Keep ${to.whose(keep)}`,
          act: { do: 'twice', two: twice, keep } as const,
        })),
        { words: 'Two reps', act: { do: 'twice', two: twice, keep: 'both' } },
      ],
    });
  const undone = undoneElsewhere(now, { device: to.device, now: to.at });
  if (undone)
    notes.push({
      is: 'undone',
      grave: 'care',
      words: `${to.who(undone.by.observer)} undid your rep: ${nameOf(undone.rep.student)} ${repWords(scene, undone.rep)}.`,
      does: [
        { words: 'Restore it', act: { do: 'restore', rep: undone.rep } },
        { words: 'Got it', act: { do: 'read', undo: undone.rep.id } },
      ],
    });
  const full = caps.find(({ spent, cap }) => spent >= cap);
  const spared = lastBeforeLoad(breakdown, technique);
  const capped = full?.whom === 'student' ? turn.student : turn.partner;
  const stopBefore = (to_: string | null): MatAction => ({
    do: 'change',
    set: { is: 'span', pair: [...view.members], from: common.session.from, to: to_ },
    words: to_ === null ? 'To the finish again.' : 'They stop before the finish.',
  });
  if (full && capped)
    notes.push({
      is: 'cap',
      grave: 'care',
      words: `${nameOf(capped)} is at the cap for today: ${full.spent} of ${full.cap} ${full.counts}.`,
      does: [
        { words: 'Swap roles', act: { do: 'tap', tap: { do: 'swap' } } },
        ...(spared && !gone ? [{ words: 'Stop before the finish', act: stopBefore(spared) }] : []),
      ],
    });
  if (!gone && span.to !== null && span.to === spared && caps.length === 0)
    notes.push({
      is: 'cap',
      words: 'They stop before the finish: no load.',
      does: [{ words: 'Full technique', act: stopBefore(common.session.to) }],
    });
  if (!refused)
    for (const { words } of permit.reasons) notes.push({ is: 'care', grave: 'care', words, does: [] });
  if (work && !gone)
    notes.push({
      is: 'work',
      words: workWords(
        nameOf(turn.student),
        work,
        readFor(breakdown.checkpoints[work.place]!.title, turn.side),
        open.rung,
      ),
      does: [{ words: 'Cue and drill', act: { do: 'over', over: { is: 'work' } } }],
    });
  else if (to.watched?.student === turn.student && !gone) {
    const place = placeOf(breakdown, to.watched.checkpoint);
    notes.push({
      is: 'watch',
      words: `Watch ${nameOf(turn.student)} at ${place + 1} “${readFor(breakdown.checkpoints[place]?.title ?? '', turn.side)}”; start the next rep there.`,
      does: [],
    });
  }
  if (notes.length === 0) notes.push({ is: 'rule', words: common.rules.tap, does: [] });
  return notes;
}

/** Is what was said about the open pair, or about the class? What is about another pair is not shown. */
export const isSaidHere = ({ state }: Pick<MatNow, 'state'>): boolean =>
  state.said !== null &&
  (state.said.about === null || (state.open !== null && state.said.about === pairKey(state.open)));
