import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from '@playwright/test';
import { enterDemo } from './steps';
import { expect, test } from './instance';

const axeFile = createRequire(import.meta.url).resolve('axe-core/axe.min.js');

/** What axe finds on the page against WCAG 2.2 A and AA, as short lines. */
async function faultsOf(page: Page): Promise<string[]> {
  await page.evaluate(readFileSync(axeFile, 'utf8'));
  return page.evaluate(async () => {
    const { axe } = window as unknown as {
      axe: { run(options: object): Promise<{ violations: { id: string; nodes: { target: string[] }[] }[] }> };
    };
    const { violations } = await axe.run({
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
    });
    return violations.map(
      ({ id, nodes }) => `${id}: ${nodes.map(({ target }) => target.join(' ')).join(', ')}`,
    );
  });
}

test.beforeEach(async ({ page, demo }) => enterDemo(page, demo.url));

test('story 1: the shallow grip hides the hand behind the head, until it is mended', async ({
  page,
  demo,
}) => {
  await page.goto(`${demo.url}/readings/rear-strangle/amara?weeks=3`);
  const rows = page.getByRole('list', { name: 'Amara: where the reps end' }).getByRole('listitem');
  const counts = async (place: number) => {
    const [, failed, reached] = /(\d+) of the (\d+) that got here/.exec(
      (await rows.nth(place).textContent()) ?? '',
    )!;
    return { failed: Number(failed), reached: Number(reached) };
  };
  await expect(rows).toHaveCount(8);
  const [grip, hand] = [await counts(3), await counts(5)];
  expect(grip.failed).toBeGreaterThan(hand.failed * 2);
  expect(hand.failed / hand.reached).toBeGreaterThan(0.35);
  await page.getByRole('radio', { name: 'now' }).click();
  await expect(page.getByTestId('prescription')).toContainText(
    'Amara: correct 6 “Back of the hand behind the head” first.',
  );
});

test('story 3: Hana’s left is worse than her right, and it is said', async ({ page, demo }) => {
  await page.goto(`${demo.url}/readings/rear-strangle/hana?checkpoint=arm-under-chin`);
  await expect(page.getByText(/The off side breaks more often \(chance \d+ %\)/)).toBeVisible();
  const share = async (side: string) => {
    const answered = page.waitForResponse((response) => response.url().includes(`/api/readings?`));
    await page.getByRole('radio', { name: side }).click();
    await answered;
    const row = page.getByRole('list', { name: /Hana/ }).getByRole('listitem').nth(3);
    await expect(row).toContainText('Arm deep under the chin');
    await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
    return Number(/got here: (\d+) %/.exec((await row.textContent()) ?? '')![1]);
  };
  const right = await share('Right');
  const left = await share('Left');
  expect(left).toBeGreaterThan(right + 15);
});

test('story 11: of the newcomer nothing is claimed, and it says how much more to watch', async ({
  page,
  demo,
}) => {
  await page.goto(`${demo.url}/readings/rear-strangle/rosalba`);
  await expect(page.getByTestId('prescription')).toContainText(/^Watch \d+ more reps of Rosalba at rung \d/);
  await expect(page.getByTestId('prescription')).toContainText('Not enough yet for a verdict');
  await page.getByRole('link', { name: 'Rear strangle, the squad' }).click();
  const row = page.getByRole('row', { name: /Rosalba/ });
  await expect(row.getByRole('link', { name: /^not enough yet, \d+ reps?$/ })).toHaveCount(8);
});

test('every page counts the same reps', async ({ page, demo }) => {
  const squad = await page.evaluate(async () =>
    (await fetch('/api/readings?technique=rear-strangle')).json(),
  );
  await page.goto(`${demo.url}/library`);
  await expect(page.getByRole('link', { name: /Rear strangle/ })).toContainText(
    `${squad.squad.reps.toLocaleString('en')} reps`,
  );
  const csv = await page.evaluate(async () => (await fetch('/api/export/reps.csv')).text());
  expect(csv.trim().split('\r\n')).toHaveLength(1 + squad.squad.reps);
});

