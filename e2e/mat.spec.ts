import { doubleTapMs } from '@ulkret/core/session';
import type { Page } from '@playwright/test';
import {
  addStudents,
  advice,
  allSaved,
  changePairs,
  csvOf,
  installed,
  makeAcademy,
  otherDevice,
  pair,
  select,
  startSession,
} from './steps';
import { expect, test } from './instance';

const tap = (page: Page, name: string) => page.getByTestId('person').filter({ hasText: name }).click();

test('a class is set up in a minute: guests, pairs by tap and by drag, who attacks first; and repeated in one tap', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben', 'Cleo', 'Dan']);
  await page.goto(`${empty.url}/mat/new`);
  await select(page, /^Technique:/, 'Rear strangle');
  await page.getByRole('button', { name: 'Everybody' }).click();
  await page.getByLabel('A guest').fill('Finn');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Who is here: 5' })).toBeVisible();
  const pairs = page.getByRole('list', { name: 'Pairs' }).getByRole('listitem');
  await page
    .getByTestId('person')
    .filter({ hasText: 'Ada' })
    .dragTo(page.getByTestId('person').filter({ hasText: 'Cleo' }));
  await expect(pairs).toHaveCount(1);
  await page
    .getByTestId('person')
    .filter({ hasText: 'Finn' })
    .dragTo(page.getByTestId('person').filter({ hasText: 'Cleo' }));
  await expect(pairs.first()).toHaveAccessibleName('Cleo and Ada and Finn');
  await tap(page, 'Ben');
  await tap(page, 'Dan');
  await expect(pairs).toHaveCount(2);
  await page.getByRole('button', { name: /Change who attacks first: Dan and Ben/ }).click();
  await page.getByRole('button', { name: /Move up: Ben and Dan/ }).click();
  await select(page, /^Reps a side:/, '5');
  await page.getByRole('button', { name: 'Start with 2 pairs' }).click();
  await expect(pair(page)).toContainText('Ben on Dan');
  await expect(pair(page, 1)).toContainText('Cleo on Ada');
  // A rotating three: five on each side, then the next attacks and the first waits.
  await page.keyboard.press(']');
  for (let i = 0; i < 10; i++) await page.keyboard.press('Enter');
  await expect(page.getByRole('status')).toContainText('Ada attacks Finn, right side');
  await allSaved(page);
  await page.goto(`${empty.url}/mat/new`);
  await page.getByRole('button', { name: /^Repeat today: Rear strangle, 2 pairs/ }).click();
  await page.getByRole('button', { name: 'Start with 2 pairs' }).click();
  await expect(pair(page)).toContainText('Ben on Dan');
  await expect(pair(page)).toContainText('0 of 5');
});

