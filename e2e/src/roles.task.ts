import { Desk, expect, test } from './ondwell.ts';

test('a manager sees the own part only, questions the target, divides it and agrees', async ({
  planner,
  browser,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/targets`);
  const actionsOf = async (desk: Desk, name: string, action: string): Promise<void> => {
    await (await desk.cell(name, 'Target')).click({ button: 'right' });
    await desk.page.getByRole('menuitem', { name: action, exact: true }).click();
  };
  await actionsOf(planner, 'North', 'Hand out North');
  await expect(page.locator('footer')).toContainText('Saved');

  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const una = new Desk(await context.newPage(), origin);
  await una.enter('manager@ondwell.example', 'divide the north');
  await una.page.goto(origin);
  await expect(una.page).toHaveURL(/\/w\/1\/targets/);
  await expect(await una.cell('North', 'Target')).toContainText('7,818');
  await expect(una.page.locator('[data-grid="targets"]').getByText('Coast')).toBeHidden();
  await expect(una.page.getByRole('navigation', { name: 'Rooms' }).getByRole('link')).toHaveText([
    /Targets/,
    /Sheets/,
    'Settings',
  ]);
  // No other room opens by its address.
  await una.page.goto(`${origin}/w/1/forecast`);
  await expect(una.page).toHaveURL(/\/w\/1\/targets/);

  // The own target is not typed over; it is questioned.
  await (await una.cell('North', 'Target')).click();
  await una.page.keyboard.type('1');
  await expect(una.page.getByText('Your own target is set by whoever handed it out')).toBeVisible();
  await una.page.keyboard.press('Escape');
  await actionsOf(una, 'North', 'Question the target of North');
  const question = una.page.getByRole('dialog');
  await question.getByLabel('Question').fill('Two of my accounts have closed');
  await question.getByRole('button', { name: 'Save' }).click();
  await expect(una.page.getByText('North: Two of my accounts have closed')).toBeVisible();

  // The planner hears of it without loading anything, gives in, and hands it out again.
  await (await planner.cell('North', 'Share')).click();
  await expect(page.getByText('North: Two of my accounts have closed')).toBeVisible();
  await page.keyboard.type('28%');
  await page.keyboard.press('Enter');
  await expect(await planner.cell('North', 'Target')).toContainText('7,420');
  await actionsOf(planner, 'North', 'Hand out North again');

  // Divided below, taken back by the manager's own undo, and agreed.
  await expect(await una.cell('North', 'Target')).toContainText('7,420');
  await (await una.cell('Ivo Tarnow', 'Share')).click();
  await una.page.keyboard.type('35%');
  await una.page.keyboard.press('Enter');
  await expect(await una.cell('Ivo Tarnow', 'Target')).toContainText('2,597');
  await una.page.keyboard.press('Control+z');
  await expect(await una.cell('Ivo Tarnow', 'Share')).toContainText('34.0%');
  await actionsOf(una, 'North', 'Agree the target of North');
  await expect(una.page.getByRole('rowheader', { name: /North .*agreed/ })).toBeVisible();
  await expect(page.getByRole('rowheader', { name: /North .*agreed/ })).toBeVisible();

  // A number leads to the sales lines of the own part.
  await (await una.cell('Ivo Tarnow', 'Actual')).click();
  await una.page.keyboard.press('Space');
  await expect(una.page.getByRole('region', { name: 'Sales lines' })).toContainText('sales lines');

  // Another part is given under Settings: the old one is out of sight at once.
  await page.goto(`${origin}/w/1/settings`);
  await page.getByRole('button', { name: 'Actions for Una Keldby' }).click();
  await page.getByRole('menuitem', { name: 'Change role and part' }).click();
  const role = page.getByRole('dialog', { name: 'Role and part of Una Keldby' });
  await planner.choose(role.getByLabel('Role'), 'Reader: sees everything, changes nothing');
  await role.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('row', { name: /Una Keldby/ })).toContainText('reader');
  await page.locator('[data-said]').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('row', { name: /Una Keldby/ })).toContainText('manager of North');
  await context.close();
});
