import { readFileSync } from 'node:fs';
import type { Locator, Page } from '@playwright/test';
import { select, addStudents, allSaved, enterDemo, makeAcademy } from './steps';
import { expect, test } from './instance';

const saved = (page: Page) => expect(page.getByTestId('draft-status')).toContainText(/: saved$/);
/** Edits, and waits until that edit has been answered: before it is sent, the status still tells of the last one. */
async function savedOf(page: Page, edits: () => Promise<void>): Promise<void> {
  const answer = page.waitForResponse(
    (response) => response.request().method() === 'PUT' && response.url().endsWith('/draft') && response.ok(),
  );
  await edits();
  await answer;
  await saved(page);
}
const critiqueOf = (page: Page) => page.getByRole('region', { name: 'Critique' });

/** Moves the focus by Tab alone until it is where it should be. */
async function tabTo(page: Page, target: Locator, back = false): Promise<void> {
  for (let i = 0; i < 160; i++) {
    if (await target.evaluate((element) => element === document.activeElement).catch(() => false)) return;
    await page.keyboard.press(back ? 'Shift+Tab' : 'Tab');
  }
  throw new Error('Tab does not lead there');
}

/** The five checkpoints of a made-up control, each with what the critique asks for. */
const points = [
  ['Hips low', 'Your hips touch the floor.'],
  ['Wrist held', 'Your {right} hand holds the near wrist.'],
  ['Head turned', 'Your head points to the far shoulder.'],
  ['Chest heavy', 'Your chest presses the near ribs.'],
  ['Elbow closes', 'Your elbow closes to your own ribs.'],
] as const;

test('a breakdown is built from nothing by keyboard alone, and published', async ({ page, empty }) => {
  await makeAcademy(page, empty.url);
  await page.goto(`${empty.url}/library`);
  await tabTo(page, page.getByRole('link', { name: 'New technique' }));
  await page.keyboard.press('Enter');
  await tabTo(page, page.getByLabel('Name, by what it does'));
  await page.keyboard.type('Side pin');
  await page.keyboard.press('Tab');
  await page.keyboard.type('Side control');
  await tabTo(page, page.getByLabel('Kind'));
  await page.keyboard.press('c');
  await expect(page.getByLabel('Kind')).toHaveText('control');
  await tabTo(page, page.getByRole('button', { name: 'Begin' }));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Side pin' })).toBeVisible();
  for (const [i, [title, criterion]] of points.entries()) {
    await tabTo(page, page.getByRole('button', { name: 'Add a checkpoint' }), i > 0);
    await page.keyboard.press('Enter');
    // What it is called is typed next, without looking for the field.
    await expect(page.getByLabel('Title, as a short order')).toBeFocused();
    await page.keyboard.type(title);
    await page.keyboard.press('Tab');
    const [before, after] = criterion.split('{right}');
    await page.keyboard.type(before!);
    if (after !== undefined) {
      await page.keyboard.press('Alt+r');
      await page.keyboard.type(after);
    }
    await tabTo(page, page.getByRole('textbox', { name: 'Sign 1' }));
    await page.keyboard.type(`It shows at ${title.toLowerCase()}.`);
  }
  await expect(page.getByRole('list', { name: 'Checkpoints' }).getByRole('listitem')).toHaveCount(5);
  // The third before the second, by Alt and the arrows; then back again.
  const third = page.getByRole('button', { name: /Head turned base/ });
  await tabTo(page, third, true);
  await page.keyboard.press('Alt+ArrowUp');
  await expect(page.getByRole('button', { name: /^2 Head turned/ })).toBeVisible();
  await expect(critiqueOf(page)).toContainText('The order breaks an "after"');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: /^3 Head turned/ })).toBeVisible();
  await saved(page);
  await expect(critiqueOf(page)).not.toContainText('Error.');
  await tabTo(page, page.getByRole('button', { name: 'Publish …' }), true);
  await page.keyboard.press('Enter');
  await tabTo(page, page.getByRole('button', { name: 'Publish edition 1' }));
  await page.keyboard.press('Enter');
  await expect(page.getByText(/edition 1, Quay/)).toBeVisible();
  await page.getByRole('radio', { name: 'Left' }).click();
  // The address changes before the page: what is pressed next is of the left side once the page is.
  await expect(page.getByRole('radio', { name: 'Left' })).toBeChecked();
  await page.getByRole('link', { name: /Wrist held/ }).click();
  await expect(page.getByText('Your left hand holds the near wrist.')).toBeVisible();
});

