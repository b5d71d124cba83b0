import { z } from 'zod';
import { type Id, Piece, Position, positionOf, positionsNamed, same, shippedPositions } from '../breakdown';
import { Drill, drillCalled } from '../drills';
import type { FileFault, TechniqueInFile } from './technique-in-file';

/** What goes along with breakdowns in a file, by the name of its list. */
const beside = { drills: Drill, pieces: Piece, positions: Position };
export interface Beside {
  drills: Drill;
  pieces: Piece;
  positions: Position;
}
export type BesideList = keyof Beside;

/** What a file would do to one drill or piece of an academy; one that is there and says otherwise stays as it is. */
export const BesideItem = z.object({
  id: z.string(),
  title: z.string(),
  is: z.enum(['new', 'same', 'stays', 'refused']),
  reason: z.string(),
});
export type BesideItem = z.infer<typeof BesideItem>;

/** The drills that go along with breakdowns: those that their mistakes name, and those that are made for a part or a piece of them. */
export function drillsWith(techniques: readonly TechniqueInFile[], drills: readonly Drill[]): Drill[] {
  const ids = new Set<Id>(techniques.map(({ technique }) => technique.id));
  const named = new Set(
    techniques.flatMap(({ editions }) =>
      editions.flatMap(({ mistakes }) =>
        mistakes.flatMap((mistake) => mistake.drills.map((words) => drillCalled(drills, words)?.id)),
      ),
    ),
  );
  const occurring = piecesIn(techniques);
  return drills.filter(({ id, trains: { checkpoints, mistakes, defences, ways, pieces = [] } }) => {
    const parts = [...checkpoints, ...mistakes, ...defences, ...ways];
    return (
      named.has(id) ||
      parts.some(({ technique }) => ids.has(technique)) ||
      pieces.some((piece) => occurring.has(piece))
    );
  });
}

const piecesIn = (techniques: readonly TechniqueInFile[]): ReadonlySet<Id | undefined> =>
  new Set(
    techniques.flatMap(({ editions }) =>
      editions.flatMap(({ checkpoints }) => checkpoints.map(({ piece }) => piece)),
    ),
  );

/** The pieces that go along with breakdowns: those that their checkpoints are. */
export function piecesWith(techniques: readonly TechniqueInFile[], pieces: readonly Piece[]): Piece[] {
  const occurring = piecesIn(techniques);
  return pieces.filter(({ id }) => occurring.has(id));
}

/** An academy's own positions that go along with breakdowns: those that they name, and what these have been merged into. */
export function positionsWith(
  techniques: readonly TechniqueInFile[],
  positions: readonly Position[],
): Position[] {
  const all = [...positions, ...shippedPositions];
  const named = new Set<Id>();
  for (const { technique, editions } of techniques)
    for (const edition of editions)
      for (const text of positionsNamed(technique, edition)) {
        const found = positionOf(text, all);
        if (found) named.add(found.id);
      }
  const isShipped = (one: Position) =>
    same(
      one,
      shippedPositions.find(({ id }) => id === one.id),
    );
  return positions.filter((one) => named.has(positionOf(one.id, all)?.id ?? one.id) && !isShipped(one));
}

/**
 * Reads a file's drills, pieces and positions against the known ones: a bad one never costs another, and no known one is
 * overwritten.
 */
export function readBeside<L extends BesideList>(
  list: L,
  given: readonly unknown[],
  known: readonly Beside[L][],
  pathOf: (path: readonly PropertyKey[]) => string,
): { items: BesideItem[]; keep: Beside[L][] } {
  const schema = beside[list] as unknown as z.ZodType<Beside[L]>;
  const read: { items: BesideItem[]; keep: Beside[L][] } = { items: [], keep: [] };
  const there = new Map(known.map((one) => [one.id, one]));
  given.forEach((raw, i) => {
    const named = raw as { id?: unknown; title?: unknown; name?: unknown } | null;
    const parsed = schema.safeParse(raw);
    if (!parsed.success) {
      const faults = parsed.error.issues.map(({ path, message }): FileFault => ({
        path: pathOf([list, i, ...path]),
        reason: message,
      }));
      const [id, title] = [named?.id, named?.title ?? named?.name].map((one) =>
        typeof one === 'string' ? one : '',
      );
      const reason = faults.map((fault) => `${fault.path}: ${fault.reason}`).join('; ');
      read.items.push({
        id: id!,
        title: title || id || `${list.slice(0, -1)} ${i + 1}`,
        is: 'refused',
        reason,
      });
      return;
    }
    const { id } = parsed.data;
    const title = 'title' in parsed.data ? parsed.data.title : parsed.data.name;
    const old = there.get(id);
    const tell = (is: BesideItem['is'], reason = '') => read.items.push({ id, title, is, reason });
    if (!old) {
      tell('new');
      read.keep.push(parsed.data);
      there.set(id, parsed.data);
    } else if (same(schema.parse(old), parsed.data)) tell('same');
    else tell('stays', 'This id already exists with other content; the existing one stays.');
  });
  return read;
}
