import { expect, test } from './ondwell.ts';

test('take changes back and do them again by keyboard, in whatever room, and read the history', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Drivers');
  await planner.window('Next 12');
  await page.getByRole('tab', { name: 'Discount' }).click();
  const stores = await planner.cell('Home-goods stores', 'Nov 26');
  await planner.type(stores, '25');
  await expect(stores).toHaveText('25.0%');
  await planner.saved();
  await page.getByLabel('Reason').fill('autumn offer');
  await page.keyboard.press('Enter');
  await expect(page.getByText('“autumn offer”')).toBeVisible();

  await planner.room('Targets');
  await planner.window('This year');
  const share = await planner.cell('Lakes', 'Share');
  await planner.type(share, '18.5');
  await expect(share).toHaveText('18.5%');

  await page.locator('body').click({ position: { x: 640, y: 120 } });
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-said]')).toContainText('Undone: Changed the target of Lakes');
  await expect(share).toHaveText('15.5%');
  // What was done in another room is not in sight: it is named, and asked about.
  await page.keyboard.press('Control+z');
  const asks = page.getByRole('dialog');
  await expect(asks).toContainText('“Typed Discount');
  await expect(asks).toContainText('in Drivers');
  await asks.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.locator('[data-said]')).toContainText('Undone: Typed Discount');
  await planner.room('Drivers');
  await planner.window('Next 12');
  await page.getByRole('tab', { name: 'Discount' }).click();
  await expect(await planner.cell('Home-goods stores', 'Nov 26')).toHaveText('31.0%');
  await page.locator('h1').click();
  await page.keyboard.press('Control+y');
  await expect(await planner.cell('Home-goods stores', 'Nov 26')).toHaveText('25.0%');

  const history = await planner.history();
  await expect(history).toContainText('Mara Ellingsen');
  await expect(history).toContainText('“autumn offer”');
  await expect(history).toContainText('Discount, Home-goods stores, 2026-11');
  await expect(history).toContainText('25.0%');
  await history.getByRole('button', { name: 'Undo' }).first().click();
  await expect(await planner.cell('Home-goods stores', 'Nov 26')).toHaveText('31.0%');
  await expect(history).toContainText('undone');
});

test('take a file of sales lines back, and bring it in again', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Actuals');
  const before = await planner.figure('Revenue', 'Sep');
  await page.getByRole('button', { name: /files$/ }).click();
  await page.getByRole('button', { name: 'Undo import of fy2027.csv', exact: true }).click();
  await expect(page.getByText('fy2027.csv no longer count')).toBeVisible();
  await expect(page.getByText('fy2027.csv is not imported yet')).toBeVisible();
  await expect(planner.heading).toContainText('No closed months in this period');
  await page.keyboard.press('Escape');
  await page.locator('h1').click();
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-said]')).toContainText('Undone: Undid the import');
  await expect.poll(() => planner.figure('Revenue', 'Sep')).toBe(before);
});
