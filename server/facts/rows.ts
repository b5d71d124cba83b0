import { type Fact, type FactList, type FactOf, kindOf } from '@ulkret/core/facts';
import { getTableColumns } from 'drizzle-orm';
import { z } from 'zod';
import { factTables } from './tables';

/** Columns that are the store's own and no field of a fact. */
const own = new Set(['academyId', 'receivedAt', 'sentBy']);

const columnsOf = (list: FactList) =>
  Object.entries(getTableColumns(factTables[list])).filter(([field]) => !own.has(field));

export const columnNames = (list: FactList): string[] => columnsOf(list).map(([, { name }]) => name);

/**
 * A fact as a row, by the names of the columns. A field that has no column is an error: to drop it silently would be to
 * lose it.
 */
export function toRow<K extends FactList>(list: K, fact: FactOf<K>): Record<string, unknown> {
  const columns = columnsOf(list);
  const fields = new Set(columns.map(([field]) => field));
  const homeless = Object.keys(fact).find((field) => !fields.has(field));
  if (homeless !== undefined) throw new Error(`the table of ${list} has no column for "${homeless}"`);
  return Object.fromEntries(
    columns.map(([field, { name }]) => [name, (fact as Record<string, unknown>)[field] ?? null]),
  );
}

/** A row as it was selected, by the names of the columns. */
export const byColumn = (list: FactList, row: Readonly<Record<string, unknown>>): Record<string, unknown> =>
  Object.fromEntries(columnsOf(list).map(([field, { name }]) => [name, row[field] ?? null]));

/** A field, and whether a fact that says nothing of it is without it. */
interface Field {
  name: string;
  mayMiss: boolean;
}

const fieldsBySchema = new Map<z.ZodType, ReadonlyMap<unknown, readonly Field[]>>();

/** The fields of a fact by the value that tells its forms apart; under undefined where a kind has only one form. */
function fieldsOf(schema: z.ZodType): ReadonlyMap<unknown, readonly Field[]> {
  const known = fieldsBySchema.get(schema);
  if (known) return known;
  const shapeOf = (one: unknown) => (one as z.ZodObject).shape;
  const named = (shape: z.ZodObject['shape']): Field[] =>
    Object.entries(shape).map(([name, type]) => {
      const { success } = (type as z.ZodType).safeParse(null);
      return { name, mayMiss: !success };
    });
  const fields =
    schema instanceof z.ZodDiscriminatedUnion
      ? new Map(
          schema.options.map((option) => {
            const shape = shapeOf(option);
            const form = (shape[schema.def.discriminator] as unknown as z.ZodLiteral).value;
            return [form, named(shape)] as const;
          }),
        )
      : new Map([[undefined, named(shapeOf(schema))]]);
  fieldsBySchema.set(schema, fields);
  return fields;
}

/** A row as a fact, with the fields of its form and no other; or why it is none. */
export type Stored<K extends FactList> = { fact: FactOf<K> } | { reason: string };

/**
 * Reads a row. What an earlier release took and no reader of today understands, such as a rep of the year 26, is set aside
 * with its reason: it costs no other.
 */
export function readRow<K extends FactList>(list: K, row: Readonly<Record<string, unknown>>): Stored<K> {
  const { schema } = kindOf(list);
  const form =
    schema instanceof z.ZodDiscriminatedUnion ? row[schema.def.discriminator as string] : undefined;
  const fact: Record<string, unknown> = {};
  for (const { name, mayMiss } of fieldsOf(schema).get(form) ?? [])
    if (!mayMiss || row[name] !== null) fact[name] = row[name];
  const read = schema.safeParse(fact);
  if (read.success) return { fact: fact as unknown as Fact as FactOf<K> };
  const [issue] = read.error.issues;
  return { reason: `${issue?.path.join('.') || 'all of it'}: ${issue?.message}` };
}

/** The facts among some rows; what cannot be read is left out, and told by `setAside`. */
export const factsAmong = <K extends FactList>(
  list: K,
  rows: readonly Readonly<Record<string, unknown>>[],
): FactOf<K>[] =>
  rows.flatMap((row) => {
    const stored = readRow(list, row);
    return 'fact' in stored ? [stored.fact] : [];
  });
