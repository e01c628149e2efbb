import { expect, test } from './ondwell.ts';

test('set next year’s objective, divide it, and keep what is unassigned in sight', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Targets');
  await expect(planner.heading).toHaveText('1.3 million of 26.5 million are with nobody');
  await page.goto(`${planner.origin}/w/1/targets?from=2027-04&to=2028-03&unit=1`);
  await expect(planner.heading).toHaveText('FY 2028 has no objective yet');
  await page.getByLabel('Objective').fill('28000000.01');
  await page.getByRole('button', { name: 'Set it' }).click();
  await expect(page.getByRole('button', { name: 'Target of Ondwell: 28,000,000' })).toBeVisible();

  const add = async (below: string, name: string, part: string, seller?: string): Promise<void> => {
    await page.getByRole('button', { name: `Add below ${below}` }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Name').fill(name);
    if (seller) await dialog.getByLabel('Seller code').fill(seller);
    await dialog.getByLabel(/^Part of/).fill(part);
    await dialog.getByRole('button', { name: 'Add' }).click();
    await expect(dialog).toBeHidden();
    await expect(page.getByRole('cell', { name, exact: true })).toBeVisible();
  };
  await add('Ondwell', 'North', '60%');
  await add('Ondwell', 'Coast', '10000000');
  await expect(planner.heading).toHaveText('1.2 million of 28 million are with nobody');
  await add('North', 'Ivo Tarnow', '25%', 'S01');
  await expect(page.getByRole('button', { name: 'Target of Ivo Tarnow: 4,200,000' })).toBeVisible();

  // Too much is said, not swallowed.
  await page.getByRole('button', { name: 'Share of North: 60.0%' }).click();
  await page.getByLabel('Share of North').fill('101');
  await page.keyboard.press('Enter');
  await expect(page.getByText('the percents add up to 101.0%')).toBeVisible();
  await expect(planner.heading).toContainText('more than the target of 28 million is handed out');

  // What cannot be a part is refused and the old one stays.
  await page.getByRole('button', { name: /^Target of Coast/ }).click();
  await page.getByLabel('Target of Coast').fill('much');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('“much” is neither a percent');
  await page.reload();
  await expect(page.getByRole('button', { name: 'Target of Coast: 10,000,000' })).toBeVisible();
  await expect(page.getByText('the percents add up to 101.0%')).toBeVisible();
});
