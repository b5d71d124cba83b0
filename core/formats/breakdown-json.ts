import { z } from 'zod';
import type { Breakdown } from '../breakdown';
import { changesBetween, type Id, Piece, Position, withAnswerIds } from '../breakdown';
import { withHow } from '../care';
import { Drill } from '../drills';
import { finished, type Steps } from '../math';
import {
  type Beside,
  type BesideItem,
  type BesideList,
  drillsWith,
  piecesWith,
  positionsWith,
  readBeside,
} from './beside-in-file';
import { FileFault, TechniqueInFile } from './technique-in-file';

const format = 'ulkret.breakdown/2';
/** What is read: the format of today, and the one before it, which says less and means the same. */
const Format = z.enum([format, 'ulkret.breakdown/1']);

/** Techniques with their breakdowns as a file: one, or a whole library. Documented in docs/formats.md. */
export const BreakdownFile = z.object({
  format: Format,
  techniques: z.array(TechniqueInFile),
  /** Those that the breakdowns name, or that are made for a part of them. */
  drills: z.array(Drill).optional(),
  /** Those that their checkpoints are. */
  pieces: z.array(Piece).optional(),
  /** The academy's own that they name. */
  positions: z.array(Position).optional(),
});
export type BreakdownFile = z.infer<typeof BreakdownFile>;

/** An academy's drills, pieces and positions. */
export type KnownBeside = { readonly [L in BesideList]?: readonly Beside[L][] };

/** Techniques as a file, with those of an academy's drills, pieces and positions that belong to them. */
export const breakdownFileOf = (
  techniques: readonly TechniqueInFile[],
  { drills = [], pieces = [], positions = [] }: KnownBeside = {},
): BreakdownFile => ({
  format,
  techniques: [...techniques],
  drills: drillsWith(techniques, drills),
  pieces: piecesWith(techniques, pieces),
  positions: positionsWith(techniques, positions),
});

/** The format as JSON Schema (draft 2020-12), made from the same schema that reads it. */
export const breakdownJsonSchema = () => ({
  ...z.toJSONSchema(BreakdownFile, { io: 'input' }),
  title: format,
});

/** What a file would do to one technique of a library. */
export const FileItem = z.object({
  technique: z.string(),
  name: z.string(),
  is: z.enum(['new', 'changed', 'same', 'refused']),
  /** The critique finds errors in it (they are the faults): it is not published, and comes in as a draft. */
  draft: z.boolean(),
  /** Fields that differ from the latest edition that is known. */
  changes: z.int(),
  faults: z.array(FileFault),
  /** Fields of the file that nobody knows here, and that were left out. */
  unknown: z.array(z.string()),
});
export type FileItem = z.infer<typeof FileItem>;

export interface ReadFile {
  items: FileItem[];
  /** What to keep, technique by technique: editions that the library does not have yet. */
  keep: TechniqueInFile[];
  beside: { [L in BesideList]: { items: BesideItem[]; keep: Beside[L][] } };
}

/** The way to a place in a file: `techniques[2].editions[0].mistakes[1].root`. */
export const pathOf = (path: readonly PropertyKey[]): string =>
  path.reduce<string>(
    (sum, key) =>
      typeof key === 'number' ? `${sum}[${key}]` : sum === '' ? String(key) : `${sum}.${String(key)}`,
    '',
  );

const withoutNumber = ({ edition: _, date: __, ...rest }: Breakdown) => rest;
const differences = (a: Breakdown, b: Breakdown): number =>
  changesBetween(withoutNumber(withAnswerIds(a)), withoutNumber(withAnswerIds(b))).length;

/**
 * Reads a file of breakdowns against a library, technique by technique: a bad one never costs the others. An edition that
 * the library has under the same number with other content is never overwritten: the file's latest becomes the next one.
 * It pauses after each technique.
 */
