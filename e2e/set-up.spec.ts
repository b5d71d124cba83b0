import { doubleTapMs } from '@ulkret/core/session';
import {
  addStudents,
  allSaved,
  drillOnce,
  makeAcademy,
  select,
  signIn,
  signInHere,
  startSession,
} from './steps';
import { expect, test } from './instance';

test('an empty academy says on every page what to do first', async ({ page, empty }) => {
  await makeAcademy(page, empty.url);
  for (const [place, says] of [
    ['/', 'Get to your first class'],
    ['/mat', 'No classes yet.'],
    ['/mat/new', 'The roster is empty: add your students under People, or a guest here.'],
    ['/readings', 'No reps yet.'],
    ['/readings/rear-strangle', 'No reps match.'],
    ['/people', 'The roster is empty.'],
  ] as const) {
    await page.goto(empty.url + place);
    await expect(page.getByRole('main').getByText(says)).toBeVisible();
  }
});

test('an empty academy leads to its first class, step by step, and takes what ships with the app later', async ({
  page,
  empty,
}) => {
  await page.goto(empty.url);
  await page.getByText('Start with the breakdowns that come with Ulkret').click();
  await makeAcademy(page, empty.url, false);
  const step = (n: number) => page.getByRole('main').getByRole('listitem').nth(n);
  await expect(step(0)).toContainText('Quay is open');
  await step(2).getByRole('link', { name: 'Library' }).click();
  await page.getByRole('button', { name: 'Add the breakdowns that come with Ulkret' }).click();
  await expect(page.getByText(/^\d+ breakdowns added$/)).toBeVisible();
  await expect(page.getByRole('link', { name: /^Rear strangle/ })).toBeVisible();
  await addStudents(page, ['Ada', 'Ben']);
  await page.getByRole('link', { name: 'Today' }).click();
  await expect(step(1)).toContainText('2 students on the roster.');
  await expect(step(2)).toContainText(/\d+ breakdowns can be drilled/);
  await step(3).getByRole('link', { name: 'Set up a class' }).click();
  // A line of help is understood once, on this device, and can be had again.
  const help = page.getByText(/^Rung = how much the partner resists/);
  await expect(help).toBeVisible();
  await page.getByRole('button', { name: 'Got it' }).click();
  await expect(help).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole('button', { name: 'Everybody' })).toBeVisible();
  await expect(help).toHaveCount(0);
  await page.keyboard.press('?');
  const keys = page.getByRole('dialog', { name: 'Keys' });
  await expect(keys).toContainText('find anything');
  await keys.getByRole('button', { name: 'Show the tips again' }).click();
  await page.reload();
  await expect(help).toBeVisible();
});

test('a student that is typed wrong is refused at the field, and kept when it is mended', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await page.goto(`${empty.url}/people`);
  await page.getByRole('button', { name: 'Add a student' }).click();
  await page.getByLabel('Stature, cm').fill('1.70');
  await page.getByLabel('Mass, kg').fill('64,5');
  await page.getByRole('button', { name: 'Add to the roster' }).click();
  await expect(page.getByText('a student needs a name')).toBeVisible();
  await expect(page.getByLabel('Stature, cm')).toHaveAttribute('aria-invalid', 'true');
  await expect(page.getByLabel('Mass, kg')).not.toHaveAttribute('aria-invalid', 'true');
  await page.getByLabel('Name').fill('Ada');
  await page.getByLabel('Stature, cm').fill('170');
  await page.getByRole('button', { name: 'Add to the roster' }).click();
  await expect(page.getByRole('row', { name: /Ada.*170 cm.*64\.5 kg/ })).toBeVisible();
  await page.getByRole('button', { name: 'Ada' }).click();
  await page.getByLabel('Arm span, cm').fill('172');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('row', { name: /Ada.*172 cm/ })).toBeVisible();
});

