import { expect, test } from './ondwell.ts';

test('work on a budget: totals, arithmetic on a selection, reasons, another basis, a seal and a copy', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/budget?from=2026-04&to=2027-03&unit=1`);
  const carafes = await planner.cell('Carafes', 'Oct');
  await planner.type(carafes, '150k');
  await expect(carafes).toHaveText('150,000');
  await expect(carafes).toHaveClass(/dress-entries/);
  await expect(page.locator('[data-spread]')).toContainText('in proportion');
  await expect.poll(() => planner.figure('Web shop', 'Oct')).toBeGreaterThan(680_000);
  await page.getByRole('button', { name: 'equally' }).click();
  await expect(page.locator('[data-spread]').locator('b')).toHaveText('equally');
  await expect(carafes).toHaveText('150,000');
  await page.getByLabel('Reason').fill('agreed with the stores');
  await page.keyboard.press('Enter');
  await expect(page.getByText('“agreed with the stores”')).toBeVisible();

  // Changes on a selection: two cells, eight percent more each.
  const taps = await planner.cell('Tap units', 'Oct');
  const next = await planner.cell('Tap units', 'Nov');
  const figures = [
    await planner.figure('Tap units', 'Oct'),
    await planner.figure('Tap units', 'Nov'),
  ];
  await taps.click();
  await next.click({ modifiers: ['Shift'] });
  await page.keyboard.type('+8%');
  await page.keyboard.press('Enter');
  for (const [index, month] of ['Oct', 'Nov'].entries()) {
    await expect
      .poll(async () =>
        Math.abs((await planner.figure('Tap units', month)) - (figures[index] ?? 0) * 1.08),
      )
      .toBeLessThan(1);
  }

  // The cell lists its entries with their reasons.
  await planner.explain(carafes);
  await expect(planner.trace).toContainText('“agreed with the stores”');
  await expect(planner.trace.locator('[data-entry]')).toHaveCount(2);

  // What cannot be is refused at the cell.
  await planner.type(carafes, 'many');
  await expect(page.getByRole('alert')).toContainText('“many” is not a number');
  await expect(carafes).toHaveText('150,000');

  const total = await planner.figure('Revenue', 'Total');
  await page.getByRole('button', { name: 'Lock budget' }).click();
  await expect(page.getByText('Locked. Copy it to make changes.')).toBeVisible();
  await carafes.click();
  await page.keyboard.press('5');
  await expect(planner.openField).toHaveCount(0);
  await page.getByRole('button', { name: 'Copy with uplift' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByLabel('Name')).toHaveValue('Budget FY 2028');
  await dialog.getByLabel('Volume, %').fill('10');
  await dialog.getByRole('checkbox', { name: /^Leave out what is sold no longer/ }).uncheck();
  await dialog.getByRole('checkbox', { name: /^Add what is new, from the forecast/ }).uncheck();
  await dialog.getByRole('button', { name: 'Copy', exact: true }).click();
  await expect(planner.heading).toHaveText(/^Budget FY 2028 plans/);
  await expect
    .poll(async () => Math.abs((await planner.figure('Revenue', 'Total')) - total * 1.1))
    .toBeLessThan(1);
});

test('units bring revenue along, and a driver’s selection is multiplied to the unit', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/budget?from=2026-04&to=2027-03&unit=1&measure=units`);
  const cell = await planner.cell('Carafes', 'Dec');
  const units = await planner.figure('Carafes', 'Dec');
  await planner.type(cell, 'x2');
  await expect.poll(() => planner.figure('Carafes', 'Dec')).toBe(units * 2);

  await page.goto(`${origin}/w/1/drivers?from=2026-10&to=2027-03&driver=grossUnits`);
  await page.getByRole('button', { name: 'Forecast lines', exact: true }).click();
  const names = ['Households · North', 'Households · Coast', 'Households · Lakes'];
  const first = await planner.cell(names[0] ?? '', 'Dec 26');
  const last = await planner.cell(names[2] ?? '', 'Dec 26');
  const before: number[] = [];
  for (const name of names) before.push(await planner.figure(name, 'Dec 26'));
  await first.click();
  await last.click({ modifiers: ['Shift'] });
  await page.keyboard.type('x1.15');
  await page.keyboard.press('Enter');
  const sum = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0);
  await expect
    .poll(async () => {
      const after: number[] = [];
      for (const name of names) after.push(await planner.figure(name, 'Dec 26'));
      return sum(after);
    })
    .toBe(Math.round(sum(before) * 1.15));
});
