import type { Checkpoint, Draft } from './breakdown';
import { placeOf } from './causes';
import type { Id } from './ids';

/** Changes of a draft that touch more than one field. Each gives a new draft and leaves the old one as it was. */

/**
 * Sets one belief and lets the others follow, so that the whole stays at 100. Locked ones stay; the others keep their
 * proportions, or share equally where all are 0. A value that the locked ones leave no room for is cut.
 */
export function setBelief(draft: Draft, id: Id, value: number, locked: ReadonlySet<Id> = new Set()): Draft {
  const held = draft.checkpoints
    .filter((one) => one.id !== id && locked.has(one.id))
    .reduce((sum, { belief }) => sum + belief, 0);
  const free = draft.checkpoints.filter((one) => one.id !== id && !locked.has(one.id));
  const room = Math.max(0, 100 - held);
  const own = free.length === 0 ? room : Math.min(room, Math.max(0, value));
  const rest = room - own;
  const before = free.reduce((sum, { belief }) => sum + belief, 0);
  const shares = inWhole(
    free.map(({ belief }) => (before > 0 ? (belief / before) * rest : rest / free.length)),
    rest,
  );
  const next = new Map(free.map((one, i) => [one.id, shares[i]!]));
  return {
    ...draft,
    checkpoints: draft.checkpoints.map((one) => ({
      ...one,
      belief: one.id === id ? own : (next.get(one.id) ?? one.belief),
    })),
  };
}

/** Numbers rounded down to whole ones, the remainder given to those that lost most: they still add up to the total. */
export function inWhole(list: readonly number[], total: number): number[] {
  const whole = list.map(Math.floor);
  let left = Math.round(total - whole.reduce((sum, x) => sum + x, 0));
  const order = list
    .map((x, i) => ({ i, lost: x - Math.floor(x) }))
    .sort((a, b) => b.lost - a.lost || a.i - b.i);
  for (const { i } of order) {
    if (left <= 0) break;
    whole[i]! += 1;
    left -= 1;
  }
  return whole;
}

const emptyCheckpoint = (id: Id): Checkpoint => ({
  id,
  kind: 'base' as const,
  title: '',
  criterion: '',
  proofs: [{ by: 'see' as const, text: '' }],
  after: [],
  belief: 0,
  mendable: { backTo: id },
  variants: [],
});

/** Gives every checkpoint the same worth, to a whole number: the earlier ones take what is left over. */
export function shareEvenly(draft: Draft): Draft {
  const n = draft.checkpoints.length;
  const shares = inWhole(
    draft.checkpoints.map(() => 100 / n),
    100,
  );
  return { ...draft, checkpoints: draft.checkpoints.map((one, i) => ({ ...one, belief: shares[i]! })) };
}

/** Whether nobody has weighed the checkpoints against each other yet. */
const sharedEvenly = ({ checkpoints }: Pick<Draft, 'checkpoints'>): boolean => {
  const worths = checkpoints.map(({ belief }) => belief);
  return Math.max(...worths) - Math.min(...worths) <= 1;
};

/**
 * Adds an empty checkpoint after the one at `place`, which it comes after. As long as nobody has weighed them, all are
 * worth the same; after that a new one is worth nothing until it is weighed.
 */
export function addCheckpoint(draft: Draft, place: number, id: Id): Draft {
  const before = draft.checkpoints[place - 1];
  const fresh: Checkpoint = { ...emptyCheckpoint(id), ...(before && { after: [before.id] }) };
  const added = { ...draft, checkpoints: draft.checkpoints.toSpliced(place, 0, fresh) };
  return sharedEvenly(draft) ? shareEvenly(added) : added;
}

/** Moves a checkpoint to another place. "After" links that the new order breaks are left to the critique. */
export function moveCheckpoint(draft: Draft, id: Id, to: number): Draft {
  const from = placeOf(draft, id);
  const place = Math.min(draft.checkpoints.length - 1, Math.max(0, to));
  if (from < 0 || from === place) return draft;
  const one = draft.checkpoints[from]!;
  return { ...draft, checkpoints: draft.checkpoints.toSpliced(from, 1).toSpliced(place, 0, one) };
}

