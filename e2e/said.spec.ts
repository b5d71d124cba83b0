import type { Page } from '@playwright/test';
import { breakdownFileOf, type TechniqueInFile } from '@ulkret/core/formats';
import { newStudent, type Student } from '@ulkret/core/people';
import { sayingBreakdown } from '../core/test';
import { expect, test } from './instance';
import { advice, allSaved, csvOf, makeAcademy, pair, select, swapRoles, taps } from './steps';

/** A lock with two schools, answers and an exit; a way for stiff hips, which a rule restricts; and the lock it leads to. */
function library(): TechniqueInFile[] {
  const breakdown = sayingBreakdown();
  breakdown.checkpoints.forEach((one, i) => (one.criterion = `Your knee touches spot ${i + 1}.`));
  breakdown.checkpoints[3]!.variants = [
    {
      id: 'stiff',
      name: 'Foot over the knee',
      when: { on: 'body', fact: 'hip mobility', is: '=', value: 'low' },
      criterion: 'Your foot touches their knee.',
      ruleTags: ['slicer'],
    },
    {
      id: 'stacked',
      name: 'Stacked',
      when: { on: 'situation', situation: 'the partner stacks' },
      criterion: 'Your hips touch their head.',
      ruleTags: ['spinal'],
    },
  ];
  breakdown.checkpoints[4]!.variants = [
    {
      id: 'palms',
      name: 'Palm to palm',
      when: { on: 'body', fact: 'reach margin', is: '<', value: 0 },
      criterion: 'Your palms touch.',
    },
  ];
  breakdown.defences[1]!.task = 'Pull the elbow out, slowly.';
  const technique = (id: string, name: string): TechniqueInFile['technique'] => ({
    id,
    name,
    aliases: [],
    kind: 'submission',
    attire: 'either',
    startPosition: 'Guard',
    mechanism: 'rotation',
    regions: ['shoulder'],
    ruleTags: [],
    loadSpeed: 'slow',
    safetyNote: 'It loads the shoulder: slowly, and stop at the tap.',
  });
  const other = { ...structuredClone(breakdown), technique: 'other-lock', exits: [] };
  other.checkpoints.forEach((one) => (one.variants = []));
  other.defences.forEach((one) => (one.answers = []));
  return [
    {
      technique: {
        ...technique('test-lock', 'Test lock'),
        reach: { limb: 'arm', around: 'neck', lock: 'hand on the biceps', takesCm: 40 },
      },
      editions: [breakdown],
    },
    { technique: technique('other-lock', 'Other lock'), editions: [other] },
  ];
}

const send = (page: Page, method: string, path: string, body: unknown) =>
  page.evaluate(
    async ([how, where, what]) => {
      const answer = await fetch(where!, {
        method: how!,
        headers: { 'content-type': 'application/json' },
        body: what!,
      });
      if (!answer.ok) throw new Error(await answer.text());
    },
    [method, path, JSON.stringify(body)],
  );

/** An academy of two with the two locks, and a class on the first of them. */
async function drilling(page: Page, url: string, people: readonly Partial<Student>[]): Promise<void> {
  await makeAcademy(page, url);
  await send(page, 'POST', '/api/import/breakdown', breakdownFileOf(library()));
  for (const one of people) {
    const id = one.name!.toLowerCase();
    await send(page, 'PUT', `/api/students/${id}`, newStudent({ id, experienceMonths: 40, ...one }));
  }
  await page.goto(`${url}/mat/new`);
  await select(page, /^Technique:/, 'Test lock');
  await page.getByRole('button', { name: 'Everybody' }).click();
  await page.getByRole('button', { name: 'Pair them' }).click();
}
const begin = async (page: Page) => {
  await page.getByRole('button', { name: /^Start with/ }).click();
  await expect(pair(page)).toBeVisible();
};

const ofPair = (page: Page) => page.getByRole('button', { name: 'This pair …' });
const sheet = (page: Page) => page.getByRole('dialog', { name: 'This pair' });
const knot = (page: Page, n: number) => page.getByRole('button', { name: new RegExp(`^Stopped at ${n} `) });
const played = (page: Page) => page.getByRole('group', { name: 'About the next rep' });
const finish = (page: Page) => page.getByRole('button', { name: /^Finished/ }).click();

