import { expect, test } from './instance';
import { addStudents, allSaved, csvOf, enterDemo, makeAcademy, startSession } from './steps';

test('a large file shows how far it has come, is stopped on the way, and what was kept of it is undone', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'José']);
  const rows = Array.from(
    { length: 15_000 },
    (_, i) =>
      `2026-03-0${1 + (i % 9)} 18:${String(i % 60).padStart(2, '0')},Rear strangle,José,Ada,right,2,finished,row ${i}`,
  );
  const file = ['at,technique,student,partner,side,rung,outcome,note', ...rows].join('\n');
  await page.goto(`${empty.url}/data`);
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Choose a file' }).click(),
  ]);
  // As an old spreadsheet writes it.
  await chooser.setFiles({ name: 'year.csv', mimeType: 'text/csv', buffer: Buffer.from(file, 'latin1') });
  await expect(page.getByRole('progressbar', { name: /^Reading year\.csv/ })).toBeVisible();
  // Fifteen thousand rows are looked at one by one.
  await expect(page.getByRole('button', { name: 'Import 15,000 reps' })).toBeVisible({ timeout: 60_000 });
  // A slow line, on which it takes a quarter of a minute.
  const line = await page.context().newCDPSession(page);
  const sending = (bytesPerSecond: number) =>
    line.send('Network.emulateNetworkConditions', {
      offline: false,
      latency: 0,
      downloadThroughput: -1,
      uploadThroughput: bytesPerSecond,
    });
  await sending(60_000);
  await page.getByRole('button', { name: 'Import 15,000 reps' }).click();
  await expect.poll(async () => (await csvOf(page)).length).toBeGreaterThan(500);
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.getByRole('heading', { name: 'year.csv: stopped halfway' })).toBeVisible();
  await page.getByRole('button', { name: 'Continue' }).click();
  await expect(page.getByRole('progressbar', { name: /^Importing year\.csv/ })).toBeVisible();
  await page.getByRole('button', { name: 'Stop' }).click();
  await sending(-1);
  await page.getByRole('button', { name: 'Undo what was saved' }).click();
  await expect(page.getByRole('heading', { name: /^year\.csv: [1-9][\d,]* reps undone$/ })).toBeVisible();
  expect(await csvOf(page)).toEqual([]);
});

test('a whole academy is deleted of one server and brought into another, where the tapping goes on', async ({
  page,
  browser,
  demo,
  empty,
}) => {
  const there = await (await browser.newContext()).newPage();
  await enterDemo(there, demo.url);
  await there.goto(`${demo.url}/data`);
  await expect(there.getByRole('link', { name: 'Download academy.zip' })).toBeVisible();
  await expect(there.getByRole('button', { name: 'Import an academy' })).toHaveCount(0);
  const archive = await (await there.request.get(`${demo.url}/api/export/academy.zip`)).body();
  const reps = await csvOf(there);
  await there.context().close();

  await makeAcademy(page, empty.url);
  await page.goto(`${empty.url}/data`);
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Import an academy' }).click(),
  ]);
  await chooser.setFiles({ name: 'academy.zip', mimeType: 'application/zip', buffer: archive });
  await expect(page.getByText(/^Slipway Grappling.* is here: .*18 people/)).toBeVisible({ timeout: 60_000 });
  expect(await csvOf(page)).toEqual(reps);
  await page.goto(`${empty.url}/people`);
  await expect(page.getByRole('button', { name: 'Amara', exact: true })).toBeVisible();
  await startSession(page);
  await page.keyboard.press('Enter');
  await allSaved(page);
  expect(await csvOf(page)).toHaveLength(reps.length + 1);
});
