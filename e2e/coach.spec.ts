import { addStudents, allSaved, coach, makeAcademy, signIn, startSession } from './steps';
import { expect, test } from './instance';

// What twenty taps imply, worked out here from the definitions and from nothing of the program.
const checkpoints = 8;
const stops = [2, 6, 0, 2, 0, 0, 6, 2, 0, 0, 2, 0, 6, 2, 0, 0, 6, 0, 2, 0]; // 0 is a finish
const weight = 4;
const general = 1 / (1 + Math.exp(1.4));
const squadTarget = 0.15;
const reached = Array.from(
  { length: checkpoints },
  (_, i) => stops.filter((stop) => stop === 0 || stop > i).length,
);
const failed = Array.from({ length: checkpoints }, (_, i) => stops.filter((stop) => stop === i + 1).length);
const hazards = reached.map((n, i) => {
  const squad = (weight * general + failed[i]!) / (weight + n);
  return (weight * squad + failed[i]!) / (weight + n);
});
const finishRate = hazards.reduce((alive, hazard) => alive * (1 - hazard), 1);
const gains = hazards.map((hazard) => (finishRate / (1 - hazard)) * Math.max(0, hazard - squadTarget));
const first = gains.indexOf(Math.max(...gains));
const percent = (share: number) => `${Math.round(share * 100)} %`;