test('a reaction drill: the partner plays what is called, and one tap says that it was answered', async ({
  page,
  empty,
}) => {
  await drilling(page, empty.url, [{ name: 'Ada' }, { name: 'Ben' }]);
  await begin(page);
  await ofPair(page).click();
  await expect(sheet(page)).toContainText('Pull the elbow out, slowly.');
  await sheet(page).getByText('Defence 1').click();
  await sheet(page).getByText('Defence 2').click();
  await sheet(page).getByText('Call one of them at random').click();
  await sheet(page).getByRole('button', { name: 'Done' }).click();

  // Until one is called nothing is played, and a plain tap is a whole rep.
  await expect(played(page).getByRole('button')).toHaveText(['Stacked', 'Call one']);
  await finish(page);
  await played(page).getByRole('button', { name: 'Call one' }).click();
  await expect(page.getByRole('status').filter({ hasText: /^Partner: Defence [12]\s*$/ })).toBeVisible();
  const answer = played(page).getByRole('button').nth(2);
  await answer.click();
  await expect(answer).toHaveText(/^✓ Defence [12]: /);
  // What was called and met is there again after a reload.
  await page.reload();
  await expect(answer).toHaveText(/^✓ Defence [12]: /);
  await finish(page);
  await expect(played(page).getByRole('button')).toHaveText(['Stacked', 'Call one']);

  // An answer that did not work ends the rep at a knot where the defence is open, and nowhere else.
  await played(page).getByRole('button', { name: 'Call one' }).click();
  await answer.click();
  await answer.click();
  await expect(answer).toHaveText(/^✗ /);
  const called = /Defence ([12])/.exec((await answer.textContent())!)![1]!;
  await finish(page);
  await expect(page.getByText('The answer failed: tap the checkpoint where')).not.toHaveCount(0);
  await knot(page, Number(called)).click();
  await allSaved(page);
  const rows = await csvOf(page);
  expect(rows).toHaveLength(3);
  expect(rows.filter((row) => /,d[12],d[12]:[a-z0-9-]*:worked,/.test(row))).toHaveLength(1);
  expect(
    rows.filter((row) => row.includes(`,d${called},d${called}:`) && row.includes(':failed')),
  ).toHaveLength(1);

  // The wall sheet says it too, for drilling without a device.
  const session = /\/mat\/([0-9a-f-]+)/.exec(page.url())![1]!;
  await page.goto(`${empty.url}/mat/${session}/sheet`);
  await expect(page.getByRole('row', { name: /^Ada/ }).first()).toContainText(
    'partner plays: Defence 1 or Defence 2',
  );

  await page.goto(`${empty.url}/readings/test-lock/answers`);
  await expect(page.getByTestId('answers').first()).toHaveText(/^Defence [12]$/);
  await expect(page.getByText(/played on purpose in [12]/).first()).toBeVisible();
});