/** Everything in a draft that names a checkpoint, naming another instead. */
function renamed(draft: Draft, from: Id, to: Id): Draft {
  const swap = (id: Id) => (id === from ? to : id);
  return {
    ...draft,
    checkpoints: draft.checkpoints.map((one) => ({
      ...one,
      after: [...new Set(one.after.map(swap))].filter((id) => id !== one.id),
      ...(one.together !== undefined && { together: swap(one.together) }),
      mendable: one.mendable && { ...one.mendable, backTo: swap(one.mendable.backTo) },
    })),
    mistakes: draft.mistakes.map((one) => ({ ...one, at: swap(one.at), root: swap(one.root) })),
    defences: draft.defences.map((one) => ({
      ...one,
      opens: swap(one.opens),
      closes: swap(one.closes),
      answers: one.answers.map((answer) =>
        answer.do === 'mend' ? { ...answer, at: swap(answer.at) } : answer,
      ),
    })),
    ...(draft.entries && { entries: draft.entries.map((one) => ({ ...one, joinsAt: swap(one.joinsAt) })) }),
    ...(draft.exits && { exits: draft.exits.map((one) => ({ ...one, at: swap(one.at) })) }),
  };
}

/**
 * Splits a checkpoint: the second half gets the id, half of the weight, and a place right after the first, on which it
 * depends. The reps logged so far stay with the first.
 */
export function splitCheckpoint(draft: Draft, id: Id, newId: Id): Draft {
  const place = placeOf(draft, id);
  const one = draft.checkpoints[place];
  if (!one) return draft;
  const half = Math.floor(one.belief / 2);
  const second: Checkpoint = { ...emptyCheckpoint(newId), kind: one.kind, belief: half, after: [id] };
  const checkpoints = draft.checkpoints.map((other) =>
    other.id === id
      ? { ...other, belief: other.belief - half }
      : { ...other, after: other.after.includes(id) ? [...other.after, newId] : other.after },
  );
  return { ...draft, checkpoints: checkpoints.toSpliced(place + 1, 0, second) };
}

/** Archives a checkpoint. Its reps stay and it can come back. Its mistakes go to `heir`. */
export function retireCheckpoint(draft: Draft, id: Id, heir?: Id): Draft {
  const gone = draft.checkpoints.find((one) => one.id === id);
  const place = placeOf(draft, id);
  const neighbour = heir ?? draft.checkpoints[place - 1]?.id ?? draft.checkpoints[place + 1]?.id;
  if (!gone || neighbour === undefined) return draft;
  const left: Draft = {
    ...draft,
    checkpoints: draft.checkpoints.filter((one) => one.id !== id),
    retired: [...(draft.retired ?? []), { ...gone, after: [], mendable: null }],
  };
  const heirNow = left.checkpoints.find((one) => one.id === neighbour)!;
  const kept = renamed(left, id, neighbour);
  return setBelief(
    kept,
    neighbour,
    heirNow.belief + gone.belief,
    new Set(kept.checkpoints.map((one) => one.id)),
  );
}

/** Joins a checkpoint with the one before it: both texts in order, the sum of the weights, the second archived. */
export function joinWithBefore(draft: Draft, id: Id): Draft {
  const place = placeOf(draft, id);
  const [before, one] = [draft.checkpoints[place - 1], draft.checkpoints[place]];
  if (!before || !one) return draft;
  const joined = {
    ...draft,
    checkpoints: draft.checkpoints.map((other) =>
      other.id === before.id
        ? {
            ...other,
            criterion: [before.criterion, one.criterion].filter(Boolean).join(' '),
            proofs: [...before.proofs, ...one.proofs].filter(({ text }) => text !== ''),
            variants: [...before.variants, ...one.variants],
          }
        : other,
    ),
  };
  return retireCheckpoint(joined, id, before.id);
}

/** Brings a retired checkpoint back, at the end, with no belief yet. */
export function unretireCheckpoint(draft: Draft, id: Id): Draft {
  const back = draft.retired?.find((one) => one.id === id);
  if (!back) return draft;
  return {
    ...draft,
    checkpoints: [...draft.checkpoints, { ...back, belief: 0 }],
    retired: draft.retired!.filter((one) => one.id !== id),
  };
}
