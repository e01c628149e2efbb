import { expect, test } from './ondwell.ts';

test('go anywhere by keyboard', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Standing');
  await page.locator('h1').click();
  for (const [numeral, room] of [
    ['2', 'actuals'],
    ['8', 'comparison'],
    ['1', 'standing'],
    ['4', 'forecast'],
  ]) {
    await page.keyboard.press('g');
    await page.keyboard.press(numeral ?? '');
    await expect(page).toHaveURL(new RegExp(`/w/1/${room}`));
    await expect(planner.heading).not.toBeEmpty();
  }
  await expect(page).toHaveURL(/from=2026-04&to=2027-03/);
  await page.keyboard.press(']');
  await expect(page).toHaveURL(/from=2027-04&to=2028-03/);
  await page.keyboard.press('[');
  await page.keyboard.press('[');
  await expect(page).toHaveURL(/from=2025-04&to=2026-03/);

  // In a grid a letter is no typing: `g` and a numeral still go to a room.
  await (await planner.cell('Web shop', 'Apr')).click();
  await page.keyboard.press('g');
  await page.keyboard.press('7');
  await expect(page).toHaveURL(/\/budget/);

  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('what a number looks like');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox').fill('duo households north web');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/forecast\?.*scope=channel/);
  await expect(planner.heading).toContainText('Tap unit Duo');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox').fill('return rate');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/drivers\?.*driver=returnRate/);
});

test('keys pressed while a menu still opens wait for it, however slow the machine', async ({
  planner,
}) => {
  const { page, origin } = planner;
  const press = async (...keys: string[]): Promise<void> => {
    for (const key of keys) await page.keyboard.press(key);
  };
  await page.goto(`${origin}/w/1/forecast?from=2026-10&to=2027-03`);
  await expect(planner.firstFigure).toBeVisible();
  const processor = await page.context().newCDPSession(page);
  await processor.send('Emulation.setCPUThrottlingRate', { rate: 12 });

  // The menu of a button: its first member, without a look at it.
  await page.getByRole('button', { name: 'Filter', exact: true }).focus();
  await press('Enter', 'ArrowDown', 'ArrowDown', 'ArrowUp', 'Enter');
  await expect(page).toHaveURL(/scope=channel:web$/);
  await press('Escape');

  // The menu of a cell: the keys are not the grid's any more.
  await press('F6', 'ArrowRight');
  await expect(page.locator('.field')).toHaveAccessibleName(/^Web shop, Oct/);
  await press('Shift+F10', 'ArrowUp', 'ArrowUp', 'Enter');
  await expect(page.getByRole('menu', { name: 'Actions for the selected cells' })).toBeHidden();
  await expect(page.locator('.field')).toBeFocused();
  await expect(page.locator('.field')).toHaveAccessibleName(/^Web shop, Oct/);

  // Going anywhere: what is typed at once is what is searched.
  await press('Control+k');
  await page.keyboard.type('return rate');
  await press('Enter');
  await expect(page).toHaveURL(/\/drivers\?.*driver=returnRate/);
});

test('print a table whole, with its period, scope and version', async ({ planner }) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/forecast?from=2026-04&to=2027-03&rows=channel,product`);
  await expect(await planner.cell('Web shop', 'Apr')).toBeVisible();
  await page.emulateMedia({ media: 'print' });
  const table = page.locator('table.printed');
  await expect(table).toBeVisible();
  await expect(table.locator('tbody tr').last()).toContainText('Growth');
  await expect(table).toContainText('Office sales team');
  await expect(page.locator('.room-head')).toContainText('April 2026 to March 2027');
  await expect(page.locator('.rail')).toBeHidden();
  await expect(page.locator('.plan-grid')).toBeHidden();

  // Forty-eight months take several pages, each with its headings; none is left out.
  await page.emulateMedia({ media: 'screen' });
  await page.goto(`${origin}/w/1/forecast?from=2024-04&to=2028-03&rows=channel`);
  await expect(planner.firstFigure).toBeVisible();
  await page.emulateMedia({ media: 'print' });
  const pages = page.locator('table.printed');
  await expect(pages).toHaveCount(4);
  await expect(pages.last()).toContainText('Mar 28');
  await expect(pages.last()).toContainText('columns 37 to 48 of 48');
  await expect(pages.nth(1)).toContainText('Web shop');
  const pdf = await page.pdf({ format: 'A4', landscape: true });
  expect(pdf.toString('latin1').match(/\/Type \/Page\b/g)?.length).toBeGreaterThanOrEqual(4);
});
