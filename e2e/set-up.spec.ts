import { select, addStudents, allSaved, makeAcademy, signInHere, startSession, drillOnce } from './steps';
import { expect, test } from './instance';

test('an empty academy says on every page what to do first', async ({ page, empty }) => {
  await makeAcademy(page, empty.url);
  for (const [place, says] of [
    ['/', 'Nothing has been drilled yet.'],
    ['/mat', 'No session yet.'],
    ['/mat/new', 'Nobody is on the roster yet: add your students under People, or a guest here.'],
    ['/readings', 'No rep has been logged yet.'],
    ['/readings/rear-strangle', 'No rep fits these settings.'],
    ['/people', 'Nobody is on the roster yet.'],
  ] as const) {
    await page.goto(empty.url + place);
    await expect(page.getByRole('main').getByText(says)).toBeVisible();
  }
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
  // Whoever comes to a device on which nobody is signed in any more finds the door, not what it has kept.
  await context.clearCookies();
  await page.reload();
  await expect(page.getByLabel('Password')).toBeVisible();
  await expect(page.getByTestId('pair')).toHaveCount(0);
});
