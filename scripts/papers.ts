import { readFileSync, writeFileSync } from 'node:fs';
import { factLists, kindOf } from '@ulkret/core/facts';
import { z } from 'zod';

const file = 'docs/formats.md';
const [head, tail] = ['<!-- kinds of facts: made by `npm run -s papers` -->\n', '<!-- end of kinds -->'];

/** The fields of a kind, those of all of its forms. */
function fieldsOf(schema: z.ZodType): string[] {
  const forms = schema instanceof z.ZodDiscriminatedUnion ? schema.options : [schema];
  return [...new Set(forms.flatMap((form) => Object.keys((form as z.ZodObject).shape)))];
}

/** Every kind of fact as a table: its list, what one is called, what it says, its fields. */
export function kindsTable(): string {
  const rows = factLists().map((list) => {
    const { is, says, schema } = kindOf(list);
    const fields = fieldsOf(schema).map((field) => `\`${field}\``);
    return [`\`${list}\``, is, says, fields.join(', ')];
  });
  const line = (cells: readonly string[]) => `| ${cells.join(' | ')} |\n`;
  return [['list', 'one is a', 'it says', 'fields'], ['---', '---', '---', '---'], ...rows]
    .map(line)
    .join('');
}

/** The papers, with their generated parts updated. */
export function papersNow(before: string): string {
  const [start, end] = [before.indexOf(head), before.indexOf(tail)];
  if (start < 0 || end < start) throw new Error(`${file} has lost the marks around the table of kinds.`);
  return `${before.slice(0, start + head.length)}\n${kindsTable()}\n${before.slice(end)}`;
}

export function run(): void {
  writeFileSync(file, papersNow(readFileSync(file, 'utf8')));
}
