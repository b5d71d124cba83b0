import { doubleTapMs } from '@ulkret/core/session';
import type { Page } from '@playwright/test';
import { allSaved, enterDemo, pair, select, swapRoles } from './steps';
import { expect, test } from './instance';

const cards = (page: Page) => page.getByRole('article');
const card = (page: Page, name: string) => page.getByRole('article', { name: new RegExp(`^${name}:`) });

/** Somebody whose correction is still open, and whom no other test of this academy is about. */
async function nobodys(page: Page): Promise<string> {
  const names = await cards(page).evaluateAll((all) =>
    all.map((one) => one.getAttribute('aria-label') ?? ''),
  );
  const told = /^(Amara|Davor|Hana|Jomo|Chiara|Rosalba|Leif|Quang|Nasrin)\b/;
  return names.find((one) => one.endsWith(': open') && !told.test(one))!.split(':')[0]!;
}

/** Enters the demo and opens the corrections at such a one. */
async function somebody(page: Page, url: string) {
  await enterDemo(page, url);
  await page.goto(`${url}/correct?technique=rear-strangle`);
  await expect(cards(page).first()).toBeVisible();
  const name = await nobodys(page);
  return { name, one: card(page, name) };
}

/** What the server knows of what was decided. */
const followed = (page: Page) =>
  page.evaluate(
    async () =>
      (await (await fetch('/api/prescriptions')).json()) as {
        prescriptions: {
          life: { student: string; state: string; held: boolean[]; terms: { rung: number; cue: string } };
        }[];
        declined: { student: string; reason: string }[];
      },
  );

/** The latest that was agreed to for somebody, as the server has it. */
const latest = async (page: Page, name: string) =>
  (await followed(page)).prescriptions.findLast(({ life }) => life.student === name.toLowerCase())?.life;

test('tonight’s corrections are decided by keyboard, on or off the network, and every device hears of it', async ({
  page,
  context,
  browser,
  demo,
}) => {
  await enterDemo(page, demo.url);
  await page.getByRole('link', { name: 'Decide for tonight' }).first().click();
  await expect(page.getByRole('heading', { name: 'What to correct tonight' })).toBeVisible();
  await select(page, /^Technique:/, 'Rear strangle');
  await expect(cards(page).first()).toBeVisible();
  await expect(page.getByText(/students share this: show it once/).first()).toBeVisible();

  // Why this one?, with what each would have brought.
  const amara = card(page, 'Amara');
  await amara.getByRole('button', { name: 'Why this one?' }).click();
  await expect(amara).toContainText(
    /6 “Back of the hand behind the head”, with “.+”: one evening’s reps should bring/,
  );
  await expect(amara).toContainText(/4 “Arm deep under the chin”: .* Not this one: it brings less/);

  await amara.focus();
  await page.keyboard.press('a');
  await expect(amara).toHaveAccessibleName('Amara: accepted');
  await page.keyboard.press('u');
  await expect(amara).toHaveAccessibleName('Amara: open');
  await page.keyboard.press('a');

  // Without a network it counts at once, outlives a reload, and is told when there is one.
  const name = await nobodys(page);
  await context.setOffline(true);
  await card(page, name).focus();
  await page.keyboard.press('d');
  await page.getByLabel('Or in your own words').fill('a sore elbow');
  await page.keyboard.press('Enter');
  await expect(card(page, name)).toHaveAccessibleName(`${name}: declined`);
  await context.setOffline(false);
  await expect
    .poll(async () => (await followed(page)).declined)
    .toContainEqual(expect.objectContaining({ student: name.toLowerCase(), reason: 'a sore elbow' }));
  await page.reload();
  await expect(amara).toHaveAccessibleName('Amara: accepted');
  // It is respected: no coach is asked about that checkpoint again.
  await expect(cards(page).filter({ hasText: 'a sore elbow' })).toHaveCount(0);

  // Another rung, another drill: the coach's choice counts.
  await amara.getByRole('button', { name: 'Change' }).click();
  const sheet = page.getByRole('dialog');
  await select(sheet, /^Rung:/, /^1 /);
  await sheet.getByLabel('Cue').fill('Look at your own hand.');
  await sheet.getByRole('button', { name: 'Accept' }).click();
  await expect(amara).toContainText('Look at your own hand.');
  await expect.poll(async () => (await latest(page, 'Amara'))?.terms.rung).toBe(1);
  // Another device sees it, and what its coach decides later counts on both.
  const elsewhere = await browser.newContext();
  const second = await elsewhere.newPage();
  await enterDemo(second, demo.url);
  await second.goto(`${demo.url}/correct?technique=rear-strangle`);
  await expect(card(second, 'Amara')).toContainText('Look at your own hand.');
  await card(second, 'Amara').getByRole('button', { name: 'Change' }).click();
  await second.getByRole('dialog').getByLabel('Cue').fill('Thumb behind the ear.');
  await second.getByRole('dialog').getByRole('button', { name: 'Accept' }).click();
  await expect(card(second, 'Amara')).toContainText('Thumb behind the ear.');
  await expect.poll(async () => (await latest(second, 'Amara'))?.terms.cue).toBe('Thumb behind the ear.');
  await page.reload();
  await expect(amara).toContainText('Thumb behind the ear.');
  await elsewhere.close();
  await page.getByRole('link', { name: /past corrections and results/ }).click();
  await expect(page.getByRole('row', { name: /Amara.*accepted/ })).toContainText('Not enough reps yet');
});