test('and by touch: added, moved by its grip, split, joined, retired and brought back', async ({
  browser,
  demo,
}) => {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, hasTouch: true });
  const page = await context.newPage();
  await enterDemo(page, demo.url);
  await page.goto(`${demo.url}/library/new`);
  await page.getByLabel('Name, by what it does').tap();
  await page.keyboard.type('Knee slide');
  await page.getByLabel('Start position').tap();
  await page.keyboard.type('Half guard');
  await page.getByRole('button', { name: 'Begin' }).tap();
  const list = page.getByRole('list', { name: 'Checkpoints' }).getByRole('listitem');
  for (const [title, criterion] of points.slice(0, 3)) {
    await page.getByRole('button', { name: 'Add a checkpoint' }).tap();
    await page.getByLabel('Title, as a short order').tap();
    await page.keyboard.type(title);
    await page.getByLabel(/^Criterion: one/).tap();
    await page.keyboard.type(criterion);
  }
  await expect(list).toHaveCount(3);
  await expect(list.nth(2)).toContainText('Head turned');
  const grip = (await list.nth(2).locator('[data-grip]').boundingBox())!;
  const first = (await list.nth(0).boundingBox())!;
  await page.mouse.move(grip.x + 5, grip.y + 20);
  await page.mouse.down();
  await page.mouse.move(grip.x + 5, first.y + 20, { steps: 5 });
  await page.mouse.up();
  await expect(list.nth(0)).toContainText('Head turned');
  await list.nth(1).getByRole('button').first().tap();
  await page.getByRole('button', { name: 'Split' }).tap();
  await expect(list).toHaveCount(4);
  await list.nth(2).getByRole('button').first().tap();
  await page.getByRole('button', { name: 'Merge with previous' }).tap();
  await expect(list).toHaveCount(3);
  await page.getByRole('button', { name: 'Archive' }).tap();
  await expect(list).toHaveCount(2);
  await page.getByRole('button', { name: 'Technique', exact: true }).tap();
  await page.getByRole('button', { name: 'Bring “Hips low” back' }).tap();
  await expect(list).toHaveCount(3);
  await saved(page);
  await page.reload();
  await expect(list).toHaveCount(3);
  await page.getByRole('button', { name: 'Publish …' }).tap();
  await page.getByRole('button', { name: 'Discard draft' }).tap();
  await expect(page.getByRole('heading', { name: 'Library' })).toBeVisible();
  await context.close();
});

test('a breakdown broken in six ways shows six findings, each leading to its field, and is not published', async ({
  page,
  demo,
}) => {
  await enterDemo(page, demo.url);
  await page.goto(`${demo.url}/library/bent-arm-lock?edit=1`);
  const critique = critiqueOf(page);
  await expect(critique).toContainText('No problems found.');
  const choose = (name: RegExp) =>
    page.getByRole('list', { name: 'Checkpoints' }).getByRole('button', { name }).click();
  // 1: no criterion. 2: a bare side word.
  await page.getByLabel(/^Criterion: one/).fill('');
  await page.getByRole('textbox', { name: 'Sign 1' }).fill('The right elbow shows.');
  // 3: a tolerance the wrong way round.
  await choose(/^5 /);
  // An end that is left empty is open; a worth that is left empty is what it was.
  const from = page.getByLabel('At least', { exact: true });
  await from.fill('');
  await from.blur();
  await expect(from).toHaveValue('');
  const worth = page.getByLabel('Weight, of 100');
  const was = await worth.inputValue();
  await worth.fill('');
  await worth.blur();
  await expect(worth).toHaveValue(was);
  await from.pressSequentially('120');
  // 4: a root after its symptom.
  await choose(/^2 /);
  const unfold = (part: RegExp) =>
    page.getByRole('group').filter({ hasText: part }).locator('summary').nth(1).click();
  await unfold(/^Mistakes/);
  await select(page, /^Starts at:/, /^8 /);
  // 5: a defence that closes before it opens.
  await choose(/^4 /);
  await unfold(/^Defences/);
  await select(page, /^Closes once this holds:/, /^1 /);
  // 6: no safety note on a fast lock.
  await page.getByRole('button', { name: 'Technique', exact: true }).click();
  await page.getByLabel('Safety note').fill('');
  await page.getByLabel('Name, by what it does').click();
  // What is folded is unfolded where a finding leads there.
  const wanted: [RegExp, RegExp][] = [
    [/From 120 to 100 is empty: swap the two/, /^At least$/],
    [/"right" will not turn round for the other side: write \{right\}/, /^Sign 1/],
    [/It starts at 8 and shows at 2/, /^Starts at/],
    [/It closes \(1\) before it opens \(4\)/, /^Closes once this holds/],
    [/without a safety note/, /^Safety note/],
    [/has no criterion: say one thing/, /^Criterion: one/],
  ];
  for (const [finding] of wanted) await expect(critique.getByRole('button', { name: finding })).toBeVisible();
  await expect(critique.getByRole('button')).toHaveCount(wanted.length);
  for (const [finding, field] of wanted) {
    await critique.getByRole('button', { name: finding }).click();
    await expect(page.getByLabel(field)).toBeFocused();
  }
  await page.getByRole('button', { name: 'Publish …' }).click();
  await expect(page.getByRole('button', { name: 'Publish edition 2' })).toBeDisabled();
  await expect(page.getByText(/The critique finds 5 errors/)).toBeVisible();
  await page.getByRole('button', { name: 'Discard draft' }).click();
  await expect(page.getByText('edition 1, from general knowledge')).toBeVisible();
});

