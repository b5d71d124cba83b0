import { newStudent } from '@ulkret/core/people';
import type { Browser, Page } from '@playwright/test';
import { uuidv7 } from 'uuidv7';
import { expect, test } from './instance';
import {
  addStudents,
  advice,
  allSaved,
  changePairs,
  clockAhead,
  csvOf,
  enterDemo,
  makeAcademy,
  otherDevice,
  pair,
  select,
  signIn,
  startSession,
} from './steps';

const password = 'brine lantern orchard nine';

/** Lets somebody in by a link, on a device of their own. */
async function letIn(browser: Browser, head: Page, url: string, role: string, name: string): Promise<Page> {
  await head.goto(`${url}/access`);
  await select(head, /^Role:/, new RegExp(`^${role}:`));
  if (role === 'student') await select(head, /^Whose card:/, name);
  else await head.getByLabel('Who it is for').fill(name);
  await head.getByRole('button', { name: 'Make a link' }).click();
  const link = await head.getByTestId('invitation').getByRole('link').getAttribute('href');
  const page = await (await browser.newContext()).newPage();
  await page.goto(link!);
  await expect(page.getByRole('heading', { name: /^Join / })).toBeVisible();
  await expect(page.getByLabel('Your name')).toHaveValue(name);
  await page.getByLabel('Email').fill(`${name.toLowerCase()}@${role}.example`);
  await page.getByLabel(/^Password/).fill('password12');
  await page.getByRole('button', { name: 'Join' }).click();
  await expect(page.getByRole('alert')).toContainText('easy to guess');
  await page.getByLabel(/^Password/).fill(password);
  await page.getByRole('button', { name: 'Join' }).click();
  return page;
}

test('each role through its day: an assistant logs, a student sees a card, an operator sees no people', async ({
  page,
  browser,
  empty,
}) => {
  test.slow();
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  const assistant = await letIn(browser, page, empty.url, 'assistant', 'Lou');
  await expect(assistant.getByRole('heading', { name: 'Today' })).toBeVisible();
  await startSession(assistant);
  await assistant.keyboard.press('Enter');
  await allSaved(assistant);
  // What an assistant may not do is not offered.
  const place = (name: string) =>
    assistant.goto(`${empty.url}/${name}`).then(() => expect(assistant.locator('h1').first()).toBeVisible());
  await place('library');
  await expect(assistant.getByRole('link', { name: 'Drills' })).toBeVisible();
  await expect(assistant.getByRole('link', { name: 'New technique' })).toHaveCount(0);
  await place('people');
  await expect(assistant.getByRole('cell', { name: /Ada/ }).first()).toBeVisible();
  await expect(assistant.getByRole('button', { name: 'Add a student' })).toHaveCount(0);
  await place('access');
  await expect(assistant.getByText('Head coach only.')).toBeVisible();
  await place('rules');
  await expect(assistant.getByRole('row', { name: /twisting leg locks/ })).toContainText('after 12 months');
  await expect(assistant.getByRole('button', { name: 'Change the rules' })).toHaveCount(0);

  const student = await letIn(browser, page, empty.url, 'student', 'Ada');
  await expect(student.getByRole('heading', { name: 'What Ada works on' })).toBeVisible();
  await expect(student.getByText('Ben')).toHaveCount(0);
  expect(await student.evaluate(async () => (await fetch('/api/students')).status)).toBe(403);
  const operator = await letIn(browser, page, empty.url, 'operator', 'Op');
  await expect(operator.getByRole('heading', { name: 'Backups', exact: true })).toBeVisible();
  await operator.getByRole('link', { name: 'Your account' }).click();
  await expect(operator.getByText(/this one: since today/)).toBeVisible();

  // What is written down is for the eyes that were chosen.
  await page.goto(`${empty.url}/people`);
  await page.getByRole('link', { name: 'All readings of Ada' }).click();
  await page.getByRole('button', { name: /^Add a note about Ada/ }).click();
  for (const [words, eyes] of [
    ['Is afraid of leg locks.', /^coaches only/],
    ['Warms up slowly.', /^assistants too/],
    ['Well fought.', /^student too/],
  ] as const) {
    await page.getByLabel('The note').fill(words);
    await select(page, /^For:/, eyes);
    await page.getByRole('button', { name: 'Save note' }).click();
    await expect(page.getByRole('listitem').filter({ hasText: words })).toBeVisible();
    await expect(page.getByLabel('The note')).toHaveValue('');
  }
  await assistant.goto(page.url());
  await expect(assistant.getByText('Warms up slowly.')).toBeVisible();
  await expect(assistant.getByText('Is afraid of leg locks.')).toHaveCount(0);
  await student.reload();
  await expect(student.getByText('Well fought.')).toBeVisible();
  await expect(student.getByText('Warms up slowly.')).toHaveCount(0);
  await page
    .getByRole('listitem')
    .filter({ hasText: 'Well fought.' })
    .getByRole('button', { name: 'Delete', exact: true })
    .click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Note deleted')).toHaveCount(0);
  await expect(page.getByText('Well fought.')).toBeVisible();

  // The rep is the assistant's, and the head coach reads whose it is.
  const { id } = await assistant.evaluate(
    async () => ((await (await fetch('/api/session')).json()) as { coach: { id: string } }).coach,
  );
  await page.goto(`${empty.url}/people`);
  const [row] = await csvOf(page);
  expect(row).toContain(id);
  // Blocked access ends at once; the link opens nothing a second time.
  await page.goto(`${empty.url}/access`);
  await page.getByRole('row', { name: /Lou/ }).getByRole('button', { name: 'Block access' }).click();
  await expect(page.getByRole('row', { name: /Lou/ })).toContainText('blocked today');
  expect(await assistant.evaluate(async () => (await fetch('/api/students')).status)).toBe(401);
});