test('a pair switches to another lock and back: one line in the log, one undo, and its rate next to the lock’s own', async ({
  page,
  empty,
}) => {
  await drilling(page, empty.url, [{ name: 'Ada' }, { name: 'Ben' }]);
  await begin(page);
  const goOn = async () => {
    await ofPair(page).click();
    await sheet(page).getByRole('button', { name: 'Other lock' }).first().click();
    await expect(advice(page)).toContainText('Ada switched to Other lock.');
  };
  const log = page.getByRole('list', { name: 'Last entries' });
  await goOn();
  await finish(page);
  await expect(log.getByRole('listitem')).toHaveCount(1);
  await expect(log.getByRole('img', { name: 'switched technique' })).toBeVisible();
  await expect(advice(page)).not.toContainText('Other lock');
  // A sequence is one rep of the turn.
  await expect(pair(page)).toContainText('right side, 1 of');
  // What was gone on to is there again after a reload.
  await goOn();
  await page.reload();
  await expect(advice(page)).toContainText('Ada switched to Other lock.');
  await page.getByRole('button', { name: /^Stopped at 2 / }).click();
  await expect(log.getByRole('listitem')).toHaveCount(2);
  await goOn();
  // Another device sees what the pair does, and brings it back for both.
  const other = await page.context().newPage();
  await other.goto(page.url());
  await expect(other.getByTestId('pair').first()).toContainText('Other lock');
  await other.getByRole('button', { name: 'Back', exact: true }).click();
  await expect(other.getByTestId('pair').first()).not.toContainText('Other lock');
  await expect(advice(page)).not.toContainText('Ada switched to Other lock');
  await other.close();
  await log.getByRole('button', { name: 'Undo Ada switched' }).first().click();
  await goOn();
  await finish(page);
  await log.getByRole('button', { name: 'Undo Ada finished' }).first().click();
  await expect(log.getByRole('listitem')).toHaveCount(2);
  await taps(knot(page, 1), 4);
  await finish(page);
  await allSaved(page);

  // After class the stop in the other lock is asked about with its own causes.
  await page.getByRole('link', { name: 'Leave' }).click();
  const question = page.getByRole('listitem').filter({ hasText: 'stopped at 2 “Point 2”' });
  await expect(question.getByRole('button', { name: 'Mistake 2' })).toBeVisible();

  // Seven whole reps: one finished on its own, one more by what it went on to.
  await page.goto(`${empty.url}/readings/test-lock/answers`);
  await expect(page.getByTestId('sequence')).toHaveText(
    /^Test lock finishes on its own 14\s%, with follow-ups 29\s%\.$/,
  );
  await expect(page.getByText('switched 2 times, finished 1.')).toBeVisible();
  await page.getByRole('button', { name: '2 reps' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Ada on Ben' })).toHaveCount(2);
});

test('two schools are logged by one tap and compared', async ({ page, empty }) => {
  await drilling(page, empty.url, [{ name: 'Ada' }, { name: 'Ben' }]);
  await begin(page);
  const choose = async (school: string) => {
    await ofPair(page).click();
    await sheet(page).getByText(`The ${school} way`).click();
    await sheet(page).getByRole('button', { name: 'Done' }).click();
    await expect(knot(page, 2)).toContainText(`The ${school} way`);
  };
  await choose('high');
  await taps(knot(page, 3), 6);
  // Of the schools at a checkpoint one is followed at a time, and it is there again on another day of this tab.
  await choose('low');
  await expect(knot(page, 2)).not.toContainText('The high way');
  await page.reload();
  await expect(knot(page, 2)).toContainText('The low way');
  // By the same student: what two students do with a school each would say little of the schools.
  await taps(knot(page, 2), 6);
  await allSaved(page);
  expect((await csvOf(page)).filter((row) => /,(high|low),/.test(row))).toHaveLength(12);

  await page.goto(`${empty.url}/readings/test-lock/variants`);
  await expect(page.getByTestId('ways')).toContainText('“The high way” holds better than “The low way”');
  await expect(page.getByText('held 6 of 6, of one student')).toBeVisible();
  await page.getByRole('button', { name: '6 reps' }).first().click();
  await expect(page.getByRole('listitem').filter({ hasText: 'held' })).toHaveCount(6);
});

test('a way of the body notes itself; the rule tag of a way stops a student of five months', async ({
  page,
  empty,
}) => {
  await drilling(page, empty.url, [
    { name: 'Ada', hipMobility: 'low', consents: ['slicer'] },
    { name: 'Ben', hipMobility: 'high', consents: ['slicer'] },
    { name: 'Cleo', hipMobility: 'low', experienceMonths: 5, consents: ['slicer'] },
  ]);
  // Cleo’s body asks for the way, and the way for a year on the mat.
  await expect(
    page.getByText(/muscle slicers are drilled after 12 months on the mat; Cleo has 5/).first(),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Cleo', exact: true }).first().click();
  await begin(page);
  const attacker = async () => /^(Ada|Ben)/.exec((await pair(page).textContent())!)![1];
  if ((await attacker()) === 'Ben') await swapRoles(page);
  await expect(knot(page, 4)).toContainText('Foot over the knee');
  await finish(page);
  await swapRoles(page);
  await expect(knot(page, 4)).not.toContainText('Foot over the knee');
  await finish(page);
  await allSaved(page);
  expect((await csvOf(page)).filter((row) => row.includes(',stiff,'))).toHaveLength(1);

  // A way that is chosen by hand is under the same rule, as soon as it is chosen.
  await ofPair(page).click();
  await sheet(page).getByText('Stacked').click();
  await sheet(page).getByRole('button', { name: 'Done' }).click();
  await expect(advice(page)).toContainText('spinal');
  await finish(page);
  await expect(page.getByText(/^Not logged: /)).not.toHaveCount(0);
});

test('an arm that is too short for a neck notes its way; where an estimate is not sure the coach chooses', async ({
  page,
  empty,
}) => {
  await drilling(page, empty.url, [
    { name: 'Ada', statureCm: 150, armSpanCm: 148, neckGirthCm: 40 },
    { name: 'Ben', statureCm: 190, neckGirthCm: 40 },
  ]);
  await begin(page);
  if (!/^Ada/.test((await pair(page).textContent())!)) await swapRoles(page);
  await expect(knot(page, 5)).toContainText('Palm to palm');
  await ofPair(page).click();
  await expect(sheet(page)).toContainText(
    'Reach: 15 cm short, give or take 1 cm; the chance that it closes is under 1 %.',
  );
  await sheet(page).getByRole('button', { name: 'Done' }).click();
  await finish(page);
  // The other way round only the stature is known.
  await swapRoles(page);
  await expect(knot(page, 5)).not.toContainText('Palm to palm');
  await ofPair(page).click();
  await expect(sheet(page)).toContainText(
    'Reach: 4 cm to spare, give or take 3 cm; the chance that it closes is 86 %. The limb is an estimate from stature.',
  );
  await sheet(page).getByText('Palm to palm').click();
  await sheet(page).getByRole('button', { name: 'Done' }).click();
  await expect(knot(page, 5)).toContainText('Palm to palm');
  await finish(page);
  await allSaved(page);
  expect((await csvOf(page)).filter((row) => row.includes(',palms,'))).toHaveLength(2);
});