test('what is published while the draft is on its way to the server waits for it, and meets nobody', async ({
  page,
  demo,
}) => {
  await enterDemo(page, demo.url);
  await page.goto(`${demo.url}/library/ankle-lock?edit=1`);
  const title = page.getByLabel('Title, as a short order');
  await expect(title).toBeVisible();
  let letGo: () => void = () => undefined;
  const held = new Promise<void>((resolve) => (letGo = resolve));
  let puts = 0;
  await page.route('**/api/techniques/*/draft', async (route) => {
    if (route.request().method() === 'PUT' && puts++ === 0) await held;
    await route.continue();
  });
  const sent = page.waitForRequest((request) => request.method() === 'PUT');
  await title.fill('Shin line under the arm');
  await page.keyboard.press('Tab');
  await sent;
  await page.getByRole('button', { name: 'Publish …' }).click();
  await page.getByRole('button', { name: 'Publish edition 2' }).click();
  letGo();
  await expect(page.getByText(/· edition 2,/)).toBeVisible();
  expect(puts).toBe(1);
});

test('published, drilled, edited and published again: old reps still count at their checkpoints', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  await addStudents(page, ['Ada', 'Ben']);
  const drill = async (knot: number) => {
    await page.goto(`${empty.url}/mat/new`);
    await select(page, /^Technique:/, 'Rear strangle');
    await page.getByRole('button', { name: 'Everybody' }).click();
    await page.getByRole('button', { name: 'Pair them' }).click();
    await page.getByRole('button', { name: /^Start with/ }).click();
    await expect(page.getByTestId('pair').first()).toBeVisible();
    for (let i = 0; i < 6; i++) await page.keyboard.press(`Digit${knot}`);
    await allSaved(page);
  };
  await drill(4);
  await page.goto(`${empty.url}/library/rear-strangle`);
  await page.getByRole('link', { name: 'Write the next edition' }).click();
  const list = page.getByRole('list', { name: 'Checkpoints' });
  // The second is retired, so the arm under the chin is the third from now on; its title changes as well.
  await list.getByRole('button', { name: /^2 Hooks/ }).click();
  await page.getByRole('button', { name: 'Archive' }).click();
  await list.getByRole('button', { name: /^3 Arm deep/ }).click();
  await page.getByLabel('Title, as a short order').fill('Arm right under');
  await page.getByLabel('Title, as a short order').fill('Arm deep below the chin');
  await page.getByRole('button', { name: 'Publish …' }).click();
  const panel = page.getByRole('region', { name: 'Publish' });
  await expect(panel).toContainText('Checkpoint “Hooks inside the thighs”: deleted');
  await expect(panel).toContainText('Checkpoint 3 “Arm deep below the chin”: title changed');
  await page.getByRole('button', { name: 'Publish edition 2' }).click();
  await expect(page.getByText(/· edition 2,/)).toBeVisible();
  await page.getByRole('link', { name: 'Editions' }).click();
  await expect(page.getByRole('row', { name: /title changed/ })).toContainText('Arm deep under the chin');
  await drill(3);
  await page.goto(`${empty.url}/readings/rear-strangle`);
  await page.getByRole('link', { name: 'Ada', exact: true }).click();
  const row = page.getByRole('list', { name: /Ada/ }).getByRole('listitem').nth(2);
  await expect(row).toContainText('3 Arm deep below the chin');
  await expect(row).toContainText('12 of the 12 that got here');
});

