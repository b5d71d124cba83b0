import { expect, test } from './instance';
import { makeAcademy, select } from './steps';

test('a checkpoint is shared, taken over in another technique, and follows the piece’s new text', async ({
  page,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  const part = page.getByText('The same in other techniques');
  const title = page.getByRole('textbox', { name: 'Title, as a short order' });
  const saved = page.getByTestId('draft-status').filter({ hasText: /: saved$/ });
  // Shared from one technique …
  await page.goto(`${empty.url}/library/leg-triangle?edit=1`);
  await page.getByText('Wrist held', { exact: false }).first().click();
  await part.click();
  await page.getByRole('button', { name: 'Share this checkpoint' }).click();
  await expect(page.getByText('Its text comes from the piece.')).toBeVisible();
  await expect(saved).toBeVisible();
  const words = await title.inputValue();
  // … it gives another its words, of which one is overwritten.
  await page.goto(`${empty.url}/library/bent-arm-lock?edit=1`);
  await page.getByText('Near arm stretched').first().click();
  await part.click();
  await select(page, /Shared piece/, words);
  await expect(title).toHaveValue(words);
  const criterion = page.getByRole('textbox', { name: 'Criterion: one thing that is true or false' });
  await criterion.fill('Their near hand lies flat.');
  await expect(page.getByText('Own text for: criterion.')).toBeVisible();
  await expect(saved).toBeVisible();

  await page.goto(`${empty.url}/library/pieces`);
  const row = page.getByRole('row').filter({ hasText: words });
  await expect(row).toContainText('(criterion of its own)');
  await row.getByRole('button', { name: words }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('textbox', { name: 'Title, as a short order' }).fill('Hand kept');
  await sheet.getByRole('textbox', { name: /^Criterion/ }).fill('You hold their hand.');
  await sheet.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Hand kept saved: 2 drafts have the new words, to be published')).toBeVisible();
  await page.goto(`${empty.url}/library/bent-arm-lock?edit=1`);
  await page.getByText('Hand kept').first().click();
  await expect(criterion).toHaveValue('Their near hand lies flat.');
  await page.getByRole('button', { name: 'Use the piece’s text' }).click();
  await expect(criterion).toHaveValue('You hold their hand.');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(criterion).toHaveValue('Their near hand lies flat.');

  // What has it is named where somebody would take it away.
  await page.goto(`${empty.url}/library/pieces`);
  await page.getByRole('button', { name: 'Hand kept' }).click();
  await sheet.getByRole('button', { name: 'Delete', exact: true }).click();
  await expect(sheet.getByText('2 techniques use this piece: bent-arm-lock, leg-triangle.')).toBeVisible();
  await sheet.getByRole('button', { name: 'Cancel' }).click();
  // It is told where the breakdown is read.
  await page.goto(`${empty.url}/library/leg-triangle?edit=1`);
  await page.getByRole('button', { name: 'Publish …' }).click();
  await page.getByRole('button', { name: /^Publish edition/ }).click();
  // The workbench, which has these words as well, stays on the screen until the page that reads is drawn.
  const anatomy = page.getByLabel('Anatomy of the checkpoint');
  await expect(anatomy).toBeVisible();
  await page.getByText('Hand kept').first().click();
  await expect(anatomy.getByRole('heading', { name: 'Hand kept' })).toBeVisible();
  await expect(page.getByTestId('shared-piece')).toContainText('also in');
});