test('a rule that the head coach changes holds on a running Mat at once, and who changed it is told', async ({
  page,
  browser,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  await startSession(page);
  await expect(pair(page)).toBeVisible();
  await expect(advice(page)).not.toContainText('Not allowed');
  const { page: second, context } = await otherDevice(browser, empty.url);
  await second.goto(`${empty.url}/rules`);
  await second.getByRole('button', { name: 'Change the rules' }).click();
  const strangles = second.getByRole('group', { name: 'strangles and neck locks' });
  await strangles.getByLabel('Months to drill').fill('6');
  await second.getByRole('button', { name: 'Save rules' }).click();
  await expect(second.getByRole('row', { name: /strangles and neck locks/ })).toContainText('after 6 months');
  await expect(advice(page)).toContainText('strangles and neck locks are drilled after 6 months');
  await second.getByRole('button', { name: /^Rule changes/ }).click();
  await expect(second.getByText(/Nina: strangles and neck locks, months to drill: 0 to 6/)).toBeVisible();
  await context.close();
});

test('a minor is kept from a restricted lock, whichever way is tried: as partner, late, on another device, by a clock set forward, or by word', async ({
  page,
  browser,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  const person = (id: string, name: string, born: string | null) =>
    page.request.put(`${empty.url}/api/students/${id}`, {
      data: newStudent({ id, name, born, experienceMonths: 60 }),
    });
  for (const [id, name, born] of [
    ['ada', 'Ada', null],
    ['ben', 'Ben', null],
    ['kit', 'Kit', '2014-05-05'],
  ] as const)
    expect((await person(id, name, born)).ok()).toBe(true);
  await page.goto(`${empty.url}/mat/new`);
  await select(page, /^Technique:/, 'Straight ankle lock from an outside leg entanglement');
  for (const name of ['Ada', 'Ben']) await page.getByRole('button', { name, exact: true }).click();
  await page.getByRole('button', { name: 'Pair them' }).click();
  await page.getByRole('button', { name: /^Start with/ }).click();
  await expect(pair(page)).toContainText('0 of');
  await page.keyboard.press('Enter');
  await expect(pair(page)).toContainText('1 of');
  const session = /mat\/([0-9a-f-]+)/.exec(page.url())![1]!;

  // Who comes late is paired by nobody.
  const panel = await changePairs(page);
  await select(panel, /^Came late:/, 'Kit');
  await panel.getByRole('button', { name: 'Ada', exact: true }).click();
  await panel.getByRole('button', { name: 'Kit', exact: true }).click();
  await expect(panel).toContainText(/Kit is a minor: no locks on the knee and ankle/);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');

  // Another device pairs the two anyway: no rep is logged for either attacker, and no reason overrides.
  const { page: second, context } = await otherDevice(browser, empty.url);
  const send = (data: object) => second.request.post(`${empty.url}/api/reps`, { data });
  const { coach } = (await (await second.request.get(`${empty.url}/api/session`)).json()) as {
    coach: { id: string };
  };
  const told = () => ({ id: uuidv7(), session, at: new Date().toISOString(), observer: coach.id });
  const together = await send({ changes: [{ ...told(), set: { is: 'pairs', pairs: [['ada', 'kit']] } }] });
  expect(await together.json()).toMatchObject({ items: [{ answer: 'accepted' }] });
  await expect(pair(page)).toContainText('Ada on Kit');
  await pair(page).click();
  const notLogged = async () => {
    await page.keyboard.press('Enter');
    await expect(page.getByRole('status')).toContainText('Not logged: Kit is a minor');
    await expect(advice(page).getByRole('button', { name: /^Override/ })).toHaveCount(0);
  };
  await notLogged();
  await advice(page).getByRole('button', { name: 'Swap roles' }).click();
  await expect(pair(page)).toContainText('Kit on Ada');
  await notLogged();
  const word = await send({
    overrides: [
      { ...told(), student: 'ada', partner: 'kit', technique: 'ankle-lock', reason: 'the guardian agrees' },
    ],
  });
  expect(await word.json()).toMatchObject({ items: [{ answer: 'refused' }] });
  await allSaved(page);
  expect(await csvOf(page)).toHaveLength(1);
  await context.close();

  // A device whose clock is ten years ahead has the day of the server.
  const ahead = await browser.newContext();
  await clockAhead(ahead, 3652 * 86_400_000);
  const later = await ahead.newPage();
  await signIn(later, empty.url);
  await later.goto(`${empty.url}/mat/new`);
  await select(later, /^Technique:/, 'Straight ankle lock from an outside leg entanglement');
  for (const name of ['Ada', 'Kit']) await later.getByRole('button', { name, exact: true }).click();
  await later.getByRole('button', { name: 'Pair them' }).click();
  await expect(later.getByText(/Kit is a minor: no locks on the knee and ankle/).first()).toBeVisible();
  await expect(later.getByRole('button', { name: /^Start with/ })).toBeDisabled();
  await ahead.close();
});

test('grades are called as the house calls them, several people get one at once, and it counts on the Mat; who did what is written down', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben', 'Cleo']);
  await page.goto(`${empty.url}/rules`);
  await page.getByRole('button', { name: 'Change the rules' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel(/^Grades, one per line/).fill('Beginner\nFirst colour\nSecond colour');
  const strangles = page.getByRole('group', { name: 'strangles and neck locks' });
  await strangles.getByLabel('Months to drill').fill('6');
  await strangles.getByLabel('Or grade to drill').fill('2');
  await sheet.getByRole('button', { name: 'Add an event' }).click();
  await sheet.getByLabel('Event and division').fill('Spring open');
  await select(sheet, /^neck crank:/, 'not');
  await sheet.getByRole('button', { name: 'Save rules' }).click();
  await expect(page.getByRole('row', { name: /strangles and neck locks/ })).toContainText(
    'after 6 months, or from Second colour on',
  );
  await expect(page.getByRole('row', { name: /^neck crank/ })).toContainText('not');

  await page.goto(`${empty.url}/people`);
  const giveBoth = async () => {
    await page.getByRole('button', { name: 'Select several' }).click();
    for (const name of ['Ada', 'Ben'])
      await page.getByRole('checkbox', { name: `Choose ${name}` }).press(' ');
    await expect(page.getByText('2 students selected')).toBeVisible();
    await select(page, /^Grade:/, 'Second colour');
  };
  await giveBoth();
  const row = (name: string) => page.getByRole('row', { name: new RegExp(name) });
  // Once both are kept it can be undone, for as long as it is said.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(row('Ada')).not.toContainText('Second colour');
  await expect(row('Ben')).not.toContainText('Second colour');
  await giveBoth();
  await expect(row('Ada')).toContainText('Second colour');
  await expect(row('Ben')).toContainText('Second colour');
  await expect(row('Cleo')).not.toContainText('Second colour');
  await page.getByRole('button', { name: 'Cleo', exact: true }).click();
  await select(sheet, /^Grade:/, 'First colour');
  await sheet.getByRole('button', { name: 'Save' }).click();
  await expect(row('Cleo')).toContainText('First colour');

  // The Mat asks for the grade at once.
  await page.goto(`${empty.url}/mat/new`);
  await select(page, /^Technique:/, 'Rear strangle');
  await page.getByRole('button', { name: 'Everybody' }).click();
  await page.getByRole('button', { name: 'Pair them' }).click();
  await expect(page.getByText(/nobody entered how long Cleo has trained/).first()).toBeVisible();
  await expect(page.getByText(/or from Second colour on/).first()).toBeVisible();
  await expect(page.getByText(/how long (Ada|Ben) has/)).toHaveCount(0);

  await page.goto(`${empty.url}/access-log`);
  await expect(page.getByRole('row', { name: /Nina changed Ada/ }).first()).toBeVisible();
});

test('an injury is entered where it happened, keeps off what loads it, and goes with its day; who leaves is archived and comes back', async ({
  page,
  demo,
}) => {
  await enterDemo(page, demo.url);
  await page.goto(`${demo.url}/people`);
  await page.getByRole('button', { name: 'Quang', exact: true }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('button', { name: 'Add an injury' }).click();
  const injury = sheet.getByRole('group', { name: 'Injury 1' });
  await select(injury, /^Region:/, 'neck');
  await injury.getByLabel(/^Restriction and source/).fill('stiff since the open mat');
  await sheet.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('row', { name: /Quang/ })).toContainText('neck');
  await select(page, /^Show:/, 'minors and open injuries');
  await expect(page.getByRole('row', { name: /Quang/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Amara/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'Quang', exact: true }).click();
  await sheet.getByRole('button', { name: 'Delete', exact: true }).click();
  await sheet.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('row', { name: /Quang/ })).toHaveCount(0);

  await select(page, /^Show:/, 'on the roster');
  await page.getByRole('button', { name: 'Quang', exact: true }).click();
  await sheet.getByRole('button', { name: 'Archive' }).click();
  await expect(page.getByRole('row', { name: /Quang/ })).toHaveCount(0);
  await select(page, /^Show:/, 'archived');
  await page.getByRole('button', { name: 'Quang', exact: true }).click();
  await sheet.getByRole('button', { name: 'Restore' }).click();
  await select(page, /^Show:/, 'on the roster');
  await expect(page.getByRole('row', { name: /Quang/ })).toBeVisible();

  // Two of one name are told apart.
  await page.getByRole('button', { name: 'Add a student' }).click();
  await sheet.getByLabel('Name', { exact: true }).fill('quang');
  await sheet.getByRole('button', { name: 'Add to the roster' }).click();
  await expect(sheet.getByRole('alert')).toContainText('Quang is already on the roster.');
  await page.keyboard.press('Escape');
});

test('a knock on the head keeps somebody off until a coach records a clinician’s clearance', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  await page.evaluate(async () => {
    const json = async (address: string) => (await fetch(address)).json() as Promise<Record<string, unknown>>;
    const { coach } = (await json('/api/session')) as { coach: { id: string } };
    const { students } = (await json('/api/students')) as { students: { id: string; name: string }[] };
    const at = new Date(Date.now() - 3 * 86_400_000).toISOString();
    await fetch('/api/reps', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        notes: [
          {
            id: crypto.randomUUID(),
            session: null,
            at,
            observer: coach.id,
            person: students.find(({ name }) => name === 'Ada')!.id,
            why: 'knock on the head',
            regions: [],
            side: null,
            until: at.slice(0, 10),
            words: 'fell on the edge of the mat',
            replaces: null,
          },
        ],
      }),
    });
  });
  await page.goto(empty.url);
  const flag = page.getByRole('listitem').filter({ hasText: 'knock on the head' });
  await expect(flag).toContainText('off the mat until a clinician clears them');
  await page.goto(`${empty.url}/mat/new`);
  await select(page, /^Technique:/, 'Rear strangle');
  await page.getByRole('button', { name: 'Everybody' }).click();
  await page.getByRole('button', { name: 'Pair them' }).click();
  await expect(page.getByText(/Ada had a knock on the head/).first()).toBeVisible();
  await page.goto(empty.url);
  await flag.getByRole('button', { name: 'Record clearance' }).click();
  await page.getByLabel('Who cleared them, and when').fill('the club’s doctor, on Friday, in writing');
  await page.getByRole('button', { name: 'Record', exact: true }).click();
  await expect(flag).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
  await expect(flag).toHaveCount(0);
});

