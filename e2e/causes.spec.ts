import { enterDemo } from './steps';
import { expect, test } from './instance';

test('a mistake is written at its checkpoint: open while it is new, by its name when one returns; only edits are sent', async ({
  page,
  demo,
}) => {
  const address = `${demo.url}/library/north-south-strangle?edit=1`;
  const sent: { edits: { path: (string | number)[] }[] }[] = [];
  page.on('request', (request) => {
    if (request.method() === 'PUT' && request.url().endsWith('/draft'))
      sent.push(request.postDataJSON() as (typeof sent)[number]);
  });
  const lastSent = () => sent.at(-1)?.edits.map(({ path }) => path.join('.'));
  await enterDemo(page, demo.url);
  await page.goto(address);

  // Enter in a field sends nothing away and loses nothing.
  const title = page.getByLabel('Title, as a short order');
  await title.fill('Hips turned and low');
  await title.press('Enter');
  await expect(page.getByRole('list', { name: 'Checkpoints' })).toContainText('1 Hips turned and low');
  await expect(title).toHaveValue('Hips turned and low');
  expect(page.url()).toBe(address);
  await expect.poll(lastSent).toEqual(['draft.checkpoints.0.title']);

  const mistakes = page.getByRole('group').filter({ hasText: /^Mistakes that show here/ });
  const before = await mistakes.locator('summary').count();
  await page.getByRole('button', { name: 'Add a mistake' }).click();
  await page.getByLabel('Mistake', { exact: true }).fill('Elbow drifts away');
  await page.getByLabel('What you see').fill('Light shows under the elbow.');
  await page.getByLabel('Cue').focus();
  // What was written so far has gone, all of it: what goes from here on is what is written from here on.
  await expect.poll(() => JSON.stringify(sent)).toContain('Light shows under the elbow.');
  await expect(page.getByTestId('draft-status')).toContainText(/: saved$/);
  await page.getByLabel('What the student believes').fill('The arm is strong enough alone.');
  await expect(mistakes.locator('summary')).toHaveCount(before + 1);
  await expect.poll(lastSent).toEqual([expect.stringMatching(/^draft\.mistakes\.\d+\.believes$/)]);

  await page.reload();
  await expect(mistakes.getByText('Elbow drifts away')).toBeVisible();
  await expect(page.getByLabel('What you see')).toHaveCount(0);
  await mistakes.getByText('Elbow drifts away').click();
  await expect(page.getByLabel('What you see')).toHaveValue('Light shows under the elbow.');
  await expect(page.getByLabel('What the student believes')).toHaveValue('The arm is strong enough alone.');

  // Not every browser tells a field that it loses the focus with its place: what was typed a moment ago counts anyway.
  await page.evaluate(() =>
    window.addEventListener('blur', (event) => event.stopImmediatePropagation(), true),
  );
  await page.getByLabel('Cue').fill('Elbow to the ribs.');
  await page.getByRole('button', { name: /^2 / }).click();
  await expect.poll(lastSent).toEqual([expect.stringMatching(/^draft\.mistakes\.\d+\.cue$/)]);

  await page.getByRole('button', { name: 'Publish …' }).click();
  await page.getByRole('button', { name: 'Discard draft' }).click();
  await expect(page.getByRole('link', { name: 'Write the next edition' })).toBeVisible();
});
