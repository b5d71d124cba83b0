import {
  type Id,
  merged,
  type Position,
  positionOf,
  positionsFrom,
  positionsNamed,
  renamed,
} from '@ulkret/core/breakdown';
import { eq } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { positions } from '../db/schema';
import { wholeLibrary } from './techniques';

/** The positions that an academy has added or changed. */
export async function ownPositions(db: Db, academyId: Id): Promise<Position[]> {
  const rows = await db
    .select()
    .from(positions)
    .where(eq(positions.academyId, academyId))
    .orderBy(positions.id);
  return rows.map(({ position }) => position);
}

/** All that are there, merged ones too; and the texts by which each technique names some. */
async function every(db: Db, academyId: Id) {
  const named = (await wholeLibrary(db, academyId)).flatMap(({ technique, editions }) => {
    const latest = editions.at(-1);
    return latest ? [{ technique: technique.id, texts: positionsNamed(technique, latest) }] : [];
  });
  const all = positionsFrom(
    await ownPositions(db, academyId),
    named.flatMap(({ texts }) => texts),
  );
  return { all, named };
}

/** The positions of an academy by their names, each with the techniques that name it. */
export async function positionsOf(db: Db, academyId: Id): Promise<(Position & { techniques: Id[] })[]> {
  const { all, named } = await every(db, academyId);
  const by = new Map<Id, Set<Id>>();
  for (const { technique, texts } of named)
    for (const text of texts) {
      const found = positionOf(text, all);
      if (found) by.set(found.id, (by.get(found.id) ?? new Set<Id>()).add(technique));
    }
  return all
    .map((one) => ({ ...one, techniques: [...(by.get(one.id) ?? [])] }))
    .sort((a, b) => a.name.localeCompare(b.name));
}

/** The position that a text names, by its first name; the text itself where it names none. */
export async function positionNamer(db: Db, academyId: Id): Promise<(text: string) => string> {
  const all = positionsFrom(await ownPositions(db, academyId), []);
  return (text) => positionOf(text, all)?.name ?? text;
}

/** Adds a position or replaces it. */
export const keepPosition = async (db: Db, academyId: Id, position: Position): Promise<Position> => {
  await db
    .insert(positions)
    .values({ academyId, id: position.id, position })
    .onConflictDoUpdate({ target: [positions.academyId, positions.id], set: { position } });
  return position;
};

export async function savePosition(
  db: Db,
  academyId: Id,
  position: Omit<Position, 'mergedInto'>,
): Promise<Position> {
  const before = (await every(db, academyId)).all.find(({ id }) => id === position.id);
  const next = { ...position, mergedInto: before?.mergedInto ?? null };
  return keepPosition(db, academyId, before ? renamed(before, next) : next);
}

/** Merges one position into another; null where one of the two is not there, or they are one already. */
export const mergePosition = (db: Db, academyId: Id, from: Id, into: Id): Promise<Position | null> =>
  db.transaction(async (tx) => {
    const { all } = await every(tx, academyId);
    const one = all.find(({ id }) => id === from);
    const other = positionOf(into, all);
    if (!one || !other || other.id === positionOf(from, all)?.id) return null;
    const two = merged(one, other);
    await keepPosition(tx, academyId, two.from);
    return keepPosition(tx, academyId, two.into);
  });

/** Takes a merge back: the other one is no longer called by the names that came with it. */
export const partPosition = (db: Db, academyId: Id, id: Id): Promise<Position | null> =>
  db.transaction(async (tx) => {
    const { all } = await every(tx, academyId);
    const one = all.find((position) => position.id === id);
    const into = all.find((position) => position.id === one?.mergedInto);
    if (!one || !into) return null;
    const names = new Set([one.name, ...one.aliases]);
    await keepPosition(tx, academyId, {
      ...into,
      aliases: into.aliases.filter((alias) => !names.has(alias)),
    });
    return keepPosition(tx, academyId, { ...one, mergedInto: null });
  });
