import { z } from 'zod';
import type { Draft } from './breakdown';
import { Id } from './ids';
import type { Technique } from './technique';

export const PositionFamily = z.enum([
  'standing',
  'guard',
  'half guard',
  'side',
  'scarf',
  'north–south',
  'mount',
  'back',
  'turtle',
  'leg entanglement',
]);
export type PositionFamily = z.infer<typeof PositionFamily>;

const longestName = 80;
const name = z.string().trim().min(1, 'a position needs a name').max(longestName);

/**
 * Where two people are to each other: where a technique starts, where an entry comes from, where a defence leaves them and a
 * retreat goes. A breakdown names it by its id or by any of its names.
 */
export const Position = z.object({
  id: Id,
  name,
  aliases: z.array(name).max(40),
  /** Null if it is not recorded. */
  family: PositionFamily.nullable(),
  /** Who is ahead: the person above or behind, the person below, or neither; null if it is not recorded. */
  ahead: z.enum(['above', 'neither', 'below']).nullable(),
  /** The position that it has been merged into: it is that one now. */
  mergedInto: Id.nullable().default(null),
});
export type Position = z.infer<typeof Position>;

const shipped = (
  family: PositionFamily,
  ahead: Position['ahead'],
  names: Readonly<Record<Id, readonly [string, ...string[]]>>,
): Position[] =>
  Object.entries(names).map(([id, [first, ...aliases]]) => ({
    id,
    name: first,
    aliases,
    family,
    ahead,
    mergedInto: null,
  }));

/** The positions that ship: names that most rooms use (common practice). */
export const shippedPositions: readonly Position[] = [
  ...shipped('standing', 'neither', {
    standing: ['Standing', 'On the feet'],
    'collar-tie': ['Collar tie', 'Neutral tie'],
    clinch: ['Clinch', 'Over-under clinch'],
    'standing-and-seated': ['Standing against seated'],
  }),
  ...shipped('standing', 'above', { 'standing-behind': ['Standing behind', 'Standing back'] }),
  ...shipped('guard', 'neither', {
    'closed-guard': ['Closed guard', 'Guard'],
    'open-guard': ['Open guard'],
    'butterfly-guard': ['Butterfly guard', 'Seated, hooks inside'],
    'shin-guard': ['Shin-to-shin guard'],
    'sleeve-guard': ['Sleeve guard', 'Feet on the arms'],
    'hook-guard': ['One-hook guard', 'Foot hook guard'],
  }),
  ...shipped('half guard', 'neither', {
    'half-guard': ['Half guard'],
    'knee-shield': ['Knee shield'],
    'deep-half-guard': ['Deep half guard'],
  }),
  ...shipped('half guard', 'above', { 'flat-half-guard': ['Half guard, flattened'] }),
  ...shipped('side', 'above', {
    'side-control': ['Side control', 'Across the side'],
    'knee-on-belly': ['Knee on belly', 'Knee ride'],
  }),
  ...shipped('scarf', 'above', {
    'scarf-hold': ['Scarf hold'],
    'reverse-scarf-hold': ['Reverse scarf hold'],
  }),
  ...shipped('north–south', 'above', { 'north-south': ['North–south', 'North-south'] }),
  ...shipped('mount', 'above', {
    mount: ['Mount', 'Full mount'],
    'high-mount': ['High mount', 'Knees in the armpits'],
    'mount-one-knee-up': ['Mount, one knee up'],
  }),
  ...shipped('back', 'above', {
    back: ['Back', 'Back with hooks', 'Back control'],
    'back-body-triangle': ['Back with the legs locked', 'Body triangle'],
  }),
  ...shipped('turtle', 'above', {
    turtle: ['Turtle', 'All fours'],
    'front-headlock': ['Front headlock'],
  }),
  ...shipped('leg entanglement', 'neither', {
    'outside-leg-entanglement': ['Outside leg entanglement'],
    'inside-leg-entanglement': ['Inside leg entanglement'],
    'crossed-leg-entanglement': ['Crossed leg entanglement'],
    'double-leg-entanglement': ['Double leg entanglement', 'Both legs entangled'],
  }),
];

const plain = (text: string): string => text.trim().toLowerCase().replace(/[–—]/g, '-').replace(/\.$/, '');

/**
 * The position that a text names, by id or any name; null if none matches. A merged position resolves to its target.
 */
export function positionOf(text: string, positions: readonly Position[]): Position | null {
  const wanted = plain(text);
  if (wanted === '') return null;
  const named = positions.find(
    ({ id, name: first, aliases }) =>
      id === wanted || [first, ...aliases].some((one) => plain(one) === wanted),
  );
  const seen = new Set<Id>();
  let found = named ?? null;
  while (found?.mergedInto && !seen.has(found.id)) {
    seen.add(found.id);
    const into: Id = found.mergedInto;
    found = positions.find(({ id }) => id === into) ?? null;
  }
  return found;
}

/** Every text by which a breakdown names a position. */
export const positionsNamed = (
  { startPosition }: Pick<Technique, 'startPosition'>,
  { entries = [], defences, fallback }: Pick<Draft, 'entries' | 'defences' | 'fallback'>,
): string[] =>
  [
    startPosition,
    ...entries.map(({ from }) => from),
    ...(fallback ? [fallback.position] : []),
    ...defences.flatMap(({ leaves, answers }) => [
      leaves.position,
      ...answers.flatMap((answer) => (answer.do === 'retreat' ? [answer.to] : [])),
    ]),
    // A whole sentence is no name.
  ].filter((text) => plain(text) !== '' && text.trim().length <= longestName);

/** An id made of a text, that is not among those that are taken. */
function idOf(text: string, taken: ReadonlySet<Id>): Id {
  const stem =
    plain(text)
      .normalize('NFD')
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 50) || 'position';
  let id = stem;
  for (let n = 2; taken.has(id); n++) id = `${stem}-${n}`;
  return id;
}

/**
 * The positions of an academy: its own over those that ship, and one for each text of its library that names none of them, so
 * that nothing that was written is without one.
 */
export function positionsFrom(own: readonly Position[], named: Iterable<string>): Position[] {
  const mine = new Map(own.map((one) => [one.id, one]));
  const all = [...shippedPositions.filter(({ id }) => !mine.has(id)), ...own];
  const taken = new Set(all.map(({ id }) => id));
  for (const text of named) {
    if (positionOf(text, all)) continue;
    const id = idOf(text, taken);
    taken.add(id);
    all.push({
      id,
      name: text.trim(),
      aliases: [],
      family: null,
      ahead: null,
      mergedInto: null,
    });
  }
  return all;
}

/** Two positions after the first has been merged into the second: it is called by all that the first was called by. */
export function merged(from: Position, into: Position): { from: Position; into: Position } {
  const names = [from.name, ...from.aliases].filter(
    (one) => ![into.name, ...into.aliases].some((known) => plain(known) === plain(one)),
  );
  return {
    from: { ...from, mergedInto: into.id },
    into: { ...into, aliases: [...into.aliases, ...names] },
  };
}

/** A position after it was edited: what it was called before it is still called, so that what is written still finds it. */
export const renamed = (before: Position, after: Position): Position =>
  [after.name, ...after.aliases].some((one) => plain(one) === plain(before.name))
    ? after
    : { ...after, aliases: [...after.aliases, before.name] };
