import { dequal } from 'dequal';
import { longestRun } from '../math';
import type { FieldPath } from './field-path';
import type { Id } from './ids';

/** One field that differs. Things with an id are found by it, so that a moved checkpoint is moved and not another one. */
export interface FieldChange {
  path: FieldPath;
  is: 'added' | 'removed' | 'changed' | 'moved';
  before: unknown;
  after: unknown;
}

type Thing = Record<string, unknown>;
const isThing = (value: unknown): value is Thing =>
  value !== null && typeof value === 'object' && !Array.isArray(value);
const hasIds = (list: unknown[]): list is { id: Id }[] =>
  list.length > 0 && list.every((one) => isThing(one) && typeof one['id'] === 'string');
/** Are two values equal as JSON? A missing field equals an undefined one. */
export const same = (a: unknown, b: unknown): boolean => dequal(asJson(a), asJson(b));
const asJson = (value: unknown): unknown =>
  isThing(value) || Array.isArray(value) ? JSON.parse(JSON.stringify(value)) : value;

/** Everything that differs between two values of the same shape, field by field; lists of things with ids by id. */
export function changesBetween(before: unknown, after: unknown, path: FieldPath = []): FieldChange[] {
  if (same(before, after)) return [];
  if (Array.isArray(before) && Array.isArray(after)) {
    const ids = hasIds([...before, ...after]);
    if (!ids) return [{ path, is: 'changed', before, after }];
    return changesInList(before as { id: Id }[], after as { id: Id }[], path);
  }
  if (isThing(before) && isThing(after))
    return [...new Set([...Object.keys(before), ...Object.keys(after)])].flatMap((key) =>
      changesBetween(before[key], after[key], [...path, key]),
    );
  const is = before === undefined ? 'added' : after === undefined ? 'removed' : 'changed';
  return [{ path, is, before, after }];
}

function changesInList(before: { id: Id }[], after: { id: Id }[], path: FieldPath): FieldChange[] {
  const [was, now] = [
    new Map(before.map((one) => [one.id, one])),
    new Map(after.map((one) => [one.id, one])),
  ];
  const kept = (list: { id: Id }[], other: Map<Id, unknown>) =>
    list.map(({ id }) => id).filter((id) => other.has(id));
  const [orderBefore, orderAfter] = [kept(before, now), kept(after, was)];
  // As few as possible were moved: the longest run still in its old order stayed.
  const stayed = longestRun(orderAfter.map((id) => orderBefore.indexOf(id)));
  const moved = orderAfter.filter((_, i) => !stayed.has(i));
  return [
    ...before
      .filter(({ id }) => !now.has(id))
      .map((one): FieldChange => ({ path: [...path, one.id], is: 'removed', before: one, after: undefined })),
    ...after
      .filter(({ id }) => !was.has(id))
      .map((one): FieldChange => ({ path: [...path, one.id], is: 'added', before: undefined, after: one })),
    ...moved.map((id): FieldChange => ({
      path: [...path, id],
      is: 'moved' as const,
      before: before.findIndex((one) => one.id === id),
      after: after.findIndex((one) => one.id === id),
    })),
    ...after.flatMap((one) => {
      const old = was.get(one.id);
      return old ? changesBetween(old, one, [...path, one.id]) : [];
    }),
  ];
}

/** A field that two people changed differently from the same beginning. */
export interface Conflict {
  path: FieldPath;
  base: unknown;
  mine: unknown;
  theirs: unknown;
}

/**
 * Merges two edits of the same beginning, field by field: what only one changed is taken, what both changed alike as well,
 * and what they changed differently is a conflict, in which `merged` has mine.
 */
