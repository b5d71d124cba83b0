import { select } from '../e2e/steps';
import path from 'node:path';
import { type Browser, chromium as browserType, expect, type Page } from '@playwright/test';
import { chromium } from './test';

const folder = path.resolve('docs/screenshots');
const desk = { width: 1280, height: 800 };
const phone = { width: 390, height: 844 };

async function enter(
  browser: Browser,
  url: string,
  viewport: typeof desk,
  colorScheme: 'light' | 'dark' = 'light',
) {
  const page = await (await browser.newContext({ viewport, colorScheme })).newPage();
  await page.goto(url);
  await page.getByRole('button', { name: 'Enter the demo' }).click();
  await page.getByRole('heading', { name: 'Today' }).waitFor();
  return page;
}

async function take(page: Page, name: string): Promise<void> {
  // Not until the network is idle: the Mat and the readings keep a stream open.
  await page.waitForTimeout(1500);
  // What was refined in place is marked for a moment.
  await page.waitForFunction(() => document.getAnimations().length === 0);
  await expect(page.getByText(/^Loading/)).toHaveCount(0, { timeout: 30_000 });
  await page.screenshot({ path: path.join(folder, `${name}.png`) });
}

/** Fills in a session of everybody, paired by nearest mass. */
async function setUp(page: Page, url: string): Promise<void> {
  await page.goto(`${url}/mat/new`);
  await select(page, /^Technique:/, 'Rear strangle');
  await page.getByRole('button', { name: 'Everybody' }).click();
  await page.getByRole('button', { name: 'Pair them' }).click();
  await page.getByText(/a correction here/).waitFor();
}

/** Sets up a session of everybody and logs a few reps, the last of which asks why it stopped. */
async function drill(page: Page, url: string): Promise<void> {
  await setUp(page, url);
  await page.getByRole('button', { name: /^Start with/ }).click();
  await page.getByTestId('pair').first().waitFor();
  for (const key of [
    'Digit4',
    'Digit4',
    'Enter',
    ']',
    'Digit2',
    'Enter',
    'Enter',
    'Digit6',
    ']',
    'Enter',
    '[',
    '[',
    ' ',
  ])
    await page.keyboard.press(key);
  // The clock's signal goes first; then the stop that asks why.
  await page.waitForTimeout(2700);
  await page.keyboard.press('Digit4');
  await page.waitForTimeout(500);
}

/** `npm run pictures -- URL`: takes docs/screenshots/ again from a running demo. */
export async function run([url = 'http://127.0.0.1:4780']: string[]): Promise<void> {
  const browser = await browserType.launch({
    executablePath: chromium(),
    args: ['--no-sandbox', '--disable-gpu'],
  });
  const page = await enter(browser, url, desk);
  // The strands come with the reading.
  await page.locator('main svg').first().waitFor();
  await take(page, 'today');
  const places = {
    library: '/library',
    breakdown: '/library/rear-strangle?checkpoint=arm-under-chin',
    workbench: '/library/head-and-arm?edit=1',
    room: '/readings',
    squad: '/readings/rear-strangle',
    student: '/readings/rear-strangle/amara',
    rules: '/rules',
    checkpoint: '/readings/rear-strangle/at/chest-to-back',
    weights: '/readings/guard-armlock/weights',
    answers: '/readings/rear-strangle/answers',
    people: '/people',
    person: '/people/amara',
    correct: '/correct?technique=rear-strangle',
  };
  for (const [name, place] of Object.entries(places)) {
    await page.goto(url + place);
    await page.getByRole('heading', { level: 1 }).waitFor();
    if (name === 'correct') await page.getByRole('article').first().waitFor();
    if (place.startsWith('/readings/'))
      await page
        .getByText(name === 'answers' ? 'Student by student' : 'Full reading.')
        .first()
        .waitFor();
    await take(page, name);
  }
  await setUp(page, url);
  await take(page, 'set-up');
  await drill(page, url);
  await take(page, 'mat');
  await page.getByRole('link', { name: 'Leave' }).click();
  await page.getByRole('heading', { name: 'What was drilled' }).waitFor();
  await take(page, 'after');
  const small = await enter(browser, url, phone, 'dark');
  await drill(small, url);
  await take(small, 'mat-phone');
  await small.goto(`${url}/library/leg-triangle/learn?at=4`);
  await small.getByRole('button', { name: /^Next/ }).waitFor();
  await take(small, 'learn-phone');
  await browser.close();
}