test('by the clock the sides change at half time and the roles with the round, shown and heard, and a reload forgets nothing', async ({
  page,
  context,
  empty,
}) => {
  await page.addInitScript(() => {
    const heard: string[] = [];
    const locks = { held: 0 };
    // A signal is on the screen for two seconds of the page’s clock: what was shown is noted as it comes.
    const shown: string[] = [];
    Object.assign(window, { heard, locks, shown });
    new MutationObserver(() => {
      const text = document.querySelector('[role="alert"][data-signal]')?.textContent ?? '';
      if (text !== '' && text !== shown.at(-1)) shown.push(text);
    }).observe(document, { childList: true, subtree: true, characterData: true });
    Object.defineProperty(navigator, 'wakeLock', {
      value: {
        request: () => {
          locks.held++;
          return Promise.resolve({ release: () => Promise.resolve(void locks.held--) });
        },
      },
    });
    const start = OscillatorNode.prototype.start;
    OscillatorNode.prototype.start = function (this: OscillatorNode, when?: number) {
      heard.push(`${this.frequency.value}`);
      start.call(this, when);
    };
  });
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  await page.clock.install();
  await page.goto(`${empty.url}/mat/new`);
  await select(page, /^Technique:/, 'Rear strangle');
  await page.getByRole('button', { name: 'Everybody' }).click();
  await page.getByRole('button', { name: 'Pair them' }).click();
  await page.getByRole('radio', { name: 'by the clock' }).click();
  await select(page, /^Minutes a round:/, '1');
  await page.getByRole('button', { name: /^Start with/ }).click();
  await expect(pair(page)).toContainText('right side, 0');
  await expect(page.getByTestId('sync')).toHaveText('all saved');
  // The device’s clock is about to run ahead of the server’s, which would be put right.
  await context.setOffline(true);
  await page.keyboard.press(' ');
  const shown = () => page.evaluate(() => (window as unknown as { shown: string[] }).shown);
  await expect.poll(shown).toEqual(['Go']);
  const lit = () => page.evaluate(() => (window as unknown as { locks: { held: number } }).locks.held);
  expect(await lit()).toBe(1);
  await page.keyboard.press(' ');
  await expect.poll(lit).toBe(0);
  await page.keyboard.press(' ');
  await page.keyboard.press('Enter');
  await page.clock.runFor(31_000);
  await expect(pair(page)).toContainText('left side, 0');
  await page.clock.runFor(20_000);
  await expect.poll(shown).toContain('10 seconds');
  await page.clock.runFor(10_000);
  await expect.poll(shown).toEqual(['Go', 'Change sides', '10 seconds', 'Stop: round over']);
  const heard = () => page.evaluate(() => (window as unknown as { heard: string[] }).heard);
  expect(await heard()).toEqual(['880', '660', '660', '990', '990', '990', '520', '390']);
  await page.getByRole('button', { name: /^Mute signals/ }).click();
  await page.keyboard.press(' ');
  await expect.poll(async () => (await shown()).slice(4)).toEqual(['Go']);
  await expect(pair(page)).toContainText('Ben on Ada');
  expect(await heard()).toHaveLength(8);
  await context.setOffline(false);
  await page.clock.runFor(5_000);
  await page.clock.resume();
  await allSaved(page);
  await page.reload();
  await expect(page.getByText('round 2 of 3')).toBeVisible();
  await expect(page.getByRole('button', { name: /running: Pause/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Mute signals/ })).toHaveAttribute('aria-pressed', 'true');
});

test('a forced finish, an interrupted rep, and keys that are given away', async ({ page, empty }) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  await startSession(page);
  await page.keyboard.press('f');
  await page.keyboard.press('Digit3');
  await page.keyboard.press('Digit5');
  await page.getByRole('button', { name: /^Finished, though 3, 5 failed/ }).click();
  await page.getByRole('button', { name: 'Not judged' }).click();
  await page.waitForTimeout(doubleTapMs);
  await page.getByRole('button', { name: /^Held up to 4 / }).click();
  await page.keyboard.press('n');
  await page.keyboard.press('Enter');
  await page.keyboard.press('?');
  const keys = page.getByRole('dialog', { name: 'Keys of the Mat' });
  await keys.getByRole('button', { name: 'Change the key for: the rep finished' }).click();
  await page.keyboard.press('b');
  await keys.getByRole('button', { name: 'Close' }).click();
  await page.keyboard.press('Enter');
  await page.keyboard.press('b');
  await page.reload();
  await expect(pair(page)).toContainText('4 of 10');
  await page.keyboard.press('b');
  await expect(pair(page)).toContainText('5 of 10');
  await allSaved(page);
  const outcomes = (await csvOf(page)).map(
    (row) => /,(forced|finished|not judged|stopped),[^,]*/.exec(row)![0],
  );
  expect(outcomes).toEqual([
    ',forced,head-beside-head;hand-to-biceps',
    ',not judged,arm-under-chin',
    ',not judged,',
    ',finished,',
    ',finished,',
  ]);
});

