import { readFileSync } from 'node:fs';
import { finished, fit, flatPriors, placesOf, type TrialRow, trialsOf } from '@ulkret/core/hazard';
import { z } from 'zod';
import { Trouble } from './trouble';

const usage = 'npm run -s fit -- FILE';

/** Reps as a statistician has them: `stop` is the checkpoint a rep ended at, from 1, or 0 where it finished. */
const File = z.object({
  reps: z
    .array(
      z.object({
        student: z.union([z.int(), z.string()]).transform(String),
        level: z.int(),
        off: z.number(),
        lmr: z.number(),
        stop: z.int().min(0),
      }),
    )
    .min(1),
  checkpoints: z.int().positive(),
});

/**
 * `npm run fit`: the hierarchical hazard model with no prior opinion and unit weights, which is what R's
 * `lme4::glmer(stop ~ 0 + checkpoint + level + off + lmr + (1 | student) + (1 | student:checkpoint), nAGQ = 0)` fits.
 */
export async function run([file]: string[]): Promise<void> {
  if (!file) throw new Trouble(usage);
  let text: string;
  try {
    text = readFileSync(file, 'utf8');
  } catch {
    throw new Trouble(`${file} cannot be read. ${usage}`);
  }
  let given: unknown;
  try {
    given = JSON.parse(text);
  } catch (error) {
    throw new Trouble(`${file} is not JSON: ${(error as Error).message}.`);
  }
  const read = File.safeParse(given);
  if (!read.success) {
    const [issue] = read.error.issues;
    throw new Trouble(`${file}: ${issue?.path.join('.')}: ${issue?.message}.`);
  }
  const { reps, checkpoints } = read.data;
  const strange = reps.findIndex(({ stop }) => stop > checkpoints);
  if (strange >= 0)
    throw new Trouble(`${file}: reps.${strange}.stop: there are only ${checkpoints} checkpoints.`);
  const rows = reps.flatMap(({ student, level, off, lmr, stop }): TrialRow[] =>
    Array.from({ length: stop === 0 ? checkpoints : stop }, (_, i) => ({
      student,
      checkpoint: String(i + 1),
      level,
      off,
      mass: lmr,
      reached: 1,
      failed: stop === i + 1 ? 1 : 0,
    })),
  );
  const trials = trialsOf(rows, Math.min(...reps.map(({ level }) => level)));
  const { effects, deviation, scales } = finished(fit(trials, flatPriors, { tolerance: 1e-5 }));
  const places = placesOf(trials);
  const numbered = (list: readonly (readonly [string, number])[]) =>
    Object.fromEntries([...list].sort(([a], [b]) => a.localeCompare(b, 'en', { numeric: true })));
  const { cells, students } = trials;
  console.log(
    JSON.stringify({
      fixed: {
        ...numbered(trials.checkpoints.map((id, i) => [`checkpoint${id}`, effects[i]!] as const)),
        ...Object.fromEntries(trials.levels.map((id, i) => [`level${id}`, effects[places.level + i]!])),
        off: effects[places.off]!,
        lmr: effects[places.mass]!,
      },
      student: numbered(students.map((id, i) => [id, effects[places.student + i]!] as const)),
      studentCheckpoint: numbered(
        Array.from(deviation, (own, cell): [string, number] => [
          `${students[cells.student[cell]!]}.${trials.pieces[cells.piece[cell]!]}`,
          own,
        ]),
      ),
      tau_student: scales.student,
      tau_studentCheckpoint: scales.deviation,
    }),
  );
}
