import { execFile } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { breakdownFileOf } from '@ulkret/core/formats';
import { aRep, plainBreakdown } from '../core/test';
import { testTechnique } from '../server/test/academy';

let dir: string;
beforeAll(async () => {
  dir = await mkdtemp(path.join(tmpdir(), 'ulkret-commands-'));
});
afterAll(() => rm(dir, { recursive: true, force: true }));

/** What a command prints about a file that is written for it. */
async function told(command: readonly string[], content: unknown): Promise<unknown> {
  const file = path.join(dir, `${command[0]}.json`);
  await writeFile(file, JSON.stringify(content));
  const { stdout } = await promisify(execFile)(process.execPath, ['scripts/run.mjs', ...command, file]);
  return JSON.parse(stdout);
}
const times = (n: number, fields: Parameters<typeof aRep>[0]) =>
  Array.from({ length: n }, () => aRep(fields));

test('what would be decided is told with its reason, and so is each rep that cannot be read', async () => {
  const breakdown = plainBreakdown(8);
  breakdown.mistakes[7]!.root = 'c4';
  const reps = [...times(7, { stop: 'c8', cause: 'm8' }), { ...aRep(), rung: 9 }, aRep({ stop: 'c99' })];
  expect(await told(['decide'], { breakdown, reps, student: 'ada' })).toMatchObject({
    kind: 'correct',
    checkpoint: 'c4',
    sides: 'both',
    rung: 1,
    why: expect.stringMatching(
      /7 of 7 reps that show it were lost because of 4 \(100 %\): 0 there and 7 later/,
    ),
    refused: [
      { rep: 7, reason: expect.stringMatching(/rung/) },
      { rep: 8, reason: expect.stringMatching(/no checkpoint "c99"/) },
    ],
  });
}, 60_000);

test('the critique of a file and the length of a belt are printed as JSON; what is no such file is said', async () => {
  const breakdown = plainBreakdown(8);
  breakdown.checkpoints[2]!.criterion = '';
  const file = breakdownFileOf([{ technique: testTechnique, editions: [breakdown] }]);
  expect(await told(['critique'], file)).toContainEqual({
    severity: 'error',
    where: 'checkpoints.2.criterion',
    words: expect.stringMatching(/Checkpoint 3 has no criterion/),
  });
  expect(
    await told(['measure', 'belt'], {
      circles: [
        { x: 0, y: 0, r: 4 },
        { x: 6, y: 8, r: 4 },
      ],
    }),
  ).toEqual({
    length: expect.closeTo(8 * Math.PI + 20, 9),
  });
  await expect(told(['measure', 'belt'], { circles: [{ x: 0, y: 0, r: -4 }] })).rejects.toThrow(
    /does not fit/,
  );
}, 60_000);