test('a file with three faults is read as far as it is good, and the three reasons are told', async ({
  page,
  demo,
}) => {
  await enterDemo(page, demo.url);
  const file = JSON.parse(
    await page.evaluate(async () => (await fetch('/api/export/breakdowns.json')).text()),
  ) as { techniques: { technique: { id: string; name: string }; editions: Record<string, never[]>[] }[] };
  interface One {
    technique: { id: string; name: string; kind: string };
    editions: {
      technique: string;
      checkpoints: { belief: number; after: string[] }[];
      mistakes: { root: string }[];
    }[];
  }
  // By their ids: what else is in this library, other tests decide.
  const [one, two, three, four, same] = [
    'ankle-lock',
    'head-and-arm',
    'leg-triangle',
    'rear-strangle',
    'guard-armlock',
  ].map(
    (id) => structuredClone(file.techniques.find(({ technique }) => technique.id === id)) as One | undefined,
  );
  one!.technique.kind = 'spell';
  two!.editions[0]!.mistakes[0]!.root = 'nowhere';
  three!.editions[0]!.checkpoints[0]!.belief = -5;
  four!.technique = { ...four!.technique, id: 'brand-new', name: 'Brand new' };
  four!.editions[0]!.technique = 'brand-new';
  const broken = { ...file, techniques: [one, two, three, four, same] };
  await page.goto(`${demo.url}/library/import`);
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Choose a file' }).click(),
  ]);
  await chooser.setFiles({
    name: 'broken.json',
    mimeType: 'application/json',
    buffer: Buffer.from(JSON.stringify(broken)),
  });
  await expect(
    page.getByRole('heading', { name: 'broken.json: 1 new, 0 changed, 1 the same, 3 refused' }),
  ).toBeVisible();
  await expect(page.getByText('techniques[0].technique.kind')).toBeVisible();
  await expect(page.getByText(/there is no checkpoint "nowhere"/)).toBeVisible();
  await expect(page.getByText('techniques[2].editions[0].checkpoints[0].belief')).toBeVisible();
  await page.getByRole('button', { name: 'Import 1 technique' }).click();
  await expect(page.getByRole('heading', { name: /saved$/ })).toBeVisible();
  await page.goto(`${demo.url}/library/brand-new`);
  await expect(page.getByRole('heading', { name: 'Brand new' })).toBeVisible();
  // It was the wrong file after all.
  await page.goto(`${demo.url}/library/import`);
  const [again] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Choose a file' }).click(),
  ]);
  four!.technique = { ...four!.technique, id: 'brand-newer', name: 'Brand newer' };
  four!.editions[0]!.technique = 'brand-newer';
  await again.setFiles({
    name: 'wrong.json',
    mimeType: 'application/json',
    buffer: Buffer.from(JSON.stringify({ ...file, techniques: [four] })),
  });
  await page.getByRole('button', { name: 'Import 1 technique' }).click();
  await page.getByRole('button', { name: 'Undo import' }).click();
  await expect(page.getByRole('heading', { name: 'wrong.json: 1 thing undone' })).toBeVisible();
  await page.goto(`${demo.url}/library`);
  await expect(page.getByRole('link', { name: /^Brand new/ })).toBeVisible();
  await expect(page.getByRole('link', { name: /^Brand newer/ })).toHaveCount(0);
});

test('two who write the same draft lose nothing: other fields merge by themselves, the same field is asked about', async ({
  page,
  browser,
  demo,
}) => {
  await enterDemo(page, demo.url);
  const other = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await enterDemo(other, demo.url);
  const address = `${demo.url}/library/north-south-strangle?edit=1`;
  await page.goto(address);
  await other.goto(address);
  const title = (on: Page) => on.getByLabel('Title, as a short order');
  const criterion = (on: Page) => on.getByLabel(/^Criterion: one/);
  await expect(title(other)).toBeVisible();
  await savedOf(page, () => title(page).fill('Chest above both shoulders'));
  await criterion(other).fill('Your breastbone lies above the far shoulder.');
  await expect(other.getByText('Both changes are saved', { exact: false })).toBeVisible();
  await expect(title(other)).toHaveValue('Chest above both shoulders');
  await saved(other);
  // Now both change the title.
  await savedOf(other, () => title(other).fill('Chest over the far shoulder'));
  await title(page).fill('Chest over the face');
  const meeting = page.getByRole('alert', { name: 'Edit conflict' });
  await expect(meeting).toContainText('Chest over the far shoulder');
  await meeting.getByLabel('Chest over the far shoulder').check();
  await meeting.getByRole('button', { name: 'Save choices' }).click();
  await expect(title(page)).toHaveValue('Chest over the far shoulder');
  await expect(criterion(page)).toHaveValue('Your breastbone lies above the far shoulder.');
  await saved(page);
  await page.getByRole('button', { name: 'Publish …' }).click();
  await page.getByRole('button', { name: 'Discard draft' }).click();
  await other.context().close();
});