test('what a student works on is marked, and the clicker alone moves its sign-off test', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  await startSession(page);
  await page.keyboard.press('PageUp');
  await expect(page.getByRole('status')).toContainText('Ada has no correction here');
  // Thirty reps of Ada’s that say where they break: ten on each side, and once more on the right.
  for (let i = 0; i < 30; i++) {
    if (i === 20) await page.keyboard.press('s');
    await page.keyboard.press(i % 3 ? 'Enter' : 'Digit6');
  }
  await allSaved(page);
  await page.goto(`${empty.url}/mat/new`);
  await page.getByRole('button', { name: /^Repeat/ }).click();
  await expect(page.getByText('1 person has a correction here.')).toBeVisible();
  await page.getByRole('button', { name: /^Start with/ }).click();
  await expect(advice(page)).toContainText('Ada works on 6');
  const more = () => advice(page).innerText();
  const rung = Number(/from rung (\d)/.exec(await more())?.[1] ?? 2);
  for (let i = 2; i < rung; i++) await page.keyboard.press('=');
  await expect(page.getByRole('button', { name: /^Stopped at 6 .*hold 7 in a row/ })).toBeVisible();
  for (let i = 0; i < 3; i++) await page.keyboard.press('PageDown');
  await expect(advice(page)).toContainText('4 more held in a row signs it off.');
  await page.keyboard.press('PageUp');
  await expect(advice(page)).not.toContainText('4 more held');
  for (let i = 0; i < 7; i++) await page.keyboard.press('PageDown');
  await expect(pair(page)).toContainText('6: signed off');
});

test('at the cap the tile says so; a stop for safety waits for what went wrong, and pain keeps off what hurts', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  await startSession(page);
  for (let i = 0; i < 12; i++) await page.keyboard.press('Enter');
  await expect(
    pair(page).getByRole('img', { name: /12 of 12 finishes on the neck today: at the cap/ }),
  ).toBeVisible();
  await expect(advice(page)).toContainText('Ben is at the cap for today: 12 of 12 finishes on the neck.');
  await advice(page).getByRole('button', { name: 'Stop before the finish' }).click();
  await expect(page.getByText('checkpoints 1 to 7')).toBeVisible();
  await page.keyboard.press('Enter');
  await advice(page).getByRole('button', { name: 'Full technique' }).click();
  await page.getByRole('button', { name: 'Stop for safety' }).click();
  const note = page.getByRole('dialog', { name: 'Stop for safety' });
  await expect(note).toBeVisible();
  // It is on record at once; until somebody says what happened, the pair waits.
  await page.keyboard.press('Escape');
  await expect(pair(page)).toContainText('Stopped for safety');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status')).toContainText('Not logged: this pair was stopped for safety');
  // A hard tap keeps nobody off.
  await advice(page).getByRole('button', { name: 'What went wrong?' }).click();
  await note.getByRole('radio', { name: 'Late or hard tap' }).click();
  await note.getByRole('button', { name: 'Save and continue' }).click();
  await expect(pair(page)).not.toContainText('Stopped for safety');
  await page.getByRole('button', { name: 'Stop for safety' }).click();
  await note.getByRole('radio', { name: 'Ben' }).click();
  await note.getByRole('radio', { name: 'Pain' }).click();
  await expect(note.getByRole('button', { name: 'Save' })).toBeDisabled();
  await note.getByRole('button', { name: 'neck' }).click();
  await note.getByRole('textbox', { name: 'In your words' }).fill('stiff on the left');
  await note.getByRole('button', { name: 'Save' }).click();
  await expect(advice(page)).toContainText('Ben rests the neck until');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status')).toContainText('Not logged: Ben rests the neck');
  await expect(page.getByRole('list', { name: 'Last entries' }).getByRole('listitem')).toHaveCount(5);
  await allSaved(page);
  const reps = (await csvOf(page)).length;
  expect(reps).toBe(13);
  // Another class on the same day: refused, unless a coach writes why.
  await page.goto(`${empty.url}/mat/new`);
  await page.getByRole('button', { name: /^Repeat/ }).click();
  await expect(page.getByText(/Ada and Ben wait\..*Ben rests the neck until/)).toBeVisible();
  const start = page.getByRole('button', { name: /^Start with/ });
  await expect(start).toBeDisabled();
  await page.getByLabel('To override, write why').fill('cleared by the club’s own physio');
  await start.click();
  // The cap counts the day, so it comes first; the words open all that is to be known.
  await expect(advice(page)).toContainText('Ben is at the cap for today: 12 of 12');
  await advice(page).getByRole('button').first().click();
  const about = page.getByRole('dialog', { name: 'About this pair' });
  await expect(about).toContainText('Overridden by a coach: cleared by the club’s own physio');
  await about.getByRole('button', { name: 'Close' }).click();
  await page.keyboard.press('Enter');
  await allSaved(page);
  expect(await csvOf(page)).toHaveLength(reps + 1);
});