export function* readBreakdownSteps(
  given: unknown,
  known: (technique: Id) => TechniqueInFile | null,
  there: KnownBeside = {},
): Steps<ReadFile | { fault: FileFault }> {
  const many = z.array(z.unknown()).max(2000);
  const outer = z
    .object({
      format: Format,
      techniques: many,
      drills: many.default([]),
      pieces: many.default([]),
      positions: many.default([]),
    })
    .safeParse(given);
  if (!outer.success) {
    const [issue] = outer.error.issues;
    const path = pathOf(issue?.path ?? []);
    const reason = path === 'format' ? `the format should be "${format}"` : (issue?.message ?? 'unreadable');
    return { fault: { path: path || 'file', reason } };
  }
  const beside = {
    drills: readBeside('drills', outer.data.drills, there.drills ?? [], pathOf),
    pieces: readBeside('pieces', outer.data.pieces, there.pieces ?? [], pathOf),
    positions: readBeside('positions', outer.data.positions, there.positions ?? [], pathOf),
  };
  const read: ReadFile = { items: [], keep: [], beside };
  const seen = new Set<string>();
  for (const [i, raw] of outer.data.techniques.entries()) {
    readTechnique(raw, i, known, seen, read);
    yield;
  }
  return read;
}

/** `readBreakdownSteps` in one go. */
export const readBreakdownFile = (...given: Parameters<typeof readBreakdownSteps>) =>
  finished(readBreakdownSteps(...given));

/** The ways to fields that a file has and that what was read of it has not. */
function unknownIn(raw: unknown, read: unknown, path: readonly PropertyKey[]): string[] {
  if (Array.isArray(raw) && Array.isArray(read))
    return raw.flatMap((one, i) => unknownIn(one, read[i], [...path, i]));
  if (raw === null || typeof raw !== 'object' || read === null || typeof read !== 'object') return [];
  return Object.entries(raw).flatMap(([key, value]) =>
    Object.hasOwn(read, key)
      ? unknownIn(value, (read as Record<string, unknown>)[key], [...path, key])
      : [pathOf([...path, key])],
  );
}

/** Reads the i-th technique of a file into what was read of it. */
function readTechnique(
  raw: unknown,
  i: number,
  known: (technique: Id) => TechniqueInFile | null,
  seen: Set<string>,
  read: ReadFile,
): void {
  const named = (raw as { technique?: { id?: unknown; name?: unknown } } | null)?.technique;
  const [technique, name] = [
    String(named?.id ?? ''),
    String(named?.name ?? named?.id ?? `technique ${i + 1}`),
  ];
  const refuse = (faults: FileFault[]) =>
    read.items.push({ technique, name, is: 'refused', draft: false, changes: 0, faults, unknown: [] });
  const parsed = TechniqueInFile.safeParse(raw);
  if (!parsed.success) {
    refuse(
      parsed.error.issues.map(({ path, message }) => ({
        path: pathOf(['techniques', i, ...path]),
        reason: message,
      })),
    );
    return;
  }
  const { editions } = parsed.data;
  const one = withHow(parsed.data.technique, editions.at(-1));
  const strange = editions.findIndex((edition) => edition.technique !== one.id);
  if (strange >= 0) {
    const path = pathOf(['techniques', i, 'editions', strange, 'technique']);
    refuse([{ path, reason: `it should be "${one.id}", the id of its technique` }]);
    return;
  }
  if (seen.has(one.id)) {
    refuse([
      { path: pathOf(['techniques', i, 'technique', 'id']), reason: `"${one.id}" is in the file twice` },
    ]);
    return;
  }
  seen.add(one.id);
  const unknown = unknownIn(raw, parsed.data, ['techniques', i]);
  const sorted = editions.map(withAnswerIds).sort((a, b) => a.edition - b.edition);
  const old = known(one.id);
  if (!old) {
    read.items.push({ technique, name, is: 'new', draft: false, changes: 0, faults: [], unknown });
    read.keep.push({ technique: one, editions: sorted });
    return;
  }
  const latest = old.editions.at(-1)!;
  const newest = sorted.at(-1)!;
  const changes = differences(latest, newest) + changesBetween(withHow(old.technique, latest), one).length;
  read.items.push({
    technique,
    name,
    is: changes === 0 ? 'same' : 'changed',
    draft: false,
    changes,
    faults: [],
    unknown,
  });
  if (changes === 0) return;
  const fresh = sorted.filter(({ edition }) => edition > latest.edition);
  const next = { ...newest, edition: latest.edition + 1 };
  // A rule tag that goes is a change of what people may do: it makes an edition, and never passes unseen.
  const dropsTag = old.technique.ruleTags.some((tag) => !one.ruleTags.includes(tag));
  // An edition numbered as an old one, but with other content, counts as newer: existing editions are never
  // overwritten.
  const editionsToKeep =
    newest.edition <= latest.edition ? (differences(latest, newest) > 0 || dropsTag ? [next] : []) : fresh;
  read.keep.push({ technique: one, editions: editionsToKeep });
}
