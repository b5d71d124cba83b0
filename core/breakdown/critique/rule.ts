import type { Draft } from '../breakdown';
import { placeOf } from '../causes';
import type { FieldPath } from '../field-path';
import type { Id } from '../ids';
import type { RuleTag, Technique } from '../technique';

export interface Finding {
  /** An error keeps an edition from being published; a warning does not. */
  severity: 'error' | 'warning';
  path: FieldPath;
  /** The fault, and what to do about it. */
  text: string;
}

/** What the critique must know of the rest of the library: the checkpoints of each technique, or null where there is none. */
export type Library = (technique: Id) => readonly Id[] | null;

/** What else an academy has; what is left out is not asked about. */
export interface Beside {
  pieces?: ReadonlySet<Id>;
  drills?: ReadonlySet<Id>;
  /** The rule tags of a technique, its mechanism counted in. */
  tagsOf?: (technique: Id) => readonly RuleTag[];
}

/** All that a rule may look at. */
export interface Whole {
  draft: Draft;
  technique: Technique;
  library: Library;
  beside: Beside;
}

/** The way from what a rule looks at to the field, and what to say there. */
export type FindingAt = readonly [path: FieldPath, text: string];

/** One thing that a program can see to be wrong. */
export interface Rule<One> {
  /** The fault, at each place where the rule finds it. */
  name: string;
  severity: Finding['severity'];
  /** `place` is that of `one` in its list, from 0. */
  find(one: One, whole: Whole, place: number): Iterable<FindingAt>;
}

export const isHere = ({ draft }: Whole, id: Id): boolean => placeOf(draft, id) >= 0;

/** Why a link into the library leads nowhere; null where it leads somewhere, or there is none. */
export function deadEnd(
  { draft, technique, library }: Whole,
  to: Id | undefined,
  checkpoint?: Id,
): string | null {
  if (to === undefined) return null;
  const known = to === technique.id ? draft.checkpoints.map(({ id }) => id) : library(to);
  if (!known) return `The library has no technique "${to}": choose one that exists.`;
  return checkpoint !== undefined && !known.includes(checkpoint)
    ? `"${to}" has no checkpoint "${checkpoint}": choose one that exists.`
    : null;
}

/** A finding at one field, where there is something to say. */
export function* saying(path: FieldPath, text: string | null | false): Iterable<FindingAt> {
  if (text) yield [path, text];
}

export const isEmpty = (text: string): boolean => text.trim() === '';

/** May this be published? */
export const publishable = (findings: readonly Finding[]): boolean =>
  findings.every(({ severity }) => severity !== 'error');