test('what is agreed to is on the Mat with its cue, also while the class runs, and is signed off over two classes by tapping', async ({
  page,
  browser,
  demo,
}) => {
  const { name, one } = await somebody(page, demo.url);
  await one.getByRole('button', { name: 'Change' }).click();
  await page.getByRole('dialog').getByLabel('Cue').fill('Knuckles up.');
  await select(page.getByRole('dialog'), /^Rung:/, /^2 /);
  await page.getByRole('dialog').getByRole('button', { name: 'Accept' }).click();
  await expect(one).toHaveAccessibleName(`${name}: accepted`);
  const mine = () => latest(page, name);
  await expect.poll(async () => (await mine())?.state).toBe('accepted');

  const classOf = async (finishes: number, cue: string) => {
    // The class takes what the server says now, and not what this device knew before.
    const [fresh] = await Promise.all([
      page.waitForResponse((response) => new URL(response.url()).pathname === '/api/prescriptions'),
      page.goto(`${demo.url}/mat/new`),
    ]);
    await fresh.finished();
    await select(page, /^Technique:/, 'Rear strangle');
    for (const one of [name, 'Quang']) await page.getByRole('button', { name: one, exact: true }).click();
    await page.getByRole('button', { name: 'Pair them' }).click();
    await page.getByRole('button', { name: /^Start with/ }).click();
    await expect(page.getByTestId('pair').first()).toBeVisible();
    if (!(await pair(page).textContent())!.startsWith(name)) await swapRoles(page);
    await page.getByRole('button', { name: 'Cue and drill' }).click();
    await expect(page.getByRole('dialog')).toContainText(cue);
    const said = await page.getByRole('dialog').textContent();
    await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click();
    for (let i = 0; i < finishes; i++) {
      await page.keyboard.press('Enter');
      await page.waitForTimeout(doubleTapMs);
    }
    await allSaved(page);
    return said;
  };
  expect(await classOf(4, 'Knuckles up.')).toContain('7 held in a row signs it off.');
  await expect.poll(async () => (await mine())?.held.length).toBe(4);
  // Another coach changes the cue during the running class: its Mat says so, and held reps stay held.
  const elsewhere = await browser.newContext();
  const second = await elsewhere.newPage();
  await enterDemo(second, demo.url);
  await second.goto(`${demo.url}/correct?technique=rear-strangle`);
  await card(second, name).getByRole('button', { name: 'Change' }).click();
  await second.getByRole('dialog').getByLabel('Cue').fill('Elbow to the floor.');
  await second.getByRole('dialog').getByRole('button', { name: 'Accept' }).click();
  await expect(card(second, name)).toContainText('Elbow to the floor.');
  await expect(async () => {
    await page.getByRole('button', { name: 'Cue and drill' }).click();
    const said = await page.getByRole('dialog').textContent();
    await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click();
    expect(said).toContain('Elbow to the floor.');
    expect(said).toContain('3 more held in a row signs it off.');
  }).toPass();
  await elsewhere.close();
  // The next class goes on where the last one ended.
  expect(await classOf(3, 'Elbow to the floor.')).toContain('3 more held in a row signs it off.');
  await expect.poll(async () => (await mine())?.state).toBe('signed off');
});

test('the demo tells what became of corrections: one worked, one did not, one lapsed and comes back, two are due, one was declined', async ({
  page,
  demo,
}) => {
  await enterDemo(page, demo.url);
  await page.goto(`${demo.url}/correct/followed`);
  const row = (name: string, stands: string) =>
    page.getByRole('row', { name: new RegExp(`${name}.*${stands}`) });
  await expect(row('Amara', 'kept')).toContainText('It fell');
  await expect(row('Mireille', 'stepped back')).toContainText(
    'It may have dropped, but that is not clear yet',
  );
  await expect(row('Leif', 'lapsed')).toBeVisible();
  await expect(row('Ilmari', 'recheck due')).toContainText('due since');
  await row('Leif', 'lapsed').getByRole('button', { name: 'History' }).click();
  await expect(row('Leif', 'lapsed')).toContainText(/signed off/);

  await page.goto(`${demo.url}/correct?technique=rear-strangle`);
  const again = page.getByTestId('look-again');
  await expect(again).toContainText(/Farid: 6 “.*”, at rung 3 or above; due since/);
  await expect(again).toContainText('Ilmari: 3');
  await expect(card(page, 'Leif')).toContainText('Signed off before; lapsed');
  await expect(page.getByRole('region', { name: /^6 / }).filter({ hasText: 'Oisin:' })).toHaveCount(0);
});