test('a minor is let through by nobody', async ({ page, empty }) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  await page.getByRole('button', { name: 'Ben', exact: true }).click();
  await page.getByRole('group', { name: 'Born' }).getByRole('spinbutton').first().click();
  await page.keyboard.type('05052014');
  await page.getByRole('button', { name: 'Save' }).click();
  await page.goto(`${empty.url}/mat/new`);
  await select(page, /^Technique:/, 'Straight ankle lock from an outside leg entanglement');
  await page.getByRole('button', { name: 'Everybody' }).click();
  await page.getByRole('button', { name: 'Pair them' }).click();
  await expect(
    page.getByText(/Ben cannot be paired.*Ben is a minor: no locks on the knee and ankle/),
  ).toBeVisible();
  await expect(page.getByLabel(/To override, write why/)).toHaveCount(0);
  await expect(page.getByRole('button', { name: /^Start with/ })).toBeDisabled();
});

test('after the class: what was drilled, who was not seen, causes tagged late, notes, and reps from paper', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben', 'Cleo', 'Dan']);
  await startSession(page);
  for (const key of ['Digit4', 'Digit4', 'Enter', 'Digit6']) await page.keyboard.press(key);
  await page.getByRole('link', { name: 'Leave' }).click();
  await expect(page.getByText('4 reps: 1 finish, 3 stops, 0 forced, 0 not judged.')).toBeVisible();
  await expect(page.getByText(/No reps:.*Dan/)).toBeVisible();
  await expect(page.getByRole('heading', { name: '3 stops without a cause: tag them now?' })).toBeVisible();
  await page.getByRole('button', { name: 'Wrist in front of the throat' }).first().click();
  const left = (stops: string) => page.getByRole('heading', { name: `${stops} without a cause: tag` });
  await expect(left('2 stops')).toBeVisible();
  await page.getByRole('button', { name: 'Not seen' }).first().click();
  await expect(left('1 stop')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await expect(left('2 stops')).toBeVisible();
  await page.getByRole('button', { name: 'Something else …' }).first().click();
  await page.getByRole('textbox', { name: /^What was seen/ }).fill('thumb caught in the collar');
  await page.getByRole('button', { name: 'Keep' }).click();
  await expect(left('1 stop')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Ask again' })).toHaveCount(1);
  await expect(page.getByText(/ at 4: thumb caught in the collar/)).toBeVisible();
  // A note is kept when its field is left, with or without a press of Keep.
  await page.getByRole('textbox', { name: 'A note on Ada' }).fill('calmer than last week');
  await page.keyboard.press('Tab');
  await expect(page.getByText('calmer than last week (Nina)')).toBeVisible();
  await page.getByRole('link', { name: 'A wall sheet' }).click();
  await expect(page.getByRole('row', { name: /Ada .* right/ })).toBeVisible();
  await page.getByRole('link', { name: 'Back' }).click();
  await page.getByRole('link', { name: 'Enter from paper' }).click();
  const line = page.getByRole('textbox', { name: 'Ben, left side' });
  await line.fill('4 4 f 9 2!');
  await expect(page.getByText('“9”: there is no checkpoint 9.')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Enter 4 reps/ })).toBeDisabled();
  await line.fill('44f2!');
  await page.getByRole('button', { name: 'Enter 4 reps' }).click();
  await expect(page.getByText('4 reps entered.')).toBeVisible();
  await line.fill('44f2!');
  await expect(page.getByText('Already entered.')).toBeVisible();
  await line.fill('');
  await page.getByRole('link', { name: 'Back' }).click();
  await expect(page.getByText('8 reps: 2 finishes, 5 stops, 1 forced')).toBeVisible();
  await page.getByRole('button', { name: 'End the class' }).click();
  await expect(page.getByText('all saved')).toBeVisible();
  const rows = await csvOf(page);
  expect(rows.filter((row) => row.includes(',paper,'))).toHaveLength(4);
  expect(rows.filter((row) => /stopped,arm-under-chin,,arm-shallow/.test(row))).toHaveLength(1);
  await page.goto(`${empty.url}/mat`);
  await expect(page.getByText('not ended')).toHaveCount(0);
});