test('a roster is pasted from a spreadsheet with its mistakes, looked at, taken, and undone', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await page.goto(`${empty.url}/people`);
  await page.getByRole('button', { name: 'Import a list' }).click();
  const sheet = page.getByRole('dialog');
  await sheet
    .getByLabel('The list')
    .fill(
      [
        'Full name\tDOB\tWeight\tHeight\tLocker',
        'Tan, Mo\t2011\t48,5\t1,55\t12',
        'Ife Lund\t03/04/2001\t70\t172\t13',
        'Ada Quell\t1999-02-03\t64 kg\t170 cm\t14',
        'ada quell\t\t\t\t',
      ].join('\n'),
    );
  await expect(sheet.getByRole('status')).toHaveText(
    '3 new, 0 on the roster already, 1 cannot be read, 1 row with a cell left out.',
  );
  await expect(sheet.getByRole('row', { name: /Ife Lund/ })).toContainText('can be read two ways');
  await expect(sheet.getByRole('row', { name: /Mo Tan/ })).toContainText('48.5 kg, 155 cm');
  // What a column says can be said otherwise.
  await select(sheet, /^DOB:/, 'nothing of use');
  await expect(sheet.getByRole('status')).toContainText('3 new');
  await select(sheet, /^DOB:/, 'born');
  // One odd cell costs that cell; it is asked about once, for the whole list.
  await sheet.getByRole('radio', { name: 'day first' }).click();
  await expect(sheet.getByRole('row', { name: /Ife Lund/ })).toContainText(/born .*Apr.*2001|born .*2001/);
  await sheet.getByRole('button', { name: 'Add 3 students' }).click();
  // What was refused stays in the sheet.
  await expect(sheet.getByRole('row', { name: /ada quell/ })).toBeVisible();
  await sheet.getByRole('button', { name: 'Close' }).click();
  await expect(page.getByRole('row', { name: /Mo Tan/ })).toContainText('minor');
  await expect(page.getByRole('row', { name: /Ada Quell/ })).toContainText('64 kg');
  // Read again, nobody comes twice.
  await page.getByRole('button', { name: 'Import a list' }).click();
  await sheet.getByLabel('The list').fill('Ada Quell\nBen Ostrow');
  await expect(sheet.getByRole('status')).toContainText('1 new, 1 on the roster already');
  await sheet.getByRole('button', { name: 'Add 1 student' }).click();
  await expect(page.getByRole('row', { name: /Ben Ostrow/ })).toBeVisible();
  const said = page.getByRole('alertdialog').filter({ hasText: '1 student added' });
  await expect(said).toBeInViewport({ ratio: 1 });
  await said.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('row', { name: /Ben Ostrow/ })).toHaveCount(0);
  await expect(page.getByRole('row', { name: /Ada Quell/ })).toBeVisible();
});

test('somebody who asks for it is erased, and nowhere to be found', async ({ page, empty }) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Wrenlow']);
  await startSession(page);
  await page.keyboard.press('Enter');
  await allSaved(page);
  await page.goto(`${empty.url}/people`);
  await page.getByRole('button', { name: 'Wrenlow', exact: true }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('button', { name: 'Export or erase data' }).click();
  await expect(sheet.getByRole('link', { name: /Everything about Wrenlow/ })).toBeVisible();
  await expect(sheet.getByRole('button', { name: 'Erase for good' })).toBeDisabled();
  await sheet.getByLabel('Type Wrenlow to erase them').fill('Wrenlow');
  await sheet.getByRole('button', { name: 'Erase for good' }).click();
  await expect(page.getByRole('row', { name: /Wrenlow/ })).toHaveCount(0);
  expect(await csvOf(page)).toHaveLength(1);
  for (const address of ['/api/students', '/api/kit', '/api/sessions', '/api/export/facts.json'])
    expect(await page.evaluate(async (at) => (await fetch(at)).text(), address)).not.toContain('Wrenlow');
  await page.keyboard.press('/');
  await page.keyboard.type('Wrenlow');
  await expect(page.getByRole('option', { name: /Wrenlow/ })).toHaveCount(0);
});
