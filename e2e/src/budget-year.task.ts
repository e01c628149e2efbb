import { expect, test } from './ondwell.ts';

const YEAR = 'from=2026-04&to=2027-03';

test('next year’s budget starts from last year’s sales, the web shop with an uplift of its own', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/budget?${YEAR}&unit=1`);
  await page.getByRole('button', { name: 'Copy with uplift' }).click();
  const dialog = page.getByRole('dialog', { name: 'Copy with uplift' });
  await planner.choose(dialog.getByLabel('Copy of').and(page.locator('input')), 'Actual sales');
  await expect(dialog.getByLabel('First month')).toHaveValue('2025-04');
  await expect(dialog.getByLabel('Months later')).toHaveValue('24');
  await expect(dialog.getByRole('status')).toContainText('for April 2027 to March 2028');
  await dialog.getByLabel('Volume, %').fill('0');
  await dialog.getByRole('button', { name: 'Add an uplift for some sales' }).click();
  await dialog.getByLabel('Volume, %').nth(1).fill('10');
  await dialog.getByRole('button', { name: 'Copy', exact: true }).click();
  await expect(dialog).toContainText('choose whose sales');
  const whose = dialog.getByRole('combobox', { name: 'Other uplift 1, for' });
  await whose.fill('Web');
  await page.getByRole('option', { name: 'Channel: Web shop', exact: true }).click();
  await page.keyboard.press('Tab');
  for (const name of [/^Leave out what is sold no longer/, /^Add what is new/]) {
    await dialog.getByRole('checkbox', { name }).uncheck();
  }
  await dialog.getByRole('button', { name: 'Copy', exact: true }).click();
  await expect(planner.heading).toHaveText(/^Budget FY 2028 plans/);
  const planned = {
    web: await planner.figure('Web shop', 'Total'),
    stores: await planner.figure('Home-goods stores', 'Total'),
  };
  await page.goto(`${origin}/w/1/actuals?from=2025-04&to=2026-03&unit=1&rows=channel`);
  const sold = await page.request.get(
    `${origin}/api/workspaces/1/table?rows=channel&from=2025-04&to=2026-03`,
  );
  const { rows } = (await sold.json()) as { rows: { label: string; total: { value: number } }[] };
  const of = (label: string): number => rows.find((row) => row.label === label)?.total.value ?? 0;
  expect(Math.abs(planned.web - of('Web shop') * 1.1)).toBeLessThan(1);
  expect(Math.abs(planned.stores - of('Home-goods stores'))).toBeLessThan(1);
});

test('the revenue that a profit needs is entered over the lines, and taken back', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/budget?from=2026-10&to=2027-03`);
  await expect(planner.firstFigure).toBeVisible();
  const before = await planner.figure('Revenue', 'Total');
  await page.getByRole('button', { name: 'More actions' }).click();
  await page.getByRole('menuitem', { name: 'Revenue needed for a profit' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Other costs, thousand €').fill('4000');
  await dialog.getByLabel('Wanted profit, thousand €').fill('3000');
  await expect(dialog.getByRole('status')).toContainText(/Needed: revenue 1\d(\.\d)? million/);
  await dialog.getByLabel('Reason').fill('the plan of the owners');
  await dialog.getByRole('button', { name: 'Enter into the budget' }).click();
  await expect(dialog).toBeHidden();
  await expect.poll(() => planner.figure('Revenue', 'Total')).toBeGreaterThan(before * 1.1);
  await page.locator('h1').click();
  await page.keyboard.press('Control+z');
  await expect.poll(() => planner.figure('Revenue', 'Total')).toBe(before);
});