test('a number on the squad page opens down to its reps, and they add up', async ({ page }) => {
  await page.getByRole('link', { name: 'Readings' }).click();
  const cell = page.getByRole('row', { name: /Davor/ }).getByRole('link', { name: /correct first/ });
  const [, n] = /(\d+) reps/.exec((await cell.textContent()) ?? '')!;
  await cell.click();
  await expect(page.getByTestId('evidence')).toContainText(`${n} reps reached it`);
  const [, failed, held] = /: (\d+) ended there, (\d+) went on/.exec(
    (await page.getByTestId('evidence').textContent()) ?? '',
  )!;
  expect(Number(failed) + Number(held)).toBe(Number(n));
  await page.getByRole('button', { name: `Show all ${n}` }).click();
  const evidence = page.locator('section', { has: page.getByTestId('evidence') });
  await expect(evidence.getByRole('listitem')).toHaveCount(Number(n));
  await expect(evidence.getByText('failed', { exact: true })).toHaveCount(Number(failed));
});

test('the breakdown reads for a right and for a left lead', async ({ page }) => {
  await page.getByRole('link', { name: 'Library' }).click();
  await page.getByRole('link', { name: /Rear strangle/ }).click();
  await page.getByRole('link', { name: /Hand on the biceps/ }).click();
  await expect(
    page.getByText('Your right hand holds your own left upper arm above the elbow.'),
  ).toBeVisible();
  await page.getByRole('radio', { name: 'Left' }).click();
  await expect(
    page.getByText('Your left hand holds your own right upper arm above the elbow.'),
  ).toBeVisible();
  await page.reload();
  await expect(
    page.getByText('Your left hand holds your own right upper arm above the elbow.'),
  ).toBeVisible();
});

test('a file with bad rows is read as far as it is good, and the report can be taken home', async ({
  page,
  demo,
}) => {
  await page.goto(`${demo.url}/data`);
  const csv = [
    'at,technique,student,partner,side,rung,outcome,stop,note',
    '2026-01-05T18:30:00Z,Rear strangle,Quang,Farid,right,2,stopped,arm-under-chin,from paper',
    '2026-01-05T18:31:00Z,Rear strangle,Nobody,Farid,right,2,stopped,arm-under-chin,',
    '2026-01-05T18:32:00Z,Rear strangle,Quang,Farid,right,9,stopped,arm,',
  ].join('\n');
  const read = async () => {
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: 'Choose a file' }).click(),
    ]);
    await chooser.setFiles({ name: 'paper.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
  };
  await read();
  await expect(page.getByRole('heading', { name: 'paper.csv: 1 rep kept, 2 rows refused' })).toBeVisible();
  await expect(page.getByRole('row', { name: /3 student nobody.*"Nobody"/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /4 rung/ })).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Download the report' }).click(),
  ]);
  expect(readFileSync(await download.path(), 'utf8')).toMatch(/^line,column,reason\r\n3,student,/);
  await read();
  await expect(
    page.getByRole('heading', { name: 'paper.csv: 0 reps kept, 1 known already, 2 rows refused' }),
  ).toBeVisible();
});

for (const scheme of ['light', 'dark'] as const)
  test(`no page has an accessibility fault that axe can see, in ${scheme}`, async ({ page, demo }) => {
    await page.emulateMedia({ colorScheme: scheme, reducedMotion: 'reduce' });
    const places = ['/', '/library', '/library/rear-strangle', '/mat', '/mat/new', '/people', '/data'];
    for (const place of [...places, '/readings/rear-strangle', '/readings/rear-strangle/amara']) {
      await page.goto(demo.url + place);
      await page.waitForLoadState('networkidle');
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
      expect(await faultsOf(page), place).toEqual([]);
    }
    await page.goto(`${demo.url}/mat`);
    await page.getByRole('row').nth(2).getByRole('link').click();
    await expect(page.getByTestId('pair').first()).toBeVisible();
    expect(await faultsOf(page), 'the Mat').toEqual([]);
  });

test('an address that leads nowhere says so', async ({ page, demo }) => {
  await page.goto(`${demo.url}/nowhere`);
  await expect(page.getByRole('heading', { name: 'There is nothing at this address.' })).toBeVisible();
});