test('where the partner ends it and no answer is recorded, that is said; who has shown too little is not corrected', async ({
  page,
  demo,
}) => {
  await enterDemo(page, demo.url);
  await page.goto(`${demo.url}/correct?technique=rear-strangle`);
  // Story 6: the hand is peeled off, and the breakdown has no answer to it.
  const amara = card(page, 'Amara');
  await expect(amara).toContainText('Peels the hand behind the head. No answer is recorded yet');
  await expect(amara).not.toContainText('Answer:');
  // Story 11: of the newcomer nothing is claimed.
  await expect(cards(page).filter({ hasText: 'Rosalba' })).toHaveCount(0);
  await expect(page.getByText(/needs? more reps first/)).toBeVisible();
});

test('who may not spar with a lock is asked for no more than drilling it, before it loads; a minor not at all', async ({
  page,
  demo,
}) => {
  await enterDemo(page, demo.url);
  await page.goto(`${demo.url}/correct?technique=ankle-lock`);
  const jomo = card(page, 'Jomo');
  await expect(jomo).toContainText(/at rung 2 \(moving partner\), from 1 to 7, no further/);
  await jomo.getByRole('button', { name: 'Why this one?' }).click();
  await expect(jomo).toContainText('The rules allow this student no higher rung.');
  await expect(jomo).toContainText('would exceed the class cap, so reps stop before the finish.');
  await jomo.getByRole('button', { name: 'Change' }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Rung:/ })
    .click();
  await expect(page.getByRole('option').first()).toBeVisible();
  await expect(page.getByRole('option', { name: /^3 / })).toHaveCount(0);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await expect(cards(page).filter({ hasText: 'Nasrin' })).toHaveCount(0);
});

test('the drills library is searched, added to and retired from', async ({ page, demo }) => {
  await enterDemo(page, demo.url);
  await page.goto(`${demo.url}/library/drills`);
  await page.getByLabel('Find in the drills').fill('endurance');
  await expect(page.getByRole('button', { name: 'Two minutes of grip play' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'One point, ten times' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Add a drill' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('Title').fill('Wall walk');
  await sheet.getByText('grip', { exact: true }).click();
  await sheet.getByLabel('Set-up').fill('Hold on while walking the feet up a wall.');
  await sheet.getByRole('button', { name: 'Save drill' }).click();
  await page.getByLabel('Find in the drills').fill('wall walk');
  await page.getByRole('button', { name: 'Wall walk' }).click();
  await page.getByRole('button', { name: 'Archive' }).click();
  await expect(page.getByRole('button', { name: 'Wall walk (archived)' })).toBeVisible();
});

test('a card is opened by its link on a phone without a sign-in, shows one student, and dies when it is revoked', async ({
  page,
  browser,
  demo,
}) => {
  const { name, one } = await somebody(page, demo.url);
  await one.focus();
  await page.keyboard.press('a');
  await expect(one).toHaveAccessibleName(`${name}: accepted`);
  await one.getByRole('link', { name: 'Card' }).click();
  await expect(page.getByRole('heading', { name: `What ${name} works on` })).toBeVisible();
  await page.getByRole('radio', { name: '7 days' }).click();
  await page.context().setOffline(true);
  await page.getByRole('button', { name: 'Make a link' }).click();
  await expect(page.getByRole('alert')).toContainText('No link was made.');
  await page.context().setOffline(false);
  await expect.poll(async () => (await latest(page, name))?.state).toBe('accepted');
  await page.getByRole('button', { name: 'Make a link' }).click();
  const link = page.getByTestId('card-link').getByRole('link');
  await expect(page.getByTestId('card-link').getByRole('img')).toBeVisible();
  const address = (await link.getAttribute('href'))!;

  const phones = await browser.newContext({ viewport: { width: 390, height: 844 } });
  const phone = await phones.newPage();
  const asked: string[] = [];
  phone.on('request', (request) => asked.push(request.url()));
  await phone.goto(address);
  await expect(phone.getByRole('heading', { name: `What ${name} works on` })).toBeVisible();
  await expect(phone.getByRole('article').first()).toContainText(/Rear strangle: \d/);
  const names = await page.evaluate(
    async () => ((await (await fetch('/api/students')).json()) as { students: { name: string }[] }).students,
  );
  const shown = (await phone.textContent('body'))!;
  for (const other of names.filter((somebody) => somebody.name !== name))
    expect(shown).not.toMatch(new RegExp(`\\b${other.name}\\b`));
  // The secret is in no requested address, and nothing else is asked of the server.
  expect(asked.filter((url) => url.includes(address.split('.').at(-1)!))).toEqual([]);
  expect(asked.filter((url) => url.includes('/api/')).map((url) => new URL(url).pathname)).toEqual([
    '/api/cards',
  ]);

  await page.getByRole('button', { name: 'Revoke' }).click();
  await expect(page.getByTestId('card-link')).toBeHidden();
  await phone.reload();
  await expect(phone.getByRole('heading', { name: 'This link has expired.' })).toBeVisible();
  await expect(phone.getByText(name)).toHaveCount(0);
  await phones.close();
});
