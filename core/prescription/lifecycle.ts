import { z } from 'zod';
import { type Breakdown, Id, Side } from '../breakdown';
import type { Rung } from '../rep';
import { byTime, FactId, Instant, later, type Rep } from '../rep';
import { type Look, rechecked, recheckOf } from './recheck';
import { saidAtRoot, signOff, type SignOff } from './signoff';
import { type Step, Stood, Terms } from './step';

/** Days a declined correction is not proposed again. */
const respectedDays = 28;
const dayMs = 86_400_000;

export const LifeState = z.enum([
  'accepted',
  'in work',
  'signed off',
  'stepped back',
  'recheck due',
  'kept',
  'lapsed',
  'ended',
  'replaced',
]);
export type LifeState = z.infer<typeof LifeState>;

/** An event in the life of a correction: when, by whom (the observer of the deciding rep), and in what words. */
export const LifeEvent = z.object({ at: Instant, by: Id, is: z.string(), words: z.string() });
export type LifeEvent = z.infer<typeof LifeEvent>;

/** One prescription from its acceptance on. Its id is that of the step that accepted it. */
export const Life = z.object({
  id: FactId,
  student: Id,
  technique: Id,
  edition: z.int().positive(),
  /** The coach who accepted it, and when. */
  by: Id,
  since: Instant,
  terms: Terms,
  stood: Stood.nullable(),
  state: LifeState,
  /** What the reps since said of the checkpoint at its rung or above, in order: what the sign-off test looks at. */
  held: z.array(z.boolean()),
  /** The sides that it has signed off: none before, and one alone where the test has seen next to nothing of the other. */
  signed: z.array(Side),
  /** When it is to be looked at again; null before it is signed off. */
  due: Instant.nullable(),
  events: z.array(LifeEvent),
});
export type Life = z.infer<typeof Life>;

/** What is decided and drilled about one student on one technique. */
export interface Lives {
  /** The latest last. */
  all: readonly Life[];
  /** The one that is worked on; null where none is. */
  current: Life | null;
  /** Checkpoints that a coach would not have corrected, and until when. */
  declined: ReadonlyMap<Id, { until: string; reason: string; by: Id }>;
  /** What is signed off and has not lapsed, on which side, up to which rung. */
  signedOff: ReadonlyMap<Id, SignedSides>;
}

/** The rung up to which a checkpoint is signed off on each side; none where it is not. */
export type SignedSides = Partial<Record<Side, Rung>>;
const entries = (sides: SignedSides) => Object.entries(sides) as [Side, Rung][];

/** Is it worked on: to be drilled at the next class? */
export const isOpen = ({ state }: Pick<Life, 'state'>): boolean =>
  state === 'accepted' || state === 'in work' || state === 'stepped back';

/** The steps that count: what was undone does not, nor the undoing of an undoing's victim. In order of time, each once. */
function stepsThatCount(steps: readonly Step[]): Step[] {
  const undone = new Set(steps.flatMap(({ does }) => (does.is === 'undone' ? [does.of] : [])));
  const once = new Map(steps.map((step) => [step.id, step]));
  return [...once.values()].filter(({ id, does }) => does.is !== 'undone' && !undone.has(id)).sort(byTime);
}

/** The days on which something was seen, each with its counts; a day is that of its instants in UTC. */
function looksOf(said: readonly { rep: Rep; held: boolean }[]): Look[] {
  const days = new Map<string, Look>();
  for (const { rep, held } of said) {
    const day = rep.at.slice(0, 10);
    const known = days.get(day);
    if (known) {
      known.at = rep.at;
      known.seen += 1;
      known.held += held ? 1 : 0;
    } else days.set(day, { at: rep.at, seen: 1, held: held ? 1 : 0 });
  }
  return [...days.values()];
}

/** The sides that a test which signed off has seen: three reps of one at least, as a recheck asks for. */
function sidesOf(said: readonly { rep: Rep }[]): Side[] {
  return Side.options.filter(
    (side) => said.filter(({ rep }) => rep.side === side).length >= rechecked.fewestReps,
  );
}

const percentOf = ({ held, seen }: Pick<Look, 'held' | 'seen'>): string => `held ${held} of ${seen}`;

