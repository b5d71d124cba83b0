import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { expect, test } from '@playwright/test';
import type { StormReport } from '../scripts/storm';

test('over twenty thousand reps, a killed server, a restarted database and everything sent three times more: none lost, none doubled', async () => {
  test.setTimeout(300_000);
  const { stdout } = await promisify(execFile)(process.execPath, ['scripts/run.mjs', 'storm', '20800']);
  const report = JSON.parse(stdout.trim().split('\n').at(-1)!) as StormReport;
  expect(report.tapped).toBeGreaterThanOrEqual(20_000);
  expect(report).toMatchObject({ stored: report.tapped, distinct: report.tapped, missing: 0, refused: 0 });
  expect(report.voids[1]).toBe(report.voids[0]);
  expect(report.tags[1]).toBe(report.tags[0]);
  // The faults did happen: calls failed, and reps were on their way when the server was killed.
  expect(report.failedCalls).toBeGreaterThan(0);
  expect(report.waitingAtKill).toBeGreaterThan(0);
});
