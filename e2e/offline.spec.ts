import type { Page } from '@playwright/test';
import {
  advice,
  addStudents,
  allSaved,
  clockAhead,
  installed,
  coach,
  csvOf,
  drillOnce,
  makeAcademy,
  otherDevice,
  pair,
  select,
  signInHere,
  startSession,
} from './steps';
import { expect, test } from './instance';

/** Waits until this device has kept an answer of the server in which there is this. */
const keptOnDevice = (page: Page, address: string, words: string) =>
  expect
    .poll(() =>
      page.evaluate(
        ([wanted, inIt]) =>
          new Promise<boolean>((resolve) => {
            const opening = indexedDB.open('ulkret');
            opening.onsuccess = () => {
              const all = opening.result.transaction('answers').objectStore('answers').getAll();
              all.onsuccess = () => {
                opening.result.close();
                const answers = all.result as { address: string; body: unknown }[];
                resolve(
                  answers.some(
                    ({ address: at, body }) => at === wanted && JSON.stringify(body).includes(inIt),
                  ),
                );
              };
            };
          }),
        [address, words] as const,
      ),
    )
    .toBe(true);

// Here the app has to be on the device.
test.use({ serviceWorkers: 'allow' });

test('a whole session without a network, from a cold start, is on the server when there is one', async ({
  page,
  context,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben', 'Cleo']);
  await page.goto(empty.url);
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
  await installed(page);
  await keptOnDevice(page, '/api/kit', 'Cleo');
  await page.close();
  await context.setOffline(true);
  const cold = await context.newPage();
  await cold.goto(`${empty.url}/mat`);
  await cold.getByRole('link', { name: 'Set up a class' }).click();
  await select(cold, /^Technique:/, 'Rear strangle');
  await cold.getByRole('button', { name: 'Everybody' }).click();
  await cold.getByLabel('A guest').fill('Finn');
  await cold.getByRole('button', { name: 'Add', exact: true }).click();
  await cold.getByRole('button', { name: 'Pair them' }).click();
  await cold.getByRole('button', { name: 'Start with 2 pairs' }).click();
  await expect(pair(cold)).toBeVisible();
  for (let i = 0; i < 30; i++) await cold.keyboard.press(i % 3 ? 'Enter' : 'Digit2');
  await cold.keyboard.press('u');
  await expect(cold.getByTestId('sync')).toHaveText('33 waiting for a network');
  // The tab is closed, the device is switched off, and still there is no network.
  const { pathname } = new URL(cold.url());
  await cold.close();
  const again = await context.newPage();
  await again.goto(empty.url + pathname);
  await expect(pair(again)).toContainText(/of 10/);
  await again.keyboard.press('Enter');
  await expect(again.getByTestId('sync')).toHaveText('34 waiting for a network');
  await context.setOffline(false);
  await allSaved(again);
  expect(await csvOf(again)).toHaveLength(30);
  const students = await again.evaluate(async () => (await fetch('/api/students')).text());
  expect(students).toContain('"Finn"');
});

test('a tab that is closed between the tap and the sending loses nothing', async ({
  page,
  context,
  empty,
}) => {
  await drillOnce(page, empty.url);
  await context.route('**/api/reps', (route) => route.abort());
  for (let i = 0; i < 5; i++) await page.keyboard.press('Digit3');
  await page.close();
  await context.unroute('**/api/reps');
  const next = await context.newPage();
  await next.goto(empty.url);
  await expect(next.getByText('all saved')).toBeVisible();
  await expect.poll(async () => (await csvOf(next)).length).toBe(6);
});

test('two devices offline on one session meet as a union, and online each sees the other’s taps as they come', async ({
  page,
  context,
  browser,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben', 'Cleo', 'Dan']);
  await startSession(page);
  await page.keyboard.press('Enter');
  await allSaved(page);
  const other = await otherDevice(browser, empty.url);
  await other.page.goto(page.url());
  await expect(pair(other.page)).toContainText('1 of 10');
  await page.keyboard.press('Enter');
  await expect(pair(other.page)).toContainText('2 of 10');
  await installed(other.page);
  await context.setOffline(true);
  await other.context.setOffline(true);
  // What was heard is on the device: a start without a network shows it too.
  await other.page.reload();
  await expect(pair(other.page)).toContainText('2 of 10');
  for (let i = 0; i < 3; i++) await page.keyboard.press('Digit4');
  await other.page.keyboard.press(']');
  for (let i = 0; i < 4; i++) await other.page.keyboard.press('Digit2');
  await other.page.keyboard.press(' ');
  await expect(page.getByTestId('sync')).toHaveText('3 waiting for a network');
  await expect(other.page.getByTestId('sync')).toHaveText('5 waiting for a network');
  await other.context.setOffline(false);
  await context.setOffline(false);
  for (const one of [page, other.page]) {
    await allSaved(one);
    await expect(pair(one, 0)).toContainText('5 of 10');
    await expect(pair(one, 1)).toContainText('4 of 10');
    await expect(one.getByRole('button', { name: /running: Pause/ })).toBeVisible();
  }
  expect(await csvOf(page)).toHaveLength(9);
});

test('the same rep logged by two coaches is pointed out, and one tap keeps the right one', async ({
  page,
  browser,
  empty,
}) => {
  await drillOnce(page, empty.url);
  // A second coach of the academy, as the first one’s device sees them: a rep by somebody else in the same seconds.
  await empty.query(
    "insert into coaches select academy_id, 'second', 'Second', 'second@quay.example', password_hash, 'assistant' from coaches limit 1",
  );
  const other = await browser.newContext();
  const second = await other.newPage();
  await second.goto(empty.url);
  await second.getByLabel('Email').fill('second@quay.example');
  await second.getByLabel('Password').fill(coach.password);
  await second.getByRole('button', { name: 'Sign in' }).click();
  await expect(second.getByRole('heading', { name: 'Today' })).toBeVisible();
  await second.goto(page.url());
  await expect(pair(second)).toContainText('1 of 10');
  await page.keyboard.press('Digit4');
  await second.keyboard.press('Digit5');
  await expect(advice(page)).toContainText(
    /Logged twice\? Ada: yours stopped at 4, second’s stopped at 5\./i,
  );
  await expect(advice(second)).toContainText('Logged twice?');
  await advice(page)
    .getByRole('button', { name: /Keep second’s/i })
    .click();
  await expect(advice(page)).not.toContainText('Logged twice?');
  await expect(pair(second)).toContainText('2 of 10');
  await allSaved(page);
  expect((await csvOf(page)).map((row) => /stopped,[^,]*/.exec(row)?.[0] ?? 'finished')).toEqual([
    'finished',
    'stopped,hand-to-biceps',
  ]);
});

test('a device whose clock is a day off stamps its reps with the right day', async ({ browser, empty }) => {
  const context = await browser.newContext();
  await clockAhead(context, 86_400_000);
  const page = await context.newPage();
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  await startSession(page);
  for (const key of ['Digit4', 'Digit5', 'Digit6']) await page.keyboard.press(key);
  await allSaved(page);
  const rows = await csvOf(page);
  const times = rows.map((row) => Date.parse(/\d{4}-\d\d-\d\dT[\d:.]+Z/.exec(row)![0]));
  for (const time of times) expect(Math.abs(time - Date.now())).toBeLessThan(60_000);
  expect([...times].sort((a, b) => a - b)).toEqual(times);
  expect(rows.map((row) => /stopped,([^,]*)/.exec(row)![1])).toEqual([
    'arm-under-chin',
    'hand-to-biceps',
    'hand-behind-head',
  ]);
});

test('a sign-in that ends while there is no network keeps the Mat, and sends after signing in again', async ({
  page,
  context,
  empty,
}) => {
  await drillOnce(page, empty.url);
  await installed(page);
  await context.setOffline(true);
  for (let i = 0; i < 3; i++) await page.keyboard.press('Digit2');
  await context.clearCookies();
  await context.setOffline(false);
  await expect(page.getByRole('alert').filter({ hasText: 'You are signed out.' })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('sync')).toHaveText('4 waiting: sign in to send');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await signInHere(page);
  await allSaved(page);
  await expect(pair(page)).toContainText('5 of 10');
  expect(await csvOf(page)).toHaveLength(5);
  // The device knows who has signed in, also where nobody asked since.
  await context.setOffline(true);
  await page.reload();
  await expect(pair(page)).toContainText('5 of 10');
});

test('where the Wi-Fi hangs, the Mat opens with what the device has, and takes reps', async ({
  page,
  context,
  empty,
}) => {
  await drillOnce(page, empty.url);
  // Asked for once, so that it is kept.
  await page.reload();
  await expect(pair(page)).toContainText('1 of 10');
  await allSaved(page);
  await context.route('**/api/**', () => undefined);
  await page.reload();
  await expect(pair(page)).toContainText('1 of 10');
  await expect(pair(page)).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(pair(page)).toContainText('2 of 10');
  await expect(page.getByTestId('sync')).toHaveText('1 waiting');
  await context.unroute('**/api/**');
  await page.reload();
  await allSaved(page);
  expect(await csvOf(page)).toHaveLength(2);
});

test('a full device says so aloud, and what it cannot keep is sent from the screen', async ({
  page,
  context,
  empty,
}) => {
  await drillOnce(page, empty.url);
  await context.setOffline(true);
  // A disk that is full, as the browser tells of it.
  await page.evaluate(() => {
    IDBObjectStore.prototype.add = () => {
      throw new DOMException('The disk is full.', 'QuotaExceededError');
    };
  });
  for (let i = 0; i < 2; i++) await page.keyboard.press('Digit4');
  await expect(page.getByRole('alert').first()).toContainText('This device is full');
  await expect(page.getByTestId('sync')).toContainText('2 not stored, keep this page open');
  await context.setOffline(false);
  await allSaved(page);
  expect(await csvOf(page)).toHaveLength(3);
});

test('an entry that the server refuses stays on the device, with its reason and a way to fix it', async ({
  page,
  context,
  empty,
}) => {
  await drillOnce(page, empty.url);
  await context.setOffline(true);
  await page.keyboard.press('Digit4');
  await empty.query(
    "update students set id = 'gone', student = jsonb_set(student, '{id}', '\"gone\"') where name = 'Ben'",
  );
  // A server that has not known Ben.
  await empty.restart();
  await context.setOffline(false);
  await expect(page.getByTestId('sync')).toHaveText('1 refused');
  await page.getByRole('link', { name: '1 refused' }).click();
  await expect(page.getByText(/The server did not take it: student: .* is not on the roster/)).toBeVisible();
  await page.reload();
  await select(page, /^On:/, 'Ben');
  await page.getByRole('button', { name: 'Send again' }).click();
  await expect(page.getByRole('status')).toHaveText('all saved');
  expect((await csvOf(page)).filter((row) => row.includes(',gone,'))).toHaveLength(1);
});
