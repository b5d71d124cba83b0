import { expect, test } from './instance';
import { coach, makeAcademy } from './steps';

test('a passkey signs in, and a screen that was left open takes nothing out until somebody has proved who they are', async ({
  page,
  context,
  empty,
}) => {
  // Passkeys are of a host name.
  const url = empty.url.replace('127.0.0.1', 'localhost');
  const devtools = await context.newCDPSession(page);
  await devtools.send('WebAuthn.enable');
  await devtools.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      protocol: 'ctap2',
      transport: 'internal',
      hasResidentKey: true,
      hasUserVerification: true,
      isUserVerified: true,
      automaticPresenceSimulation: true,
    },
  });
  await makeAcademy(page, url);
  await page.goto(`${url}/account`);
  await page.getByRole('button', { name: 'Add a passkey' }).click();
  await expect(page.getByRole('button', { name: 'Remove' })).toBeVisible();
  await page.getByRole('button', { name: /Quay/ }).click();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await page.getByRole('button', { name: 'Use a passkey' }).click();
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();

  const left = () => empty.query(`update sign_ins set proved_at = now() - interval '1 hour'`);
  await left();
  await page.goto(`${url}/data`);
  const asked = page.getByRole('dialog', { name: 'Is it you?' });
  const takeOut = () => page.getByRole('link', { name: 'Download academy.zip' }).click();
  const byPasskey = page.waitForEvent('download');
  await takeOut();
  await asked.getByRole('button', { name: 'Use a passkey' }).click();
  expect((await byPasskey).suggestedFilename()).toBe('academy.zip');
  await expect(asked).toBeHidden();

  await left();
  await takeOut();
  await asked.getByLabel('Your password').fill('not this one');
  await asked.getByRole('button', { name: 'Go on' }).click();
  await expect(asked.getByRole('alert')).toContainText('Wrong password');
  const byPassword = page.waitForEvent('download');
  await asked.getByLabel('Your password').fill(coach.password);
  await asked.getByRole('button', { name: 'Go on' }).click();
  await byPassword;
  // After “Cancel” nothing is downloaded, and the page says why.
  await left();
  await takeOut();
  await asked.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByRole('alert')).toContainText('Say again who you are.');
});

test('a device that was signed out from elsewhere forgets what it holds', async ({
  page,
  browser,
  empty,
}) => {
  await makeAcademy(page, empty.url);
  const other = await browser.newContext();
  const lost = await other.newPage();
  await lost.goto(empty.url);
  await lost.getByLabel('Email').fill(coach.email);
  await lost.getByLabel('Password').fill(coach.password);
  await lost.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(lost.getByRole('heading', { name: 'Today' })).toBeVisible();
  const held = () =>
    lost.evaluate(async () => {
      const [{ name } = { name: '' }] = await indexedDB.databases();
      const open = indexedDB.open(name!);
      await new Promise((resolve) => (open.onsuccess = resolve));
      const count = open.result.transaction('answers').objectStore('answers').count();
      await new Promise((resolve) => (count.onsuccess = resolve));
      open.result.close();
      return count.result;
    });
  await expect.poll(held).toBeGreaterThan(0);
  await page.request.delete(`${empty.url}/api/devices`);
  // It hears of it when it next asks.
  await lost.reload();
  await expect(lost.getByRole('button', { name: 'Sign in', exact: true })).toBeVisible();
  await expect.poll(held).toBe(0);
  await other.close();
});
