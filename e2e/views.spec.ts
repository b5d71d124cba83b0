import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from '@playwright/test';
import { expect, test } from './instance';
import { enterDemo } from './steps';

const sizes = [
  [390, 844],
  [844, 390],
  [800, 1280],
  [640, 400],
  [1280, 800],
] as const;

/** A phone, a tablet and a desk: pages are put together differently there. */
const forAxe: ReadonlySet<(typeof sizes)[number]> = new Set([sizes[0], sizes[2], sizes[4]]);

const readings = '/readings/rear-strangle';
const writing = '/library/head-and-arm';

/** Every page of the demo, by where a coach looks for it. */
const pages = {
  'what is due, and what the room reads': ['/', '/readings', readings, `${readings}/amara`],
  'what one technique reads': [
    `${readings}/hana?against=sides`,
    `${readings}/at/arm-under-chin`,
    `${readings}/at/hand-behind-head`,
    `${readings}/weights`,
  ],
  'the library': [
    '/library',
    '/library/rear-strangle',
    ...['?edit=1', '/learn', '/print', '/editions'].map((rest) => writing + rest),
    '/library/pieces',
    '/library/new',
    '/library/import',
  ],
  people: ['/people', '/people/amara', '/access', '/mat', '/mat/new'],
  'the house': ['/data', '/rules', '/access-log', '/backups', '/account'],
} as const;

const axeFile = createRequire(import.meta.url).resolve('axe-core/axe.min.js');

/**
 * What axe finds against WCAG 2.2 A and AA on a page that is light, and on the same page when it is dark, as short lines.
 * Light and dark differ in their colours only.
 */
async function faultsForAxe(page: Page): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(readFileSync(axeFile, 'utf8'));
  const found = (runOnly: readonly string[]) =>
    page.evaluate(async (only) => {
      const { axe } = window as unknown as {
        axe: {
          run(options: object): Promise<{ violations: { id: string; nodes: { target: string[] }[] }[] }>;
        };
      };
      const { violations } = await axe.run({ runOnly: only, resultTypes: ['violations'] });
      return violations.map(
        ({ id, nodes }) => `${id}: ${nodes.map(({ target }) => target.join(' ')).join(', ')}`,
      );
    }, runOnly);
  const light = await found(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']);
  await page.emulateMedia({ colorScheme: 'dark' });
  const dark = await found(['color-contrast']);
  await page.emulateMedia({ colorScheme: 'light' });
  return [...light, ...dark.map((fault) => `in the dark, ${fault}`)];
}

/** What is wrong with how a page lies, read off its boxes: in words, so that a failure says what to look at. */
function faultsOfLayout(): string[] {
  const named = (one: Element) =>
    (one.getAttribute('aria-label') ?? one.textContent ?? '').trim().slice(0, 40);
  const isScrolled = (one: Element | null): boolean =>
    one !== null && (/auto|scroll/.test(getComputedStyle(one).overflowX) || isScrolled(one.parentElement));
  // What only a screen reader meets is clipped away, itself or with all around it.
  const isClipped = (one: Element | null): boolean =>
    one !== null && (getComputedStyle(one).clipPath !== 'none' || isClipped(one.parentElement));
  const shown = [...document.querySelectorAll('main *')].filter((one) => {
    const { width, height } = one.getBoundingClientRect();
    return width > 0 && height > 0 && !isClipped(one);
  });
  const pressed = shown.filter((one) =>
    one.matches('a, button, input, textarea, [role=radio], label, summary'),
  );
  const doors = [...document.querySelectorAll('nav[aria-label="Places"] :is(a, button)')].filter(
    (one) => one.getBoundingClientRect().height > 0,
  );
  return [
    ...doors.flatMap((one) => {
      const { top, bottom } = one.getBoundingClientRect();
      return top < -1 || bottom > innerHeight + 1 ? [`“${named(one)}” of the rail is out of view`] : [];
    }),
    ...(document.documentElement.scrollWidth > innerWidth + 1
      ? [`the page scrolls sideways, to ${document.documentElement.scrollWidth}`]
      : []),
    ...pressed.flatMap((one) => {
      const { left, right, width, height } = one.getBoundingClientRect();
      const inText = getComputedStyle(one).display === 'inline';
      return [
        ...(!inText && !one.closest('label') && (height < 23.5 || width < 23.5)
          ? [`“${named(one)}” is ${Math.round(width)} × ${Math.round(height)}`]
          : []),
        ...((left < -1 || right > innerWidth + 1) && !isScrolled(one.parentElement)
          ? [`“${named(one)}” is cut at the side`]
          : []),
      ];
    }),
    // Rows of a fixed height whose words do not fit lie over the next one.
    ...shown.flatMap((one) =>
      one.matches('ol > li') && one.scrollHeight > one.clientHeight + 2
        ? [`“${named(one)}” is higher than its row`]
        : [],
    ),
    ...shown.flatMap((one) =>
      one.matches('h1, h2, th, button, a') &&
      one.scrollWidth > one.clientWidth + 2 &&
      getComputedStyle(one).overflowX === 'hidden'
        ? [`“${named(one)}” is cut`]
        : [],
    ),
  ];
}