test('a swap and soft marks wait on their pair: another pair and back, a reload, an undo, a second device', async ({
  page,
  browser,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben', 'Cleo', 'Dan']);
  await startSession(page);
  const [first, second] = [page.getByTestId('pair').nth(0), page.getByTestId('pair').nth(1)];
  await expect(first).toContainText('Ada on Ben');
  // In one tap: Ben attacks, on the left.
  await page.getByRole('button', { name: 'Ben attacks, left side' }).click();
  await expect(first).toContainText('Ben on Ada');
  await page.keyboard.press('Shift+Digit2');
  await expect(page.getByRole('button', { name: /^Stopped at 2/ })).toContainText('soft');
  await second.click();
  await expect(page.getByRole('button', { name: /^Stopped at 2/ })).not.toContainText('soft');
  await first.click();
  await expect(first).toContainText('Ben on Ada');
  await expect(first).toContainText('left side');
  await expect(page.getByRole('button', { name: /^Stopped at 2/ })).toContainText('soft');
  await page.reload();
  await expect(first).toContainText('Ben on Ada');
  await expect(page.getByRole('button', { name: /^Stopped at 2/ })).toContainText('soft');
  await page.keyboard.press('Digit5');
  await page.keyboard.press('u');
  await expect(first).toContainText('Ben on Ada');
  await expect(first).toContainText('left side, 0');
  await page.keyboard.press('Enter');
  await allSaved(page);
  expect(await csvOf(page)).toEqual([expect.stringMatching(/,left,2,,,finished/)]);
  const { page: other, context } = await otherDevice(browser, empty.url);
  await other.goto(page.url());
  await expect(other.getByTestId('pair').first()).toContainText('Ben on Ada');
  await expect(other.getByTestId('pair').first()).toContainText('left side, 1');
  await context.close();
});

test('any rep of the class can be put where it belongs, in one step, with its cause', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben', 'Cleo', 'Dan']);
  await startSession(page);
  await page.keyboard.press('Digit2');
  await page.getByRole('button', { name: 'Crosses the feet' }).click();
  await expect(page.getByRole('list', { name: 'Last entries' })).toContainText('Crosses the feet');
  for (let i = 0; i < 7; i++) await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'All reps' }).click();
  const panel = page.getByRole('dialog', { name: 'All reps' });
  const oldest = panel.getByRole('listitem').last();
  await expect(oldest).toContainText('Ada on Ben, right side');
  await expect(oldest).toContainText('Crosses the feet');
  await oldest.getByRole('button', { name: /^Move Ada/ }).click();
  await select(page, /^Attacked:/, 'Cleo');
  await panel.getByRole('radio', { name: 'Left' }).click();
  await panel.getByRole('button', { name: 'Move rep' }).click();
  await expect(oldest).toContainText('Cleo on Dan, left side');
  await expect(oldest).toContainText('Crosses the feet');
  await page.keyboard.press('Escape');
  await allSaved(page);
  const rows = await csvOf(page);
  expect(rows).toHaveLength(8);
  expect(rows.filter((row) => row.includes(',stopped,'))).toEqual([expect.stringMatching(/,left,2,/)]);
});