test('a coach starts from nothing, taps twenty reps, and reads what they say', async ({
  page,
  browser,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  await startSession(page);
  const strand = page.getByRole('list', { name: /tap where the rep stopped/ });
  await expect(strand.getByRole('listitem')).toHaveCount(checkpoints);
  await expect(page.getByTestId('pair')).toContainText('Ada on Ben');

  // Every third tap by pointer, the others by key; one more that is wrong and undone.
  for (const [i, stop] of stops.entries()) {
    if (i === 7) {
      await page.keyboard.press('Digit5');
      await page.getByRole('button', { name: 'Undo Ada stopped at 5' }).click();
    }
    if (i === 9) {
      await page.keyboard.press('Enter');
      await page.keyboard.press('u');
    }
    if (i % 3 === 0)
      await page
        .getByRole('button', { name: stop ? new RegExp(`^Stopped at ${stop} `) : /^Finished/ })
        .click();
    else await page.keyboard.press(stop ? `Digit${stop}` : 'Enter');
    if (i === 0) await page.getByRole('button', { name: 'Crosses the feet' }).click();
    if (i === 9) await expect(page.getByRole('status')).toContainText('Ada attacks Ben, left side');
  }
  await expect(page.getByRole('status')).toContainText('Ben attacks Ada, right side');
  await allSaved(page);

  const readings = async (on: typeof page) => {
    await on.goto(`${empty.url}/readings/rear-strangle?method=plain`);
    await on.getByRole('link', { name: 'Ada', exact: true }).click();
    await expect(on.getByRole('heading', { name: 'Where do Ada’s reps end?' })).toBeVisible();
    const rows = on.getByRole('list', { name: 'Ada: where the reps end' }).getByRole('listitem');
    for (let i = 0; i < checkpoints; i++)
      await expect(rows.nth(i)).toContainText(
        `${failed[i]} of the ${reached[i]} that got here: ${percent(hazards[i]!)}`,
      );
    await expect(
      on.getByText(`Counted: ${stops.filter((stop) => stop === 0).length} finishes in 20 reps`),
    ).toBeVisible();
    await expect(on.getByText(`${percent(finishRate)} finish`, { exact: true })).toBeVisible();
    const prescription = on.getByTestId('prescription');
    await expect(prescription).toContainText(`Ada: correct ${first + 1} “Hooks inside the thighs” first.`);
    await expect(prescription).toContainText(
      `${failed[first]} of the ${reached[first]} reps that reached it ended there`,
    );
    await expect(on.getByTestId('evidence')).toContainText(
      `${reached[first]} reps reached it: ${failed[first]} ended there`,
    );
    await expect(on.getByRole('row', { name: /Crosses the feet/ })).toContainText('1');
  };
  expect(first).toBe(1);
  await readings(page);

  await page.reload();
  await expect(page.getByTestId('prescription')).toContainText('2 “Hooks inside the thighs”');
  await empty.restart();
  const elsewhere = await (await browser.newContext()).newPage();
  await signIn(elsewhere, empty.url);
  await readings(elsewhere);
});

test('what is tapped without a network waits on the device, and is sent when there is one', async ({
  page,
  context,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  await startSession(page);
  await page.keyboard.press('Digit4');
  await allSaved(page);
  await context.setOffline(true);
  for (const key of ['Digit4', 'Enter', 'Digit2']) await page.keyboard.press(key);
  await page.keyboard.press('u');
  await expect(page.getByTestId('sync')).toHaveText('4 waiting for a network');
  await expect(page.getByTestId('pair').first()).toContainText('right side, 3 of 10');
  await context.setOffline(false);
  await allSaved(page);
  await page.reload();
  await expect(page.getByTestId('pair').first()).toContainText('right side, 3 of 10');
  const reps = await page.evaluate(async () => (await fetch('/api/export/reps.csv')).text());
  expect(reps.trim().split('\r\n')).toHaveLength(1 + 3);
});

test('the Mat is worked by keys: pairs, roles, side, rung, soft, clock, and a list of them all', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben', 'Cleo', 'Dan']);
  await startSession(page);
  const pairs = page.getByTestId('pair');
  await page.keyboard.press(']');
  await expect(pairs.nth(1)).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('s');
  await expect(page.getByRole('status')).toContainText('attacks');
  await page.keyboard.press('l');
  await expect(pairs.nth(1)).toContainText('left side');
  await page.keyboard.press('=');
  await page.keyboard.press('=');
  await page.keyboard.press('=');
  await expect(page.getByTestId('rung')).toHaveText('4');
  await page.keyboard.press('-');
  await page.keyboard.press('Shift+Digit3');
  await expect(page.getByRole('button', { name: /^Stopped at 3 .* soft$/ })).toBeVisible();
  await page.keyboard.press('Digit5');
  await page.keyboard.press(' ');
  await expect(page.getByRole('button', { name: /running: Pause/ })).toBeVisible();
  await expect(page.getByRole('timer')).toHaveText(/^4:5[0-8]$/);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('undo the last entry');
  await page.keyboard.press('Escape');
  await allSaved(page);
  const csv = await page.evaluate(async () => (await fetch('/api/export/reps.csv')).text());
  expect(csv).toMatch(/,left,3,,,stopped,hand-to-biceps,head-beside-head,/);
});

test('a long press on a knot marks it soft instead of stopping there', async ({ page, empty }) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  await startSession(page);
  const knot = page.getByRole('button', { name: /^Stopped at 2 / });
  await knot.hover();
  await page.mouse.down();
  // It is marked while the finger is still down.
  await expect(page.getByRole('button', { name: /^Stopped at 2 .* soft$/ })).toBeVisible();
  await page.mouse.up();
  await expect(page.getByRole('button', { name: /^Stopped at 2 .* soft$/ })).toBeVisible();
  await expect(page.getByTestId('pair').first()).toContainText('0 of 10');
});

test('the sign-in refuses a wrong password in a sentence', async ({ page, empty }) => {
  await makeAcademy(page, empty.url);
  await page.getByRole('button', { name: /Quay/ }).click();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await page.getByLabel('Email').fill(coach.email);
  await page.getByLabel('Password').fill('not this one');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toContainText('Wrong email or password');
});

test('a reading that is open in another tab follows the taps, without a reload', async ({ page, empty }) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  await startSession(page);
  await page.keyboard.press('Digit2');
  await allSaved(page);
  const reading = await page.context().newPage();
  await reading.goto(`${empty.url}/readings/rear-strangle/squad`);
  const row = reading.getByRole('list', { name: /squad/ }).getByRole('listitem').nth(1);
  await expect(row).toContainText('1 of the 1 that got here');
  await page.keyboard.press('Digit2');
  await page.keyboard.press('Enter');
  await allSaved(page);
  await expect(row).toContainText('2 of the 3 that got here');
});
