import { readFile } from 'node:fs/promises';
import { expect, test } from './ondwell.ts';

test('set next year’s objective, divide it, and keep what is unassigned in sight', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Targets');
  await expect(planner.heading).toHaveText(
    '795 thousand of 26.5 million unassigned; 509 thousand unassigned below 4 teams',
  );
  await page.goto(`${planner.origin}/w/1/targets?from=2027-04&to=2028-03&unit=1`);
  await expect(planner.heading).toHaveText('FY 2028 has no target yet');
  await page.getByLabel('Revenue target').fill('28000000.01');
  await page.getByRole('button', { name: 'Set target' }).click();
  await expect(await planner.cell('Ondwell', 'Target')).toHaveText('28,000,000');

  const add = async (below: string, name: string, part: string, seller?: string): Promise<void> => {
    await (await planner.cell(below, 'Target')).click();
    await page.getByRole('button', { name: `Add below ${below}` }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Name').fill(name);
    if (seller) await dialog.getByLabel('Seller code').fill(seller);
    await dialog.getByLabel(/^Target: an amount/).fill(part);
    await dialog.getByRole('button', { name: 'Add', exact: true }).click();
    await expect(dialog).toBeHidden();
    await expect(await planner.cell(name, 'Target')).toBeVisible();
  };
  await add('Ondwell', 'North', '60%');
  await add('Ondwell', 'Coast', '10000000');
  await expect(planner.heading).toHaveText('1.2 million of 28 million unassigned');
  await add('North', 'Ivo Tarnow', '25%', 'S01');
  await expect(await planner.cell('Ivo Tarnow', 'Target')).toHaveText('4,200,000');

  // Too much is said, not swallowed.
  await planner.type(await planner.cell('North', 'Share'), '101');
  await expect(page.getByText('the percents add up to 101.0%')).toBeVisible();
  await expect(planner.heading).toContainText(/over-assigned below Ondwell/);

  // What cannot be a part is refused and the old one stays.
  const coast = await planner.cell('Coast', 'Target');
  await planner.type(coast, 'much');
  await expect(page.getByRole('alert')).toContainText('“much” is neither a percentage');
  await expect(coast).toHaveText('10,000,000');
  await page.reload();
  await expect(await planner.cell('Coast', 'Target')).toHaveText('10,000,000');
  await expect(page.getByText('the percents add up to 101.0%')).toBeVisible();

  // What would count twice is refused, and what was typed stays.
  await (await planner.cell('Coast', 'Target')).click();
  await page.getByRole('button', { name: 'Add below Coast' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('Somebody else');
  await dialog.getByLabel('Seller code').fill('S01');
  await dialog.getByLabel(/^Target: an amount/).fill('5%');
  await dialog.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(dialog).toContainText('S01 is Ivo Tarnow already');
  await dialog.getByLabel('Seller code').fill('S99');
  await dialog.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(dialog).toContainText('No sales line bears the seller S99');
  await expect(dialog.getByLabel('Name')).toHaveValue('Somebody else');
  await dialog.getByRole('button', { name: 'Cancel' }).click();

  // The table is saved as it is shown.
  const saving = page.waitForEvent('download');
  await (await planner.inMenu('Save as CSV')).click();
  const file = await saving;
  expect(file.suggestedFilename()).toBe('Targets.csv');
  const text = await readFile(await file.path(), 'utf8');
  expect(text).toMatch(/^\uFEFF"Team, person","Target, €","Share, fraction","Last year, €"/);
  expect(text).toContain('\r\n  Coast,10000000,');

  // By the right button a row is taken out, and Ctrl+Z brings it back.
  await (await planner.cell('Coast', 'Target')).click({ button: 'right' });
  await page.getByRole('menuitem').filter({ hasText: 'Remove Coast' }).click();
  await expect(page.getByRole('rowheader', { name: 'Coast' })).toHaveCount(0);
  await planner.saved();
  await page.keyboard.press('Control+z');
  await expect(await planner.cell('Coast', 'Target')).toHaveText('10,000,000');
});

test('targets are typed, changed and pasted as in a spreadsheet, each act undone as one', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/targets?from=2026-04&to=2027-03`);
  const [north, coast] = [
    await planner.cell('North', 'Target'),
    await planner.cell('Coast', 'Target'),
  ];
  const before = await north.innerText();
  // Typed in thousands, as shown; a percent makes it a part again.
  await planner.type(north, '8000');
  await expect(north).toHaveText('8,000');
  await planner.type(north, '+5%');
  await expect(north).toHaveText('8,400');
  await planner.type(await planner.cell('North', 'Share'), '+=2');
  await expect(await planner.cell('North', 'Share')).toHaveText('33.7%');
  await planner.type(north, '30%');
  await expect(north).toHaveText('7,950');

  // A slip by a thousand is asked about; what follows from elsewhere says why nothing opens.
  await planner.type(coast, '7000000');
  await expect(page.getByRole('alert')).toContainText('Which did you mean?');
  await page.getByRole('button', { name: /^7,000\.00/ }).click();
  await expect(coast).toHaveText('7,000');
  await (await planner.cell('North', 'Last year')).click();
  await page.keyboard.press('5');
  await expect(planner.openField).toHaveCount(0);
  await expect(page.locator('[data-said]')).toContainText('Last year is actual sales');

  // In order of a column, each among those of the same area; what is unassigned stays last.
  const order = page.locator('[data-order="target"]');
  await order.click();
  const names = page.locator('.plan-grid .scrolls [role="rowheader"]');
  await expect(names.nth(1)).toContainText('North');
  await expect(names.nth(2)).toContainText('Ivo Tarnow');
  await expect(names.nth(6)).toContainText('Unassigned');
  await order.click();
  await order.click();
  await expect(page).not.toHaveURL(/order=/);

  // Several at once are one act.
  const people = ['Ivo Tarnow', 'Lene Maurits', 'Piet Ansgar'];
  const shares = await Promise.all(people.map((name) => planner.cell(name, 'Share')));
  await shares[0]?.click();
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.setData('text/plain', '31%\n22%\n17%');
    document.activeElement?.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
    );
  });
  for (const [place, text] of ['31.0%', '22.0%', '17.0%'].entries()) {
    await expect(shares[place] ?? north).toHaveText(text);
  }
  await planner.saved();
  await page.keyboard.press('Control+z');
  for (const [place, text] of ['34.0%', '20.0%', '16.0%'].entries()) {
    await expect(shares[place] ?? north).toHaveText(text);
  }
  for (let step = 0; step < 5; step += 1) await page.keyboard.press('Control+z');
  await expect(north).toHaveText(before);
});

test('somebody leaves: nothing is forecast of them, what nobody sells is a row, and it adds up', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/targets?from=2026-04&to=2027-03&unit=1`);
  const of = (row: string) => planner.figure(row, 'Forecast');
  const before = await of('Ivo Tarnow');
  const north = await of('North');
  await (await planner.cell('Ivo Tarnow', 'Target')).click({ button: 'right' });
  await page.getByRole('menuitem').filter({ hasText: 'Last month of Ivo Tarnow' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel(/^Last month/).fill('2026-10');
  await dialog.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(dialog).toBeHidden();
  await expect.poll(() => of('Ivo Tarnow\\s*to Oct 26')).toBeLessThan(before - 1000);
  expect(await of('North')).toBe(north);
  // Nobody sells what Ivo would have sold: the row below the parts of North has it.
  const left = before - (await of('Ivo Tarnow\\s*to Oct 26'));
  expect(Math.abs((await of('Unassigned')) - left)).toBeLessThanOrEqual(1);
  await planner.explain(await planner.cell('Ivo Tarnow\\s*to Oct 26', 'To date'));
  await expect(planner.trace).toContainText(
    'Part of the year that was sold by now the year before',
  );
  await planner.saved();
  await page.keyboard.press('Control+z');
  await expect.poll(() => of('Ivo Tarnow')).toBe(before);
});