test('belief stays whole: moving one moves the rest, but not what is held', async ({ page, demo }) => {
  await enterDemo(page, demo.url);
  await page.goto(`${demo.url}/library/ankle-lock?edit=1`);
  const shares = async () => {
    const names = await page
      .getByRole('list', { name: 'Checkpoints' })
      .getByRole('button')
      .evaluateAll((all) => all.map((one) => Number(/(\d+)\s%$/.exec(one.textContent ?? '')?.[1] ?? NaN)));
    return names.filter((share) => !Number.isNaN(share));
  };
  await page.getByRole('list', { name: 'Checkpoints' }).getByRole('button', { name: /^4 / }).click();
  await page.getByRole('button', { name: 'Lock weight' }).click();
  await page.getByRole('list', { name: 'Checkpoints' }).getByRole('button', { name: /^1 / }).click();
  await page.getByLabel('Weight, of 100').fill('40');
  await expect.poll(async () => (await shares())[0]).toBe(40);
  const now = await shares();
  expect(now[3]).toBe(22);
  expect(now.reduce((sum, share) => sum + share, 0)).toBe(100);
  // What was done can be undone after a reload as well, and be done again.
  await saved(page);
  await page.reload();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await shares())[0]).toBe(16);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect.poll(async () => (await shares())[0]).toBe(40);
  await page.getByRole('button', { name: 'Publish …' }).click();
  await page.getByRole('button', { name: 'Discard draft' }).click();
});

test('the library is found by a mistyped word, and the filters are in the address', async ({
  page,
  demo,
}) => {
  await enterDemo(page, demo.url);
  await page.goto(`${demo.url}/library`);
  await page.getByLabel('Find by name, place or word').fill('stranlge mount');
  await expect(page.getByRole('link', { name: /^Head-and-arm strangle from mount/ })).toBeVisible();
  await expect(page.getByRole('link', { name: /^Straight ankle lock/ })).toBeHidden();
  await expect(page).toHaveURL(/q=stranlge/);
  await page.getByLabel('Find by name, place or word').fill('');
  await expect(page).not.toHaveURL(/q=/);
  await select(page, /^Mechanism:/, 'rotation');
  await expect(page).toHaveURL(/mechanism=rotation/);
  await page.reload();
  await expect(page.getByRole('status')).toContainText(/^1 of \d+ techniques/);
});

test('on a phone a student goes through the cues with one thumb, and checks the order', async ({
  browser,
  demo,
}) => {
  const context = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true });
  const page = await context.newPage();
  await enterDemo(page, demo.url);
  await page.goto(`${demo.url}/library/leg-triangle/learn`);
  await expect(page.getByText('Push one wrist to their belly, then jump the leg.')).toBeVisible();
  const next = page.getByRole('button', { name: /^Next|^Check yourself/ });
  const box = (await next.boundingBox())!;
  expect(box.y).toBeGreaterThan(400);
  expect(box.height).toBeGreaterThan(44);
  for (let i = 0; i < 8; i++) await next.tap();
  const order = page.getByRole('list', { name: 'Your order' }).getByRole('listitem');
  await expect(order).toHaveCount(7);
  await page.getByRole('button', { name: 'Check', exact: true }).tap();
  await expect(page.getByRole('status')).toContainText(/\d misplaced: /);
  await context.close();
});

test('a technique goes on paper for both sides, and comes back from its file unchanged', async ({
  page,
  demo,
}) => {
  await enterDemo(page, demo.url);
  await page.goto(`${demo.url}/library/rear-strangle/print`);
  await expect(page.getByRole('article')).toHaveCount(2);
  await expect(page.getByRole('article', { name: /left lead/ })).toContainText(
    'The crook of your left elbow',
  );
  const sheets = async () =>
    (await page.pdf({ preferCSSPageSize: true })).toString('latin1').match(/\/Type\s*\/Page\b/g)?.length;
  expect(await sheets()).toBe(2);
  await page.getByRole('radio', { name: 'Pocket card' }).click();
  await expect(page.getByRole('article').first()).not.toContainText('measure:');
  expect(await sheets()).toBe(2);
  await page.goto(`${demo.url}/library/cross-collar`);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'As a file' }).click(),
  ]);
  const text = readFileSync(await download.path(), 'utf8');
  const answer = await page.evaluate(
    async (body) =>
      (
        await fetch('/api/import/breakdown?dry=true', {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body,
        })
      ).json(),
    text,
  );
  expect(answer.items).toMatchObject([{ technique: 'cross-collar', is: 'same' }]);
});