/** The held ones of the first reps. */
const seenIn = (held: readonly boolean[], seen: number): Pick<Look, 'held' | 'seen'> => ({
  held: held.slice(0, seen).filter(Boolean).length,
  seen,
});

/** What reps said of a correction, in order. */
type Said = readonly { rep: Rep; held: boolean }[];

/** A correction that its test has signed off, by so much of what was said. */
function signedByReps(life: Life, said: Said, seen: number, now: string): Life {
  const { rep } = said[seen - 1]!;
  const signed = sidesOf(said.slice(0, seen));
  const counts = percentOf(seenIn(life.held, seen));
  const words = signed.length === 1 ? `${counts}, the ${signed[0]} side` : counts;
  return settled(life, { at: rep.at, by: rep.observer, words }, signed, said.slice(seen), now);
}

/** A correction that a coach has signed off by what was seen or felt, because reps could not show it. */
function signedBySign(life: Life, said: Said, { at, observer, does }: Step, now: string): Life {
  const { sides } = life.terms;
  const words = does.is === 'signed' ? does.reason : '';
  return settled(
    life,
    { at, by: observer, words },
    sides === 'both' ? [...Side.options] : [sides],
    said,
    now,
  );
}

/** A signed-off correction, and what later looks at it said. */
function settled(
  life: Life,
  { at, by, words }: Omit<LifeEvent, 'is'>,
  signed: Side[],
  later: Said,
  now: string,
): Life {
  const events: LifeEvent[] = [...life.events, { at, by, is: 'signed off', words }];
  const after = looksOf(
    later.filter((one) => one.rep.at.slice(0, 10) > at.slice(0, 10) && signed.includes(one.rep.side)),
  );
  const { due, looks, lapsed } = recheckOf(at, after);
  for (const look of looks)
    events.push({
      at: look.at,
      by: later.find((one) => one.rep.at === look.at)!.rep.observer,
      is: lapsed && look === looks.at(-1) ? 'lapsed' : 'kept',
      words: percentOf(look),
    });
  return {
    ...life,
    events,
    signed,
    due: lapsed ? null : due,
    state: lapsed ? 'lapsed' : due <= now ? 'recheck due' : looks.length > 0 ? 'kept' : 'signed off',
  };
}

/** What became of one prescription, from its terms and the reps since. */
function lifeOf(
  accepted: Step,
  edits: readonly Step[],
  editions: ReadonlyMap<number, Breakdown>,
  reps: readonly Rep[],
  now: string,
  bySign: Step | undefined,
): Life {
  if (accepted.does.is !== 'accepted') throw new RangeError('a correction starts when it is accepted');
  const events: LifeEvent[] = [{ at: accepted.at, by: accepted.observer, is: 'accepted', words: '' }];
  let { terms } = accepted.does;
  // The test starts again when what it looks at changes, and not for another cue.
  let since = accepted.at;
  for (const { at, observer, does } of edits) {
    if (does.is !== 'edited') continue;
    const { checkpoint, rung, sides } = terms;
    if (does.terms.checkpoint !== checkpoint || does.terms.rung !== rung || does.terms.sides !== sides)
      since = at;
    terms = does.terms;
    events.push({ at, by: observer, is: 'edited', words: '' });
  }
  const said = [...saidAtRoot([...editions.values()], reps, terms)].filter(({ rep }) => rep.at > since);
  const held = said.map((one) => one.held);
  const test: SignOff = signOff(held);
  const life: Life = {
    id: accepted.id,
    student: accepted.student,
    technique: accepted.technique,
    edition: accepted.edition,
    by: accepted.observer,
    since: accepted.at,
    terms,
    stood: accepted.does.stood,
    state: said.length === 0 ? 'accepted' : 'in work',
    held,
    signed: [],
    due: null,
    events,
  };
  const told = ({ at, observer }: Rep, is: string, words: string) =>
    events.push({ at, by: observer, is, words });
  if (said[0]) told(said[0].rep, 'in work', '');
  if (test.state === 'step back') {
    const { rep } = said[test.seen - 1]!;
    told(rep, 'stepped back', percentOf(seenIn(held, test.seen)));
    return { ...life, state: 'stepped back' };
  }
  return test.state === 'open'
    ? bySign
      ? signedBySign(life, said, bySign, now)
      : life
    : signedByReps(life, said, test.seen, now);
}

