import { expect, test } from './ondwell.ts';

test('change drivers by keyboard and paste, see which assumption holds, and find it all after a reload', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Drivers');
  await planner.window('Next 12');
  await planner.driver('Discount');

  // A value at a wider scope holds for what lies below.
  const stores = await planner.cell('Home-goods stores', 'Nov 26');
  await expect(stores).toHaveText('31.0%');
  await planner.type(stores, '25');
  await expect(stores).toHaveText('25.0%');
  await planner.explain(stores);
  const panel = page.getByRole('region', { name: 'Inputs used' });
  await expect(panel).toContainText('entered for November 2026');
  await expect(panel).toContainText('Usual conditions');
  const below = page.getByRole('rowheader').filter({ hasText: 'Carafes' }).nth(1);
  await expect(below).toBeVisible();

  // Deleting takes back what was typed.
  await stores.click();
  await page.keyboard.press('Delete');
  await expect(stores).toHaveText('31.0%');
  await planner.saved();

  // A block from a spreadsheet goes into the streams' own cells.
  await planner.driver('List price');
  await page.getByRole('button', { name: 'Forecast lines', exact: true }).click();
  await page.evaluate(() => navigator.clipboard.writeText('41.5\t42\n43\t44.25'));
  await page.getByRole('rowheader').first().click();
  await page.keyboard.press('Control+Home');
  const stream = await planner.cell('Households · North', 'Oct 26');
  await stream.click();
  await page.keyboard.press('Control+V');
  await expect(stream).toHaveText('41.50');
  const right = page.locator(
    `[data-cell="${((await stream.getAttribute('data-cell')) ?? '').replace('2026-10', '2026-11')}"]`,
  );
  await expect(right).toHaveText('42.00');
  await planner.saved();

  await page.reload();
  await page.getByRole('button', { name: 'Forecast lines', exact: true }).click();
  await expect(await planner.cell('Households · North', 'Oct 26')).toHaveText('41.50');
});

test('spread a typed number of units over the streams below, to the unit', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Drivers');
  await planner.window('Next 12');
  const heading = await planner.heading.innerText();
  const everything = await planner.cell('Everything', 'Dec 26');
  await planner.type(everything, '75001');
  await expect(everything).toHaveText('75,001');
  await expect(page.getByText('Spread over 24 forecast lines, in proportion.')).toBeVisible();
  await planner.saved();
  await expect(everything).toHaveText('75,001');
  await expect(planner.heading).not.toHaveText(heading);
});

test('refuse what cannot be a value, at the cell, and keep the old one', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Drivers');
  await planner.window('Next 12');
  await planner.driver('List price');
  await page.getByRole('button', { name: 'Forecast lines', exact: true }).click();
  const cell = await planner.cell('Households · Coast', 'Jan 27');
  const old = await cell.innerText();
  for (const [typed, reason] of [
    ['abc', '“abc” is not a number'],
    ['1e400', 'not a number that can be used'],
    ['-5', 'below the minimum of 0'],
  ] as const) {
    await planner.type(cell, typed);
    await expect(page.getByRole('alert')).toContainText(reason);
    await expect(page.getByRole('alert')).toContainText('The old value stays');
    await expect(cell).toHaveClass(/refused/);
    await expect(cell).toHaveText(old);
  }
  // Letters do not open a cell.
  await cell.click();
  await page.keyboard.press('k');
  await expect(planner.openField).toHaveCount(0);
});