test.describe('with the app on the device', () => {
  test.use({ serviceWorkers: 'allow' });

  test('a guest who comes late is taken in, without a network too', async ({ page, context, empty }) => {
    await makeAcademy(page, empty.url);
    await addStudents(page, ['Ada', 'Ben']);
    await startSession(page);
    await installed(page);
    await context.setOffline(true);
    const panel = await changePairs(page);
    await panel.getByLabel('A guest').fill('Visitor');
    await panel.getByRole('button', { name: 'Add' }).click();
    await expect(panel.getByText('Visitor').first()).toBeVisible();
    await context.setOffline(false);
  });
});

const sizes = [
  [1280, 800],
  [800, 1280],
  [390, 844],
  [390, 664],
  [360, 640],
  [844, 390],
  [640, 400],
] as const;

test('every knot and every ending is 48 px, in view and under nothing, however the Mat is held', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Konstantina Ada', 'Ben', 'Cleo', 'Dan']);
  await startSession(page);
  for (const [width, height] of sizes) {
    await page.setViewportSize({ width, height });
    // A stop asks for its cause: that covers nothing either.
    await page.getByRole('button', { name: /^Stopped at 6/ }).click();
    await expect(page.getByRole('group', { name: 'Why did it stop?' })).toBeVisible();
    const faults = () =>
      page.evaluate(() => {
        const named = (one: Element) =>
          (one.getAttribute('aria-label') ?? one.textContent ?? '').slice(0, 30);
        return [...document.querySelectorAll('main button, main a')].flatMap((one) => {
          const { left, right, top, bottom, width: w, height: h } = one.getBoundingClientRect();
          // Things in a scrolled row, and the pairs next to the open one, may lie outside.
          const scrolled = one.closest('nav, ol[aria-label="Last entries"], [aria-label="Why did it stop?"]');
          if (w === 0 || (scrolled && !one.matches('[aria-pressed="true"]'))) return [];
          const out = left < -1 || top < -1 || right > innerWidth + 1 || bottom > innerHeight + 1;
          const hit = document.elementFromPoint((left + right) / 2, (top + bottom) / 2);
          return [
            ...(h < 47.5 || w < 47.5 ? [`${named(one)} is ${Math.round(w)} × ${Math.round(h)}`] : []),
            ...(out ? [`${named(one)} is out of view`] : []),
            ...(!out && hit && !one.contains(hit) ? [`${named(one)} lies under ${named(hit)}`] : []),
          ];
        });
      });
    await expect.poll(faults, { message: `${width} × ${height}` }).toEqual([]);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(width);
    expect(await page.getByRole('button', { name: /^Stopped at/ }).count()).toBe(8);
  }
});

test('a class that another device has ended takes no rep without a word, and is reopened by one press', async ({
  page,
  browser,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  await startSession(page);
  await page.keyboard.press('Enter');
  await allSaved(page);
  const { page: other, context } = await otherDevice(browser, empty.url);
  await other.goto(`${page.url()}/after`);
  await other.getByRole('button', { name: 'End the class' }).click();
  await expect(advice(page)).toContainText('This class has ended');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status')).toContainText('Not logged: this class has ended');
  await advice(page).getByRole('button', { name: 'Reopen the class' }).click();
  await expect(advice(page)).not.toContainText('This class has ended');
  await page.keyboard.press('Enter');
  await allSaved(page);
  expect(await csvOf(page)).toHaveLength(2);
  await context.close();
});
