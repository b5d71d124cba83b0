import type { Everything } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { type Fact, factLists, kindOf, type Names } from '@ulkret/core/facts';
import { coachesOf } from '../access/coaches';
import type { Db } from '../db/connect';
import { editionsOf, techniqueNames } from '../library/techniques';

const marks: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};
/** Text for HTML: nothing that somebody typed is read as markup. */
const plain = (text: unknown): string => String(text ?? '').replace(/[&<>"']/g, (mark) => marks[mark]!);

const table = (heads: readonly string[], rows: readonly (readonly unknown[])[]): string =>
  rows.length === 0
    ? '<p>Nothing.</p>'
    : `<table><thead><tr>${heads.map((head) => `<th scope="col">${plain(head)}</th>`).join('')}</tr></thead><tbody>${rows
        .map((row) => `<tr>${row.map((cell) => `<td>${plain(cell)}</td>`).join('')}</tr>`)
        .join('')}</tbody></table>`;

/** `2026-11-28 18:30` in UTC. */
const moment = (at: string): string => at.slice(0, 16).replace('T', ' ');
const spaced = (field: string): string => field.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);

/** One table for each kind of fact. */
const factSections = (person: Id, facts: Everything['facts'], names: Names): [string, string][] =>
  factLists().flatMap((list): [string, string][] => {
    const { tells } = kindOf(list);
    if (!tells) return [];
    const rows = (facts[list] as Fact[]).flatMap((fact) => {
      const row = tells.row(fact, person, names);
      return row ? [row] : [];
    });
    return [[tells.title, table(tells.columns, rows)]];
  });

/** The tables of the page, each with its title. */
function sectionsOf(all: Everything, names: Names): readonly (readonly [title: string, content: string])[] {
  const { student, sessions, facts, notes, links, accounts } = all;
  const body = Object.entries(student)
    .filter(
      ([field, value]) =>
        !['id', 'name', 'injuries', 'measured', 'guardian'].includes(field) && value !== null,
    )
    .map(([field, value]) => [spaced(field), Array.isArray(value) ? value.join(', ') || 'none' : value]);
  return [
    ['Who', table(['What', 'Value'], body)],
    [
      'Guardian',
      table(['Name', 'Contact'], student.guardian ? [[student.guardian.name, student.guardian.contact]] : []),
    ],
    [
      'Measured',
      table(
        ['What', 'On', 'By'],
        Object.entries(student.measured).map(([fact, { on, by }]) => [spaced(fact), on, names.coach(by)]),
      ),
    ],
    [
      'Injuries',
      table(
        ['Region', 'Side', 'Since', 'Until', 'Note'],
        student.injuries.map(({ region, side, since, until, note }) => [region, side, since, until, note]),
      ),
    ],
    [
      'Classes',
      table(
        ['When', 'Technique'],
        sessions.map(({ startedAt, technique }) => [moment(startedAt), names.technique(technique)]),
      ),
    ],
    ...factSections(student.id, facts, names),
    [
      'Notes',
      table(
        ['When', 'By', 'Seen by', 'Words'],
        notes.map(({ at, byName, seenBy, words }) => [moment(at), byName, seenBy, words]),
      ),
    ],
    [
      'Links to the card',
      table(
        ['Made', 'Until', 'Last opened'],
        links.map(({ madeAt: made, expiresAt, openedAt }) => [
          moment(made),
          moment(expiresAt),
          openedAt === null ? 'never' : moment(openedAt),
        ]),
      ),
    ],
    [
      'Sign-in',
      table(
        ['Name', 'Email'],
        accounts.map(({ name, email }) => [name, email]),
      ),
    ],
  ];
}

/** Everything stored about a person as one page that opens without a network. It names no partners. */
export function pageOf(all: Everything, names: Names, madeAt: string): string {
  const { student } = all;
  const sections = sectionsOf(all, names);
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>${plain(student.name)}: all data</title>
<style>
body { font: 1rem/1.5 system-ui, sans-serif; margin: 2rem auto; max-width: 60rem; padding: 0 1rem; }
table { border-collapse: collapse; width: 100%; }
th, td { text-align: left; vertical-align: top; padding: 0.3rem 0.6rem 0.3rem 0; border-bottom: 1px solid #ccc; }
</style>
</head>
<body>
<h1>${plain(student.name)}: all data</h1>
<p>As of ${plain(moment(madeAt))} (all times are UTC). Partners are left out: their data is theirs.</p>
${sections.map(([title, content]) => `<h2>${plain(title)}</h2>\n${content}`).join('\n')}
</body>
</html>
`;
}

/** What ids are called in an academy, as far as this person's page names them. */
export async function namesFor(db: Db, academyId: Id, { facts }: Everything): Promise<Names> {
  const used = factLists().flatMap((list) => {
    const { edition } = kindOf(list);
    return edition ? (facts[list] as Fact[]).map((fact) => edition(fact).technique) : [];
  });
  const [names, coaches, editions] = await Promise.all([
    techniqueNames(db, academyId),
    coachesOf(db, academyId),
    editionsOf(db, academyId, [...new Set(used)]),
  ]);
  const technique = new Map(names.map(({ id, name }) => [id, name]));
  const coach = new Map(coaches.map(({ id, name }) => [id, name]));
  return {
    technique: (id) => technique.get(id) ?? id,
    coach: (id) => coach.get(id) ?? id,
    edition: (id, edition) => editions.get(id)?.get(edition),
  };
}