/**
 * What was decided about one student on one technique, and what became of it, at an instant. Only what coaches decide is
 * stored; that something is in work, signed off, due again or lapsed the reps say, which are facts themselves, so two
 * devices cannot differ about it. Steps and reps in any order, each as often as it comes; the later decision counts.
 */
export function livesOf(
  editions: ReadonlyMap<number, Breakdown>,
  steps: readonly Step[],
  reps: readonly Rep[],
  now: string,
): Lives {
  const counting = stepsThatCount(steps);
  const inOrder = [...reps].sort(byTime);
  const declined = new Map<Id, { until: string; reason: string; by: Id }>();
  const all: Life[] = [];
  /** The end of each correction, and how it came. */
  const over = new Map<string, LifeEvent & { state: 'ended' | 'replaced' }>();
  let open: Step | null = null;
  const close = (state: 'ended' | 'replaced', { at, observer }: Step, words: string) => {
    if (open) over.set(open.id, { at, by: observer, is: state, words, state });
    open = null;
  };
  for (const step of counting) {
    const { does } = step;
    if (does.is === 'accepted') {
      close('replaced', step, '');
      declined.delete(does.terms.checkpoint);
      open = step;
    } else if (does.is === 'declined') {
      const before: Step | null = open;
      if (before?.does.is === 'accepted' && before.does.terms.checkpoint === does.checkpoint)
        close('ended', step, does.reason);
      const until = later(step.at, respectedDays * dayMs);
      if (until > now) declined.set(does.checkpoint, { until, reason: does.reason, by: step.observer });
    } else if (does.is === 'ended' && (open as Step | null)?.id === does.of)
      close('ended', step, does.reason);
  }
  for (const step of counting) {
    if (step.does.is !== 'accepted') continue;
    const edits = counting.filter(({ does }) => does.is === 'edited' && does.of === step.id);
    const end = over.get(step.id);
    // What is over is judged by the reps until then, but what was signed off by then stays so.
    const bySign = counting.find(({ does }) => does.is === 'signed' && does.of === step.id);
    const life = lifeOf(step, edits, editions, inOrder, now, bySign);
    const wasOpen = lifeOf(
      step,
      edits,
      editions,
      end ? inOrder.filter(({ at }) => at <= end.at) : inOrder,
      end?.at ?? now,
      bySign && (!end || bySign.at <= end.at) ? bySign : undefined,
    );
    all.push(
      end && isOpen(wasOpen)
        ? {
            ...wasOpen,
            state: end.state,
            events: [...wasOpen.events, { at: end.at, by: end.by, is: end.is, words: end.words }],
          }
        : life,
    );
  }
  const signedOff = new Map<Id, SignedSides>();
  for (const { state, terms, signed } of all) {
    const { checkpoint, rung } = terms;
    const owned = state === 'signed off' || state === 'kept' || state === 'recheck due';
    if (!owned && state !== 'lapsed') continue;
    const sides = new Map(entries(signedOff.get(checkpoint) ?? {}));
    for (const side of signed)
      if (owned) sides.set(side, Math.max(rung, sides.get(side) ?? 0) as Rung);
      else sides.delete(side);
    if (sides.size > 0) signedOff.set(checkpoint, Object.fromEntries(sides));
    else signedOff.delete(checkpoint);
  }
  return { all, current: all.findLast(isOpen) ?? null, declined, signedOff };
}

/** No more than this share of a class looks again at something: the rest of it is for what is new. Ours, from no source. */
const mostLooksShare = 1 / 3;

/**
 * What is looked at again in a class of these people, and how much waits for the next one: what is due for longest first, one
 * thing a student, and not everybody's on one evening. Nothing has to be filled in: reps that show the checkpoint are the look.
 */
export function lookTonight(lives: readonly Life[], here: readonly Id[]): { tonight: Life[]; wait: number } {
  const due = lives
    .filter(({ state, student }) => state === 'recheck due' && here.includes(student))
    .sort((a, b) => (a.due! < b.due! ? -1 : a.due! > b.due! ? 1 : a.id < b.id ? -1 : 1));
  const first = due.filter((one, i) => due.findIndex(({ student }) => student === one.student) === i);
  const tonight = first.slice(0, Math.max(1, Math.floor(here.length * mostLooksShare)));
  return { tonight, wait: due.length - tonight.length };
}