/** What is wrong with how it lies at one size, where that stays so: what is refined in place may still be on its way. */
async function faultsAt(page: Page, [width, height]: (typeof sizes)[number]): Promise<string[]> {
  await page.setViewportSize({ width, height });
  await page.evaluate(
    () => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))),
  );
  let faults: string[] = [];
  for (let tries = 0; tries < 6; tries++) {
    faults = await page.evaluate(faultsOfLayout);
    if (faults.length === 0) break;
    await page.waitForTimeout(400);
  }
  return faults;
}

test.beforeEach(async ({ page, demo }) => {
  await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' });
  await enterDemo(page, demo.url);
});

for (const [where, addresses] of Object.entries(pages))
  test(`${where}: no page overlaps, is cut or has a fault that axe can see, however it is held, light or dark`, async ({
    page,
    demo,
  }) => {
    const found: string[] = [];
    for (const address of addresses) {
      await page.goto(demo.url + address);
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
      // Not until the network is idle: some pages keep a stream open.
      await expect(page.getByText(/^Loading /)).toHaveCount(0);
      if (address.startsWith(readings)) await expect(page.getByText('Full reading.').first()).toBeVisible();
      for (const size of sizes) {
        const faults = await faultsAt(page, size);
        if (forAxe.has(size)) faults.push(...(await faultsForAxe(page)));
        found.push(...faults.map((fault) => `${address} at ${size.join(' × ')}: ${fault}`));
      }
    }
    expect(found).toEqual([]);
  });

test('what opens over a page, the Mat and its papers have no fault that axe can see, light or dark', async ({
  page,
  demo,
}) => {
  for (const [place, button] of [
    ['/people', 'Gudrun'],
    ['/people', 'Import a list'],
    ['/rules', 'Change the rules'],
  ] as const) {
    await page.goto(demo.url + place);
    await page.getByRole('button', { name: button, exact: true }).click();
    await expect(page.getByRole('dialog')).toBeVisible();
    expect(await faultsForAxe(page), button).toEqual([]);
  }
  await page.goto(`${demo.url}/mat`);
  const link = page.getByRole('row').nth(2).getByRole('link').first();
  // A class that has ended leads to its summary; its Mat is still there.
  await page.goto(demo.url + (await link.getAttribute('href'))!.replace(/\/after$/, ''));
  await expect(page.getByTestId('pair').first()).toBeVisible();
  expect(await faultsForAxe(page), 'the Mat').toEqual([]);
  await page.getByRole('button', { name: 'Stop for safety' }).click();
  expect(await faultsForAxe(page), 'a care note').toEqual([]);
  await page.getByRole('radio', { name: 'Something else' }).click();
  await page.getByRole('button', { name: 'Save and continue' }).click();
  await page.getByRole('button', { name: '? Keys' }).click();
  expect(await faultsForAxe(page), 'the keys').toEqual([]);
  await page.keyboard.press('Escape');
  const { pathname } = new URL(page.url());
  for (const place of ['after', 'sheet', 'paper']) {
    await page.goto(`${demo.url}${pathname}/${place}`);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    expect(await faultsForAxe(page), place).toEqual([]);
  }
});
