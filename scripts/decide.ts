import { Breakdown, Id, type Side } from '@ulkret/core/breakdown';
import { shippedDrills } from '@ulkret/core/drills';
import { finished } from '@ulkret/core/hazard';
import { decide, decidedBy, prescriptionWords } from '@ulkret/core/prescription';
import {
  choicesOf,
  everything,
  fitAcademy,
  fold,
  fullReading,
  tallyWeeks,
  weeksBefore,
} from '@ulkret/core/reading';
import { faultOf, followFault, Rep, withoutNothing } from '@ulkret/core/rep';
import { z } from 'zod';
import { printJson, readJsonFile } from './json-file';
import { Trouble } from './trouble';

const usage = `npm run -s decide -- FILE
  FILE   { "breakdown": an edition, "reps": as in POST /api/reps, "student": id }; prints what to correct first, as of the
         latest rep, with the house's rules left aside: nobody is on a roster here`;

const Asked = z.object({ breakdown: Breakdown, reps: z.array(z.unknown()), student: Id });

/** `npm run decide`: the decision that the app would make from the reps in a file, and why. What cannot be read is listed. */
export function run([file]: string[]): void {
  const { breakdown, reps: given, student } = readJsonFile(file, Asked, usage);
  const reps: Rep[] = [];
  const refused: { rep: number; reason: string }[] = [];
  given.forEach((raw, i) => {
    const read = Rep.safeParse(withoutNothing(raw));
    const reason = read.success
      ? read.data.technique !== breakdown.technique || read.data.edition !== breakdown.edition
        ? `it is of ${read.data.technique}, edition ${read.data.edition}`
        : (faultOf(breakdown, read.data)?.reason ?? null)
      : read.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`).join('; ');
    if (read.success && reason === null) reps.push(read.data);
    else refused.push({ rep: i, reason: reason! });
  });
  // What a rep follows is looked up once all are read: a file may have them in any order.
  const byId = new Map(reps.map((rep) => [rep.id, rep]));
  for (const rep of [...reps]) {
    const before = rep.follows && byId.get(rep.follows.rep);
    const reason = before ? followFault(rep, before, breakdown) : null;
    if (reason === null) continue;
    reps.splice(reps.indexOf(rep), 1);
    refused.push({ rep: given.findIndex((raw) => (raw as { id?: unknown }).id === rep.id), reason });
  }
  if (reps.length === 0)
    throw new Trouble(`No rep of ${file} fits the breakdown: ${refused[0]?.reason ?? 'there is none'}.`);

  const asOf = reps
    .map(({ at }) => new Date(at).toISOString())
    .sort()
    .at(-1)!;
  const { halfLifeDays, weeks } = decidedBy;
  const mainSides = new Map<Id, Side>();
  const tallies = tallyWeeks(
    new Map([[breakdown.technique, new Map([[breakdown.edition, breakdown]])]]),
    reps,
    () => null,
  );
  const cells = fold(tallies, { asOf, since: weeksBefore(asOf, weeks - 1), halfLifeDays });
  const question = { breakdown, cells, slice: everything, mainSides };
  const reading = fullReading(question, finished(fitAcademy(cells, mainSides, { breakdowns: [breakdown] })));
  const answers = new Map(
    choicesOf(breakdown, new Map([[breakdown.edition, breakdown]]), reps).answers.map((one) => [
      one.defence,
      one.answers.flatMap(({ answer, tried, worked }) =>
        answer === null ? [] : [{ answer, tried, worked }],
      ),
    ]),
  );
  const decision = decide(breakdown, reading, () => ({
    mainSide: 'right',
    answers,
    drills: shippedDrills,
  })).find((one) => one.student === student);
  const prescription = decision?.prescription ?? { kind: 'none' as const, reps: 0, onwards: null };
  const { what, why, how } = prescriptionWords(breakdown, prescription, student, 'right');
  const { dose, ...numbers } = { dose: undefined, ...prescription };
  printJson({ ...numbers, ...dose, what, why, how, refused });
}
