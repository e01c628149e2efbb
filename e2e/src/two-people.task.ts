import { checks } from './axe.ts';
import { expect, test } from './ondwell.ts';

test('two people at once: the one’s screen follows the other’s, and nobody overwrites anybody', async ({
  planner,
  colleague,
}) => {
  const place = '/w/1/drivers?driver=discount&from=2026-10&to=2027-03';
  for (const desk of [planner, colleague]) {
    await desk.page.goto(desk.origin + place);
    await expect(await desk.cell('Home-goods stores', 'Nov 26')).toHaveText('31.0%');
  }
  const mine = await planner.cell('Home-goods stores', 'Nov 26');
  const theirs = await colleague.cell('Home-goods stores', 'Nov 26');

  // What one types is on the other's screen within a second.
  await planner.type(mine, '25');
  await expect(theirs).toHaveText('25.0%');
  await expect(colleague.page.locator('[data-said]')).toContainText(
    'Mara Ellingsen changed Drivers',
  );

  // While one has the cell open, nothing moves under their hands; then both values are shown.
  await theirs.click();
  await colleague.page.keyboard.press('F2');
  await expect(colleague.openField).toBeFocused();
  await planner.type(mine, '26');
  await planner.saved();
  await colleague.openField.fill('27');
  await colleague.page.keyboard.press('Enter');
  const dialog = colleague.page.getByRole('dialog');
  await expect(dialog).toContainText('Changed by somebody else in the meantime');
  await expect(dialog).toContainText('Mara Ellingsen');
  await expect(dialog.getByRole('cell', { name: '26.0%' })).toBeVisible();
  await expect(dialog.getByRole('cell', { name: '27.0%' })).toBeVisible();
  await expect(mine).toHaveText('26.0%');
  await checks(colleague.page)('what both changed');
  await dialog.getByRole('button', { name: 'Use mine' }).click();
  await expect(theirs).toHaveText('27.0%');
  await expect(mine).toHaveText('27.0%');

  // What the other changed since is not taken back.
  await planner.page.locator('h1').click();
  await planner.page.keyboard.press('Control+z');
  await expect(planner.page.locator('[data-said]')).toContainText('Ilse Tarn changed it since');
  await expect(mine).toHaveText('27.0%');
});

test('a session that ends while somebody types loses nothing', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Drivers');
  await planner.window('Next 12');
  await page.getByRole('tab', { name: 'Discount' }).click();
  const stores = await planner.cell('Home-goods stores', 'Jan 27');
  await expect(stores).toBeVisible();
  await page.context().clearCookies();
  await planner.type(stores, '12.5');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('Your session has ended');
  await checks(page)('a session that ended');
  await dialog.getByLabel('Password').fill('wrong');
  await dialog.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(dialog.getByRole('alert')).toContainText('do not belong together');
  await dialog.getByLabel('Password').fill('plan the year');
  await dialog.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(dialog).toBeHidden();
  await planner.saved();
  await page.reload();
  await page.getByRole('tab', { name: 'Discount' }).click();
  await expect(await planner.cell('Home-goods stores', 'Jan 27')).toHaveText('12.5%');
});

test('a request whose answer is lost is sent again and done once', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Targets');
  let lost = 0;
  await page.route('**/api/workspaces/1/targets/**', async (route) => {
    if (route.request().method() !== 'PUT' || lost >= 2) return route.continue();
    // The server does it, and its answer is lost.
    await route.fetch();
    lost += 1;
    return route.abort('connectionreset');
  });
  const share = await planner.cell('Lakes', 'Share');
  await planner.type(share, '19.5');
  await expect(share).toHaveText('19.5%');
  await expect.poll(() => lost).toBe(2);
  await planner.saved();
  const history = await planner.history();
  await expect(history.getByText('Changed the target of Lakes')).toHaveCount(1);
});
