import { type Finding, type Library, shippedPieces, type Technique } from '@ulkret/core/breakdown';
import { critique } from '@ulkret/core/breakdown/critique';
import { tagsOf } from '@ulkret/core/care';
import { shippedDrills } from '@ulkret/core/drills';
import { BreakdownFile } from '@ulkret/core/formats';
import { library } from '@ulkret/demo';
import { printJson, readJsonFile } from './json-file';

const usage = `npm run -s critique -- FILE
  FILE   breakdowns in the format of docs/formats.md; prints [{ "severity", "where", "words" }, …] of the latest editions`;

/** `npm run critique`: what the workbench would say of the breakdowns in a file; links may lead into what ships as well. */
export function run([file]: string[]): void {
  const { techniques, drills = [], pieces = [] } = readJsonFile(file, BreakdownFile, usage);
  const latest = new Map(
    [...library, ...techniques].map(({ technique, editions }) => [
      technique.id,
      editions.reduce((a, b) => (b.edition > a.edition ? b : a)),
    ]),
  );
  const known: Library = (id) => latest.get(id)?.checkpoints.map((one) => one.id) ?? null;
  const tags = new Map([...library, ...techniques].map(({ technique }) => [technique.id, tagsOf(technique)]));
  const beside = {
    drills: new Set([...shippedDrills, ...drills].map(({ id }) => id)),
    pieces: new Set([...shippedPieces, ...pieces].map(({ id }) => id)),
    tagsOf: (id: string) => tags.get(id) ?? [],
  };
  printJson(
    techniques.flatMap(({ technique }) =>
      critique(latest.get(technique.id)!, technique, known, beside).map((finding) =>
        told(technique, finding, techniques.length > 1),
      ),
    ),
  );
}

const told = ({ id }: Technique, { severity, path, text }: Finding, several: boolean) => ({
  severity,
  where: [...(several ? [id] : []), ...path].join('.'),
  words: text,
});