export function merge<T>(base: T, mine: T, theirs: T): { merged: T; conflicts: Conflict[] } {
  const conflicts: Conflict[] = [];
  const visit = (b: unknown, m: unknown, t: unknown, path: FieldPath): unknown => {
    if (same(m, t) || same(b, t)) return m;
    if (same(b, m)) return t;
    if (Array.isArray(b) && Array.isArray(m) && Array.isArray(t) && hasIds([...b, ...m, ...t]))
      return visitList(b as { id: Id }[], m as { id: Id }[], t as { id: Id }[], path);
    if (isThing(b) && isThing(m) && isThing(t)) {
      const merged: Thing = {};
      for (const key of new Set([...Object.keys(b), ...Object.keys(m), ...Object.keys(t)])) {
        const value = visit(b[key], m[key], t[key], [...path, key]);
        if (value !== undefined) merged[key] = value;
      }
      return merged;
    }
    conflicts.push({ path, base: b, mine: m, theirs: t });
    return m;
  };
  const visitList = (b: { id: Id }[], m: { id: Id }[], t: { id: Id }[], path: FieldPath): unknown => {
    const [base_, mine_, theirs_] = [b, m, t].map((list) => new Map(list.map((one) => [one.id, one])));
    // The order is mine, unless only theirs was changed; what the other added goes in after what it came after.
    const ids = (list: { id: Id }[]) => list.map(({ id }) => id);
    const order = same(ids(b), ids(m)) ? ids(t) : ids(m);
    const other = order.length > 0 && same(ids(b), ids(m)) ? m : t;
    for (const [i, { id }] of other.entries())
      if (!order.includes(id)) {
        const before = other[i - 1]?.id;
        order.splice(before === undefined ? 0 : order.indexOf(before) + 1, 0, id);
      }
    return order.flatMap((id) => {
      const [inBase, inMine, inTheirs] = [base_!.get(id), mine_!.get(id), theirs_!.get(id)];
      const gone = inBase !== undefined && (inMine === undefined || inTheirs === undefined);
      if (!gone) return [visit(inBase, inMine ?? inTheirs, inTheirs ?? inMine, [...path, id])];
      const left = inMine ?? inTheirs;
      // Taken out by one and changed by the other: kept, and told.
      if (left === undefined || same(left, inBase)) return [];
      conflicts.push({ path: [...path, id], base: inBase, mine: inMine, theirs: inTheirs });
      return [left];
    });
  };
  return { merged: visit(base, mine, theirs, []) as T, conflicts };
}

/** Puts a value at a path, through ids and keys; gives a copy. */
export function setAt<T>(whole: T, path: FieldPath, value: unknown): T {
  const [head, ...rest] = path;
  if (head === undefined) return value as T;
  if (Array.isArray(whole)) {
    const at = typeof head === 'number' ? head : whole.findIndex((one) => (one as { id?: Id }).id === head);
    if (at < 0) return (value === undefined ? whole : [...whole, value]) as T;
    if (rest.length === 0 && value === undefined) return whole.toSpliced(at, 1) as T;
    return whole.with(at, setAt(whole[at], rest, value)) as T;
  }
  const { [String(head)]: old, ...others } = whole as Thing;
  const next = setAt(old, rest, value);
  return (next === undefined ? others : { ...(whole as Thing), [String(head)]: next }) as T;
}

/** A value to be put at a path, as `setAt` does; without a value the field is taken away. */
export interface Edit {
  path: FieldPath;
  value?: unknown;
}

/**
 * The edits that make one value of JSON into another, in any order; parts that are the same object are not looked into, so
 * that the cost is that of what was edited. A list whose length has changed is put whole.
 */
export function editsBetween(before: unknown, after: unknown, path: FieldPath = []): Edit[] {
  if (before === after) return [];
  if (isThing(before) && isThing(after))
    return [...new Set([...Object.keys(before), ...Object.keys(after)])].flatMap((key) =>
      editsBetween(before[key], after[key], [...path, key]),
    );
  if (Array.isArray(before) && Array.isArray(after) && before.length === after.length)
    return after.flatMap((one, i) => editsBetween(before[i], one, [...path, i]));
  return [{ path, value: after }];
}

/** A copy with the edits made. Throws where a path leads to nothing, as to a place that a list does not have. */
export const edited = <T>(whole: T, edits: readonly Edit[]): T =>
  edits.reduce((sum, { path, value }) => setAt(sum, path, value), whole);
