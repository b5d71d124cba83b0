import { versus } from '@ulkret/core/reading';
import { z } from 'zod';
import { printJson, readJsonFile } from './json-file';

const usage = `npm run -s compare -- FILE
  FILE   { "comparisons": [{ "a": { student: [held, n], … }, "b": { … } }, …] }; prints how sure it is that a holds more
         often than b, and how often each holds for these students`;

const Counts = z.record(
  z.string(),
  z
    .array(z.int().min(0))
    .length(2)
    .refine(([held, n]) => held! <= n!, 'more held than there were reps'),
);
const Asked = z.object({ comparisons: z.array(z.object({ a: Counts, b: Counts })) });

/** `npm run compare`: which of two things holds more often, from each student's counts. */
export function run([file]: string[]): void {
  const { comparisons } = readJsonFile(file, Asked, usage);
  printJson({
    comparisons: comparisons.map((both) =>
      versus(
        (['a', 'b'] as const).flatMap((of) =>
          Object.entries(both[of]).map(([student, [held, n]]) => ({ student, of, held: held!, n: n! })),
        ),
      ),
    ),
  });
}
