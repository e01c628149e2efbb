import type { Page } from '@playwright/test';
import { Secret, TOTP } from 'otpauth';
import { expect, test } from './ondwell.ts';

test('invite somebody who chooses their own password, make them a planner, and remove them', async ({
  planner,
  browser,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/settings`);
  await page.getByRole('button', { name: 'Invite person' }).click();
  const form = page.getByRole('dialog', { name: 'Invite a person' });
  await form.getByLabel('Name').fill('Nils Brandal');
  await form.getByLabel('E-mail address').fill('not an address');
  await form.getByRole('button', { name: 'Invite', exact: true }).click();
  await expect(form.getByText('this is not an e-mail address')).toBeVisible();
  await form.getByLabel('E-mail address').fill('nils@ondwell.example');
  await page.keyboard.press('Enter');
  const link = page.getByRole('dialog', { name: 'Link for Nils Brandal' });
  const address = await link.locator('[data-address]').innerText();
  await link.getByRole('button', { name: 'Copy link' }).click();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe(address);
  await link.getByRole('button', { name: 'Done' }).click();
  const row = page.getByRole('row', { name: /Nils Brandal/ });
  await expect(row).toContainText('invited');

  const context = await browser.newContext();
  const theirs = await context.newPage();
  await theirs.goto(address);
  await expect(theirs.getByText('Nils Brandal, choose a password')).toBeVisible();
  const save = theirs.getByRole('button', { name: 'Save password' });
  await theirs.getByLabel('Password, at least 10 characters').fill('chosen by myself');
  await theirs.getByLabel('Password again').fill('chosen by mistake');
  await expect(theirs.getByText('The two passwords differ')).toBeVisible();
  await expect(save).toBeDisabled();
  await theirs.getByLabel('Password again').fill('chosen by myself');
  await save.click();
  await theirs.getByRole('button', { name: 'Skip the tour' }).click();
  await expect(theirs).toHaveURL(/standing/);
  await theirs.goto(`${origin}/w/1/drivers`);
  await expect(theirs.getByText('You can read this workspace')).toBeVisible();
  // The link works once.
  await theirs.goto(address);
  await expect(theirs.getByRole('alert')).toContainText('ask for a new one');

  await page.reload();
  await expect(row).not.toContainText('invited');
  await row.getByRole('button', { name: 'Actions for Nils Brandal' }).click();
  await page.getByText('Change role and part').click();
  const role = page.getByRole('dialog', { name: 'Role and part of Nils Brandal' });
  await planner.choose(role.getByLabel('Role'), 'Planner: sees and changes everything');
  await role.getByRole('button', { name: 'Save' }).click();
  await expect(role).toBeHidden();
  await expect(row).toContainText('planner');
  await theirs.goto(`${origin}/w/1/settings`);
  await theirs.getByRole('button', { name: 'Change password' }).click();
  const change = theirs.getByRole('dialog');
  await change.getByLabel('Current password').fill('guess');
  await change.getByLabel(/^New password/).fill('another one 12');
  await change.getByRole('button', { name: 'Change password' }).click();
  await expect(change.getByText('This is not your current password')).toBeVisible();
  await change.getByLabel('Current password').fill('chosen by myself');
  await change.getByRole('button', { name: 'Change password' }).click();
  await expect(change).toBeHidden();

  await row.getByRole('button', { name: 'Actions for Nils Brandal' }).click();
  await page.getByText('Remove from workspace').click();
  await expect(row).toBeHidden();
  await page.locator('[data-said]').getByRole('button', { name: 'Undo' }).click();
  await expect(row).toBeVisible();
  await context.close();
});

test('what a person prefers holds in every room, and on another machine', async ({
  planner,
  browser,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/settings`);
  await planner.choose(page.getByLabel('Unit'), '€');
  await planner.choose(page.getByLabel('First room'), 'Comparison');
  await planner.choose(
    page.getByLabel('Number and date format'),
    '1.234.567,8, 12.10.2026 (de-DE)',
  );
  await planner.choose(page.getByLabel('Theme'), 'Dark');
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const elsewhere = await context.newPage();
  await elsewhere.request.post(`${origin}/api/session`, {
    data: { email: 'planner@ondwell.example', password: 'plan the year' },
  });
  await elsewhere.goto(origin);
  await expect(elsewhere).toHaveURL(/comparison/);
  await expect(elsewhere.locator('html')).toHaveAttribute('data-theme', 'dark');
  await expect(elsewhere.locator('.state')).toContainText('Revenue, €,');
  const actual = elsewhere.locator('[data-grid="comparison"] [data-cell$=" actual"]').first();
  await expect(actual).toHaveText(/^\d\.\d{3}\.\d{3}$/);
  await context.close();
});