test('a budget is read by day and as it was before a change, which Comparison then names', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/budget?from=2026-11&to=2026-11&unit=1`);
  const cell = await planner.cell('Carafes', 'Nov');
  const before = await planner.figure('Carafes', 'Nov');
  // The moment is chosen to the minute: the one before the change.
  const moment = new Date(Date.now() - 60_000);
  await planner.type(cell, '500k');
  await expect.poll(() => planner.figure('Carafes', 'Nov')).toBe(500_000);
  await planner.saved();
  await page.getByRole('button', { name: 'More actions' }).click();
  await page.getByRole('menuitem', { name: 'As of an earlier time' }).click();
  const local = new Date(moment.getTime() - moment.getTimezoneOffset() * 60_000);
  await page.getByLabel('Day and time').fill(local.toISOString().slice(0, 16));
  await page.getByRole('button', { name: 'Show', exact: true }).click();
  await expect.poll(() => planner.figure('Carafes', 'Nov')).toBe(before);
  await (await planner.cell('Carafes', 'Nov')).click();
  await page.keyboard.press('5');
  await expect(planner.openField).toHaveCount(0);
  await page.getByRole('button', { name: 'What has changed since' }).click();
  await expect(planner.heading).toContainText('over Budget FY 2027');
  await page.goto(`${origin}/w/1/budget?from=2026-11&to=2026-11&unit=1&grain=day`);
  await expect(planner.firstFigure).toBeVisible();
  expect(await planner.figure('Carafes', '3 Nov')).toBe(Math.round(500_000 / 30));
  await expect(page.getByText('months divided by days')).toBeVisible();
});

test('a line that is not planned yet is added with members that never met', async ({ planner }) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/budget?from=2026-10&to=2027-03&unit=1`);
  await expect(planner.firstFigure).toBeVisible();
  await page.getByRole('button', { name: 'More actions' }).click();
  await page.getByRole('menuitem', { name: 'Add line', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'Add line' });
  await expect(dialog.getByRole('button', { name: 'Add line' })).toBeDisabled();
  for (const [label, member] of [
    ['Channel', 'Web shop'],
    ['Product', 'Floor dispenser'],
    ['Customer group', 'Households'],
    ['Region', 'Lakes'],
  ] as const) {
    await dialog.getByLabel(label, { exact: true }).and(page.locator('input')).fill(member);
    await page.getByRole('option', { name: member, exact: true }).click();
  }
  await dialog.getByLabel('Units').fill('12');
  await dialog.getByLabel('Revenue, €').fill('6000');
  await dialog.getByRole('button', { name: 'Add line' }).click();
  await expect(dialog).toBeHidden();
  // The web shop stands first, and had none of them.
  await expect.poll(() => planner.figure('Office dispensers', 'Oct')).toBe(1000);
});

test('a plan of the regions, made elsewhere, is mapped, looked at, taken in and undone', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/budget?${YEAR}&unit=1`);
  await expect(planner.firstFigure).toBeVisible();
  const before = await planner.figure('Web shop', 'Nov');
  await page.getByRole('button', { name: 'More actions' }).click();
  await page.getByRole('menuitem', { name: 'Import a plan from a file' }).click();
  const dialog = page.getByRole('dialog');
  const lines = [
    ...['Plan of the regions;;;;', 'Shop;Okt 2026;Nov 2026;Dez 2026;Summe'],
    ...['Web shop;410.000,50;520.000;640.000;1.570.000,50', 'Market stall;1;2;3;6'],
    'Company stores;300.000;310.000;400.000;1.010.000',
  ];
  await dialog.locator('input[type=file]').setInputFiles({
    name: 'regions.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(lines.join('\n')),
  });
  await expect(dialog.getByRole('status')).toContainText('no column holds channel, product');
  await dialog.getByRole('combobox', { name: 'Column Shop holds' }).click();
  await page.getByRole('option', { name: 'Channel', exact: true }).click();
  await expect(dialog.getByRole('status')).toContainText('check what the columns hold');
  await dialog.getByLabel('Save this mapping as').check();
  await dialog.getByLabel('Name of the mapping').fill('Plan of the regions');
  await dialog.getByRole('button', { name: 'Check' }).click();
  await expect(dialog).toContainText('"Market stall" is not a code of Channel');
  await expect(dialog.getByRole('row', { name: /Web shop, 2026-11/ })).toContainText('520,000.00');
  await expect(dialog.getByRole('button', { name: 'Import' })).toBeDisabled();
  // A name that nobody knows stands for somebody; another row is left out.
  await planner.choose(dialog.getByLabel('“Company stores” stands for'), 'Home-goods stores');
  await expect(dialog.getByRole('row', { name: /Home-goods stores, 2026-11/ })).toBeVisible();
  await dialog.getByLabel('Leave out the row that cannot be imported').check();
  await dialog.getByRole('button', { name: 'Import 6 numbers' }).click();
  await expect.poll(() => planner.figure('Web shop', 'Nov')).toBe(520_000);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(() => planner.figure('Web shop', 'Nov')).toBe(before);
});

test('sales are put on accounts of the ledger, and what is on none is named', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/budget?${YEAR}`);
  await expect(planner.firstFigure).toBeVisible();
  await (await planner.inMenu('Budget by ledger account')).click();
  const dialog = page.getByRole('dialog', { name: 'Budget by ledger account' });
  await expect(dialog).toContainText('are on no account');
  await dialog.getByRole('button', { name: 'Add an account' }).click();
  await dialog.getByRole('button', { name: 'Save accounts' }).click();
  await expect(dialog).toContainText('name an account');
  await dialog.getByLabel('Account 1', { exact: true }).fill('4000');
  await dialog.getByRole('button', { name: 'Save accounts' }).click();
  await expect(dialog.getByRole('row', { name: /^4000/ })).toContainText('24,531');
  await expect(dialog).not.toContainText('are on no account');
  const saved = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Save as CSV' }).click();
  expect((await saved).suggestedFilename()).toBe('budget-by-account-2026-04-2027-03.csv');
});

