import { newStudent } from '@ulkret/core/people';
import { doubleTapMs } from '@ulkret/core/session';
import { demoSignIn } from '@ulkret/demo';
import { type Browser, type BrowserContext, expect, type Locator, type Page } from '@playwright/test';

export const coach = { email: 'nina@quay.example', password: 'a long password' };

/** Asks the server as the page would, and not by its screens: for what is on the way to what is tested. */
async function asked(page: Page, method: 'post' | 'put', address: string, data: object): Promise<void> {
  const response = await page.request[method](address, { data });
  if (!response.ok()) throw new Error(`${address} answered ${response.status()}: ${await response.text()}`);
}

/** Makes the first academy of an empty instance, with the breakdowns that ship; by its page, as it is filled in, where that is open. */
export async function makeAcademy(page: Page, url: string, afresh = true): Promise<void> {
  const first = { academy: 'Quay', name: 'Nina', ...coach };
  if (afresh) {
    const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
    await asked(page, 'post', `${url}/api/coaches/first`, { ...first, starter: true, zone });
    await page.goto(url);
  } else {
    await page.getByLabel('Name of the academy').fill(first.academy);
    await page.getByLabel('Your name').fill(first.name);
    await page.getByLabel('Email').fill(first.email);
    await page.getByLabel(/^Password/).fill(first.password);
    await page.getByRole('button', { name: 'Create the academy' }).click();
  }
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
}

/** Chooses one of many by its words. */
export async function select(
  on: Page | Locator,
  label: string | RegExp,
  option: string | RegExp,
): Promise<void> {
  const trigger = on.getByRole('button', { name: label }).first();
  await trigger.click();
  const page = 'page' in on ? on.page() : on;
  await page.getByRole('option', { name: option, exact: typeof option === 'string' }).click();
}

/** Fills in the form that is open, wherever it is. */
export async function signInHere(page: Page): Promise<void> {
  await page.getByLabel('Email').fill(coach.email);
  await page.getByLabel('Password').fill(coach.password);
  await page.getByRole('button', { name: 'Sign in' }).last().click();
}

export async function signIn(page: Page, url: string): Promise<void> {
  await page.goto(url);
  await signInHere(page);
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
}

export async function enterDemo(page: Page, url: string): Promise<void> {
  await asked(page, 'post', `${url}/api/session`, demoSignIn);
  await page.goto(url);
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
}

/** Puts people on the roster, and opens it. */
export async function addStudents(page: Page, names: readonly string[]): Promise<void> {
  const { origin } = new URL(page.url());
  for (const name of names) {
    const id = name.toLowerCase().replaceAll(/[^a-z]/g, '-');
    await asked(page, 'put', `${origin}/api/students/${id}`, newStudent({ id, name }));
  }
  await page.goto(`${origin}/people`);
  await expect(page.getByRole('button', { name: names.at(-1)!, exact: true })).toBeVisible();
}

/** Starts a session of everybody on the roster, paired by mass, and waits for the Mat. */
export async function startSession(page: Page): Promise<void> {
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Mat' }).click();
  await page.getByRole('link', { name: 'Set up a class' }).first().click();
  await select(page, /^Technique:/, 'Rear strangle');
  await page.getByRole('button', { name: 'Everybody' }).click();
  await page.getByRole('button', { name: 'Pair them' }).click();
  await page.getByRole('button', { name: /^Start with/ }).click();
  await expect(page.getByTestId('pair').first()).toBeVisible();
}

/** All that was tapped so far is on the server: the words about a tap follow its paint, so they are read after two of them. */
export async function allSaved(page: Page): Promise<void> {
  await page.evaluate(async () => {
    const painted = () => new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
    await painted();
    await painted();
  });
  await expect(page.getByTestId('sync')).toHaveAttribute('data-waiting', '0');
  await expect(page.getByTestId('sync')).toHaveText('all saved');
}

/** An academy in which Ada and Ben drill, and Ada has finished one rep, which is saved. */
export async function drillOnce(page: Page, url: string): Promise<void> {
  await makeAcademy(page, url);
  await addStudents(page, ['Ada', 'Ben']);
  await startSession(page);
  await page.keyboard.press('Enter');
  await allSaved(page);
}

/** Goes to an address as a link of the app does, without a reload. */
export const goInside = (page: Page, address: string): Promise<void> =>
  page.evaluate((to) => {
    history.pushState(null, '', to);
    dispatchEvent(new PopStateEvent('popstate'));
  }, address);

/** The rows of all reps, as the academy takes them out. */
export const csvOf = async (page: Page): Promise<string[]> => {
  const csv = await page.evaluate(async () => (await fetch('/api/export/reps.csv')).text());
  return csv.trim().split('\r\n').slice(1);
};

/** The tile of the n-th pair on the Mat. */
export const pair = (page: Page, n = 0) => page.getByTestId('pair').nth(n);

/** Another device: its own storage and its own sign-in as the same coach. */
export async function otherDevice(
  browser: Browser,
  url: string,
): Promise<{ context: BrowserContext; page: Page }> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await page.goto(url);
  await signInHere(page);
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
  return { context, page };
}

/** Taps as a coach does who logs several reps: never so fast that two taps are one slip. */
export async function taps(on: Locator, times: number): Promise<void> {
  for (let i = 0; i < times; i++) {
    await on.click();
    await on.page().waitForTimeout(doubleTapMs);
  }
}

/** The next of the open pair attacks, on the same side. */
export const swapRoles = (page: Page): Promise<void> =>
  page.getByRole('group', { name: 'Whose turn' }).getByRole('button').nth(1).click();

/** Opens the sheet in which the pairs of a class are changed. */
export async function changePairs(page: Page): Promise<Locator> {
  await page.getByRole('button', { name: 'All pairs …' }).first().click();
  await page.getByRole('dialog', { name: 'All pairs' }).getByRole('button', { name: 'Change pairs' }).click();
  const panel = page.getByRole('dialog', { name: 'Change pairs' });
  await expect(panel).toBeVisible();
  return panel;
}

export const advice = (page: Page) => page.getByRole('note', { name: 'What to know about this pair' });

/** Waits until the app can be opened without a network. */
export async function installed(page: Page): Promise<void> {
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready;
    const start = Date.now();
    while (!(await navigator.serviceWorker.getRegistration())?.active && Date.now() - start < 20_000)
      await new Promise((resolve) => setTimeout(resolve, 100));
  });
}

/** Sets the clock of a device this many milliseconds ahead. */
export const clockAhead = (context: BrowserContext, byMs: number): Promise<unknown> =>
  context.addInitScript((by) => {
    const RealDate = Date;
    const shifted = class extends RealDate {
      constructor(...given: unknown[]) {
        if (given.length === 0) super(RealDate.now() + by);
        else super(...(given as [number]));
      }
      static override now() {
        return RealDate.now() + by;
      }
    };
    Object.assign(globalThis, { Date: shifted });
  }, byMs);
