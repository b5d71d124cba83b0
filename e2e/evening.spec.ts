import { newStudent } from '@ulkret/core/people';
import { doubleTapMs, doubleWithinMs } from '@ulkret/core/session';
import type { Locator, Page } from '@playwright/test';
import {
  addStudents,
  advice,
  allSaved,
  changePairs,
  coach,
  csvOf,
  makeAcademy,
  otherDevice,
  pair,
  startSession,
} from './steps';
import { expect, test } from './instance';

/** The tile of a pair, by one of its people. */
const tileOf = (page: Page, name: string): Locator =>
  page.getByTestId('pair').filter({ hasText: new RegExp(`\\b${name}\\b`) });
const finish = (page: Page) => page.getByRole('button', { name: /^Finished/ });
/** Longer than two coaches take to log one rep. */
const apart = (page: Page) => page.waitForTimeout(doubleWithinMs + 300);

test('an evening with three devices: every rep is of the pair that was on the tapping screen', async ({
  page,
  browser,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben', 'Cleo', 'Dan', 'Eve', 'Finn']);
  await startSession(page);
  await expect(page.getByTestId('pair')).toHaveCount(3);
  const address = page.url();
  const gus = newStudent({ id: 'gus', name: 'Gus' });
  expect((await page.request.put(`${empty.url}/api/students/gus`, { data: gus })).ok()).toBe(true);

  // The same coach on a second device, and another coach with a phone.
  const twin = await otherDevice(browser, empty.url);
  await twin.page.goto(address);
  await empty.query(
    "insert into coaches select academy_id, 'maren', 'Maren', 'maren@quay.example', password_hash, 'coach' from coaches limit 1",
  );
  const phoneContext = await browser.newContext({ viewport: { width: 390, height: 844 } });
  const phone = await phoneContext.newPage();
  await phone.goto(empty.url);
  await phone.getByLabel('Email').fill('maren@quay.example');
  await phone.getByLabel('Password').fill(coach.password);
  await phone.getByRole('button', { name: 'Sign in' }).click();
  await expect(phone.getByRole('heading', { name: 'Today' })).toBeVisible();
  await expect(phone.getByRole('link', { name: 'Join the class' })).toHaveAttribute(
    'href',
    new URL(address).pathname,
  );
  await phone.goto(address);
  await page.reload();

  // The tablet has the last pair open. On the phone somebody changes the pairs; a late-comer joins at the same time.
  await tileOf(page, 'Eve').click();
  const panel = await changePairs(phone);
  const sheet = await changePairs(page);
  await sheet.getByRole('button', { name: /^Came late:/ }).click();
  await page.getByRole('option', { name: 'Gus' }).click();
  await sheet.getByRole('button', { name: 'Gus', exact: true }).click();
  await sheet.getByRole('button', { name: 'Cleo', exact: true }).click();
  await sheet.getByRole('button', { name: 'Apply pairs' }).click();
  await expect(panel.getByRole('status')).toContainText(
    'Nina: Gus came. Nina: Cleo and Dan and Gus work together.',
  );
  await panel.getByRole('button', { name: /^Split Ada and Ben/ }).click();
  await panel.getByRole('button', { name: 'Apply pairs' }).click();
  for (const one of [page, twin.page, phone]) {
    await expect(one.getByTestId('pair')).toHaveCount(2);
    await expect(tileOf(one, 'Gus')).toContainText('waits');
  }
  // The first pair is gone, and the tablet is where it was: also after a reload.
  await page.reload();
  await expect(tileOf(page, 'Eve')).toHaveAttribute('aria-pressed', 'true');
  await finish(page).dblclick();
  await expect(page.getByRole('status')).toContainText('Two taps at once: one rep was logged.');
  await expect(tileOf(page, 'Eve')).toContainText('1 of 10');
  // The pair that the twin had open is gone: nothing is logged there, and it says so.
  await expect(advice(twin.page)).toContainText('Ada and Ben do not work together any more. Choose a pair.');
  await twin.page.keyboard.press('Enter');
  await expect(twin.page.getByRole('status')).toContainText('Not logged: no pair is open.');

  // The rung is the pair’s: what the phone sets, the tablet logs at.
  await tileOf(phone, 'Eve').click();
  await phone.getByRole('button', { name: 'One rung up' }).click();
  await expect(tileOf(page, 'Eve')).toContainText('rung 3');

  // One account on two devices: the twin’s rep within seconds is asked about, and the key undoes its own alone.
  await tileOf(twin.page, 'Eve').click();
  await apart(page);
  await page.keyboard.press('Digit4');
  await twin.page.keyboard.press('Digit5');
  await expect(advice(page)).toContainText(
    /Logged twice\? Eve: yours stopped at 4, your other device’s stopped at 5\./,
  );
  await expect(tileOf(page, 'Eve')).toContainText('2 of 10');
  await advice(page).getByRole('button', { name: 'Keep yours' }).click();
  await expect(advice(page)).not.toContainText('Logged twice');
  await expect(advice(twin.page)).toContainText('undid your rep: Eve stopped at 5.');
  await advice(twin.page).getByRole('button', { name: 'Got it' }).click();
  await twin.page.keyboard.press('u');
  await expect(twin.page.getByRole('status')).toContainText('Nothing left to undo on this device');
  await expect(tileOf(page, 'Eve')).toContainText('2 of 10');

  // Another coach’s rep is undone after a question; its coach hears of it and can restore it.
  await apart(page);
  await page.keyboard.press('Enter');
  await allSaved(page);
  await expect(tileOf(phone, 'Eve')).toContainText('3 of 10');
  await phone
    .getByRole('button', { name: /^Undo Eve finished, logged by/ })
    .first()
    .click();
  await phone
    .getByRole('dialog', { name: 'Undo this rep?' })
    .getByRole('button', { name: 'Undo it' })
    .click();
  await expect(advice(page)).toContainText(/undid your rep: Eve finished\./);
  await expect(tileOf(page, 'Eve')).toContainText('2 of 10');
  await advice(page).getByRole('button', { name: 'Restore it' }).click();
  for (const one of [page, phone]) await expect(tileOf(one, 'Eve')).toContainText('3 of 10');

  // The phone loses its network, goes on, and everything meets again.
  await phoneContext.setOffline(true);
  await tileOf(phone, 'Cleo').click();
  await finish(phone).click();
  await phone.waitForTimeout(doubleTapMs);
  await finish(phone).click();
  await phoneContext.setOffline(false);
  await expect(pair(page, 0)).toContainText('2 of 10');
  for (const one of [page, twin.page, phone]) await allSaved(one);
  const rows = (await csvOf(page)).map((row) => row.split(','));
  const told = rows.map((cells) => [cells[5], cells[6], cells[8], cells[11]].join(' ')).sort();
  expect(told).toEqual([
    'cleo dan 2 finished',
    'cleo dan 2 finished',
    'eve finn 2 finished',
    'eve finn 3 finished',
    'eve finn 3 stopped',
  ]);
  await twin.context.close();
  await phoneContext.close();
});