test('pairs are made by tapping, and the entry alone leaves the finish out', async ({ page, empty }) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben', 'Cleo']);
  await page.goto(`${empty.url}/mat/new`);
  await select(page, /^Technique:/, 'Rear strangle');
  await page.getByRole('button', { name: 'Everybody' }).click();
  const tap = (name: string) => page.getByTestId('person').filter({ hasText: name }).click();
  await tap('Ada');
  await tap('Cleo');
  await expect(page.getByRole('list', { name: 'Pairs' }).getByRole('listitem')).toHaveAccessibleName(
    'Cleo and Ada',
  );
  await tap('Ben');
  await page.getByRole('button', { name: 'Ben works alone' }).click();
  await page.getByRole('radio', { name: /^Entry alone/ }).click();
  await page.getByRole('button', { name: 'Start with 2 pairs' }).click();
  await expect(page.getByTestId('pair').first()).toContainText('Cleo on Ada');
  await expect(page.getByRole('button', { name: /^Stopped at 6 / })).toBeDisabled();
  await page.keyboard.press('Digit7');
  await page.keyboard.press('Digit5');
  await page.keyboard.press('Enter');
  await allSaved(page);
  const csv = await page.evaluate(async () => (await fetch('/api/export/reps.csv')).text());
  const rows = csv.trim().split('\r\n').slice(1);
  expect(rows).toHaveLength(2);
  for (const row of rows) expect(row).toMatch(/,right,2,,hand-to-biceps,(stopped,hand-to-biceps|finished,),/);
});

test('on a phone every knot and the ring are in view, and a finger works them', async ({
  browser,
  empty,
}) => {
  const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true });
  const page = await phone.newPage();
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  await startSession(page);
  const knots = page.getByRole('button', { name: /^Stopped at/ });
  await expect(knots).toHaveCount(8);
  for (let i = 0; i < 8; i++) {
    const box = (await knots.nth(i).boundingBox())!;
    expect(box.height).toBeGreaterThanOrEqual(48);
    expect(box.y + box.height).toBeLessThan(844);
  }
  const ring = page.getByRole('button', { name: /^Finished/ });
  await ring.tap();
  await page.waitForTimeout(doubleTapMs);
  await knots.nth(3).tap();
  await page.getByRole('group', { name: 'Why did it stop?' }).getByRole('button').first().tap();
  await expect(page.getByTestId('pair')).toContainText('2 of 10');
  await expect(ring).toBeInViewport({ ratio: 1 });
  await allSaved(page);
  const csv = await page.evaluate(async () => (await fetch('/api/export/reps.csv')).text());
  expect(csv).toContain('stopped,arm-under-chin,,arm-shallow,');
});

test('a sign-in that ends while reps are tapped loses none: they go after signing in again', async ({
  page,
  context,
  empty,
}) => {
  await drillOnce(page, empty.url);
  await context.clearCookies();
  for (const key of ['Digit2', 'Digit4', 'Enter']) await page.keyboard.press(key);
  await expect(page.getByTestId('sync')).toHaveText('3 waiting: sign in to send');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await signInHere(page);
  await allSaved(page);
  await expect(page.getByTestId('pair').first()).toContainText('4 of 10');
  const csv = await page.evaluate(async () => (await fetch('/api/export/reps.csv')).text());
  expect(csv.trim().split('\r\n')).toHaveLength(1 + 4);
  // A device nobody is signed in on shows the door, not what it has stored.
  await context.clearCookies();
  await page.reload();
  await expect(page.getByLabel('Password')).toBeVisible();
  await expect(page.getByTestId('pair')).toHaveCount(0);
});