test('set up a second factor, ask it of everybody, and see in the audit log who came', async ({
  planner,
  browser,
}) => {
  const { page, origin } = planner;
  const codeOf = (secret: string, later = 0): string =>
    new TOTP({ secret: Secret.fromBase32(secret) }).generate({
      timestamp: Date.now() + later * 30_000,
    });
  /** Sets one up where it is offered. @returns its secret */
  async function setUp(at: Page, password: string): Promise<string> {
    await at.getByRole('button', { name: 'Set up second factor' }).click();
    await at.getByLabel('Current password').fill(password);
    await at.keyboard.press('Enter');
    await expect(at.getByRole('img', { name: 'QR code of the second factor' })).toBeVisible();
    const secret = await at.locator('[data-secret]').innerText();
    await at.getByLabel('Code that it shows now').fill('12');
    await at.keyboard.press('Enter');
    await expect(at.getByText('a code has six digits')).toBeVisible();
    await at.getByLabel('Code that it shows now').fill(codeOf(secret));
    await at.keyboard.press('Enter');
    const codes = at.getByRole('dialog', { name: 'Recovery codes' });
    await expect(codes.getByRole('listitem')).toHaveCount(10);
    await codes.getByRole('button', { name: 'Done' }).click();
    return secret;
  }
  await page.goto(`${origin}/w/1/settings`);
  const secret = await setUp(page, 'plan the year');
  await page.getByLabel('Everybody needs a second factor').click();
  await expect(page.getByLabel('Everybody needs a second factor')).toBeChecked();

  const theirs = await (await browser.newContext()).newPage();
  const signIn = async (email: string, password: string): Promise<void> => {
    await theirs.goto(`${origin}/sign-in`);
    await theirs.getByLabel('E-mail address').fill(email);
    await theirs.getByLabel('Password').fill(password);
    await theirs.keyboard.press('Enter');
  };
  await signIn('planner@ondwell.example', 'plan the year');
  await expect(theirs.getByText('Enter the code that your authenticator shows')).toBeVisible();
  await theirs.getByLabel(/^Code from your authenticator/).fill(codeOf(secret, 1));
  await theirs.keyboard.press('Enter');
  await expect(theirs).toHaveURL(/standing/);
  await theirs.getByRole('button', { name: 'Sign out' }).click();
  await expect(theirs).toHaveURL(/sign-in/);
  // Whoever has none sees how to set one up, and nothing else.
  await signIn('reader@ondwell.example', 'read the plan');
  await expect(theirs.getByText('Ondwell asks for a second factor')).toBeVisible();
  await setUp(theirs, 'read the plan');
  await theirs.getByRole('button', { name: 'Go to Ondwell' }).click();
  await expect(theirs).toHaveURL(/standing/);

  // It is taken away from whoever lost the phone, and asked once more before.
  await page.reload();
  await page.getByRole('button', { name: 'Actions for Rhea Lorne' }).click();
  await page.getByRole('menuitem', { name: 'Remove second factor' }).click();
  const asks = page.getByRole('dialog', { name: 'Second factor of Rhea Lorne' });
  await asks.getByRole('button', { name: 'Cancel' }).click();
  await page.getByRole('button', { name: 'Actions for Rhea Lorne' }).click();
  await page.getByRole('menuitem', { name: 'Remove second factor' }).click();
  await asks.getByRole('button', { name: 'Remove' }).click();
  await expect(page.getByText('Rhea Lorne signs in with a password only')).toBeVisible();
  await theirs.reload();
  await expect(theirs.getByText('Ondwell asks for a second factor')).toBeVisible();

  await page.goto(`${origin}/w/1/audit`);
  await planner.choose(page.getByLabel('What'), 'Second factor turned on');
  const log = page.getByRole('region', { name: 'Audit log' }).getByRole('row');
  await expect(log.filter({ hasText: 'Rhea Lorne' })).toHaveCount(1);
  await page.getByLabel('Person', { exact: true }).fill('mara');
  await expect(log.filter({ hasText: 'Rhea Lorne' })).toHaveCount(0);
  await expect(log.filter({ hasText: 'Mara Ellingsen' })).toHaveCount(1);
  await page.getByLabel('Person', { exact: true }).fill('nobody of this name');
  await page.getByRole('button', { name: 'Show everything' }).click();
  await expect(log.filter({ hasText: 'Signed in' }).first()).toBeVisible();
});