test('both sides month by month, measure by measure, and against the target', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/comparison?${YEAR}&rows=channel`);
  await expect(planner.firstFigure).toBeVisible();
  const columns = async (name: string): Promise<void> => {
    await page.getByRole('button', { name: /^Columns: / }).click();
    await page.getByRole('menuitemradio', { name, exact: true }).click();
  };
  await columns('Month by month');
  await expect(await planner.cell('Revenue', 'Apr variance')).toHaveText(/^[+−]?\d/);
  // Nothing is sold in October yet: that is a dash, not 0.
  await expect(await planner.cell('Revenue', 'Oct Actual')).toHaveText('–');
  await planner.explain(await planner.cell('Web shop', 'Apr variance'));
  await expect(page.getByRole('complementary', { name: 'Trace' })).toContainText('April 2026');
  // Last year beside it, in every month as well.
  await page.getByRole('button', { name: /^Beside: / }).click();
  await page.getByRole('menuitemcheckbox', { name: 'Last year', exact: true }).click();
  await page.keyboard.press('Escape');
  await expect(await planner.cell('Web shop', 'Apr Last year')).toHaveText(/\d/);
  await columns('Several measures');
  await expect(await planner.cell('Web shop', 'Units variance')).toHaveText(/\d/);
  await page.getByRole('button', { name: /^Measures: / }).click();
  await page.getByRole('menuitemcheckbox', { name: 'Gross margin, share of revenue' }).click();
  await page.keyboard.press('Escape');
  await expect(page).toHaveURL(/measures=[^&]*marginRate/);
  await columns('One period');
  await page.getByRole('button', { name: /^Version: / }).click();
  await page.getByRole('menuitemradio', { name: 'Target FY 2027' }).click();
  await expect(planner.heading).toContainText('the target of FY 2027');
  await expect(await planner.cell('Web shop', 'Variance')).toHaveText(/\d/);
});

test('who sold more than a year before, by seller and by customer', async ({ planner }) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/comparison?from=2026-04&to=2026-09`);
  await expect(planner.heading).toHaveText(/^Six months in/);
  const total = await page.getByRole('row', { name: /^Revenue/ }).textContent();
  await page.getByRole('button', { name: /^Rows and columns/ }).click();
  await planner.choose(
    page.getByLabel('Rows', { exact: true }).and(page.locator('input')),
    'Seller',
  );
  await page.keyboard.press('Escape');
  await expect(page.getByText('known of sales, not of Budget FY 2027')).toBeVisible();
  await page.getByRole('button', { name: 'Against last year' }).click();
  await expect(page.getByRole('row', { name: /Ivo Tarnow/ })).toBeVisible();
  const sold = await page.getByRole('row', { name: /^Revenue/ }).textContent();
  // The same sales, whoever sold them.
  const first = (text: string | null): string | undefined => /\d+,\d{3}/.exec(text ?? '')?.[0];
  expect(first(sold)).toBe(first(total));
  const by = `${origin}/w/1/comparison?from=2026-04&to=2026-09&against=lastYear`;
  await page.goto(`${by}&rows=seller`);
  await expect(page.getByRole('row', { name: /^No seller/ })).toBeVisible();
  await page.goto(`${by}&rows=customer`);
  await expect(page.getByRole('row', { name: /^OF-CA-001/ })).toBeVisible();
});