test('days and times are those of the academy’s place, written in the reader’s locale', async ({
  page,
  browser,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  const people = (
    (await (await page.request.get(`${empty.url}/api/students`)).json()) as { students: { id: string }[] }
  ).students;
  // Five days ago, half an hour before noon in UTC: in Auckland that is after midnight.
  const startedAt = new Date(Date.now() - 5 * 86_400_000);
  startedAt.setUTCHours(11, 30, 0, 0);
  const session = {
    id: '01890000-0000-7000-8000-000000000001',
    technique: 'rear-strangle',
    edition: 1,
    startedAt: startedAt.toISOString(),
    endedAt: null,
    pairs: [people.map(({ id }) => id)],
    rung: 2,
    from: null,
    to: null,
    repsPerSide: 10,
    roundSeconds: 300,
  };
  const put = await page.request.put(`${empty.url}/api/sessions/${session.id}`, { data: session });
  expect(put.status()).toBe(200);
  const timeZone = 'Pacific/Auckland';
  await page.request.put(`${empty.url}/api/academy`, { data: { zone: timeZone } });
  for (const [locale, timezoneId] of [
    ['de-DE', 'Pacific/Auckland'],
    ['en-GB', 'America/Los_Angeles'],
  ] as const) {
    const context = await browser.newContext({ locale, timezoneId });
    const there = await context.newPage();
    await signIn(there, empty.url);
    await there.goto(`${empty.url}/mat`);
    const format = (options: Intl.DateTimeFormatOptions) =>
      new Intl.DateTimeFormat(locale, { timeZone, ...options }).format(startedAt);
    const day = format({ weekday: 'short', day: 'numeric', month: 'short' });
    const time = format({ hour: '2-digit', minute: '2-digit' });
    await expect(there.getByRole('link', { name: `${day}, ${time}` })).toBeVisible();
    await context.close();
  }
});

test('`/` finds anything and goes there, a page says its name in the tab, and Back comes back', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await expect(page).toHaveTitle('Today · Ulkret');
  await page.keyboard.press('/');
  await expect(page.getByRole('searchbox')).toBeFocused();
  await page.keyboard.type('stranglle');
  await expect(page.getByRole('option', { name: /Rear strangle/ }).first()).toBeVisible();
  // The list grows as the library comes: the arrows go on until they are at a technique.
  const focused = page.locator('[role=option][data-focused]');
  await expect(async () => {
    await page.keyboard.press('ArrowDown');
    await expect(focused).toHaveAttribute('data-key', /\/library\/[a-z-]+$/, { timeout: 200 });
  }).toPass();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: /strangle/ })).toBeVisible();
  await expect(page).toHaveTitle(/strangle · Ulkret/i);
  await page.goBack();
  await expect(page).toHaveTitle('Today · Ulkret');
  await page.goto(`${empty.url}/library`);
  await expect(page.getByRole('link', { name: /Rear strangle/ })).toBeVisible();
  const scrolled = () => page.evaluate(() => window.scrollY);
  const before = 400;
  await expect
    .poll(async () => {
      await page.evaluate((to) => window.scrollTo(0, to), before);
      return scrolled();
    })
    .toBe(before);
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'People' }).click();
  await expect(page.getByRole('heading', { name: 'People' })).toBeVisible();
  await page.goBack();
  await expect.poll(scrolled).toBe(before);
  await page.reload();
  await expect.poll(scrolled).toBe(before);
  // Another page is opened at its top.
  await page.getByRole('link', { name: /Rear strangle/ }).focus();
  await page.evaluate((to) => window.scrollTo(0, to), before);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: 'Rear strangle' })).toBeVisible();
  expect(await scrolled()).toBe(0);
});

test('a page that breaks breaks alone: the rail stays, and it says what is kept', async ({
  browser,
  empty,
}) => {
  const page = await (await browser.newContext()).newPage();
  await makeAcademy(page, empty.url);
  // The code of one page cannot be had: after an update by somebody else, or where the Wi-Fi went just now.
  await page.context().route('**/assets/Library-*.js', (route) => route.abort());
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Library' }).click();
  await expect(page.getByRole('alert')).toContainText('This page has stopped working.');
  await expect(page.getByRole('alert')).toContainText('Your entries are safe');
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
  await page.context().unroute('**/assets/Library-*.js');
  await page.getByRole('button', { name: 'Open it again' }).click();
  await expect(page.getByRole('heading', { name: 'Library' })).toBeVisible();
});

test('what was saved or thrown away can be undone, or it says why not, and the units are the academy’s', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada']);
  await page.getByRole('button', { name: 'Ada', exact: true }).click();
  await page.getByLabel('Mass, kg').fill('72,5');
  await page.getByRole('button', { name: 'Save' }).click();
  const ada = page.getByRole('row', { name: /Ada/ });
  await expect(ada).toContainText('72.5 kg');
  await expect(page.getByText('Ada saved')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(ada).not.toContainText('72.5 kg');
  await page.getByRole('button', { name: 'Ada', exact: true }).click();
  await page.getByLabel('Mass, kg').fill('72.5');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(ada).toContainText('72.5 kg');
  await page.getByRole('button', { name: 'Quay: data and account' }).click();
  await page.getByRole('radio', { name: 'lb, ft' }).click();
  await select(page, /^Weeks begin on:/, 'Sunday');
  await expect(page.getByRole('button', { name: 'Weeks begin on: Sunday' })).toBeVisible();
  await page.keyboard.press('Escape');
  // The menu is closed: that it could not be undone is said anyway.
  await page.context().setOffline(true);
  const said = page.getByRole('alertdialog').filter({ hasText: 'Weeks begin on Sunday' });
  await said.getByRole('button', { name: 'Undo' }).click();
  await expect(
    page.getByText('“Weeks begin on Sunday” was not undone. The server cannot be reached.'),
  ).toBeVisible();
  await page.context().setOffline(false);
  await expect(page.getByRole('row', { name: /Ada/ })).toContainText('160 lb');
  // What is read, it is read from a Sunday on.
  const { settings } = await (
    await page.request.get(`${empty.url}/api/rates?technique=rear-strangle&method=plain&weeks=4`)
  ).json();
  expect(new Date(settings.since).getUTCDay()).toBe(0);
});
