import { expect, test } from './ondwell.ts';

test('read the forecast by any two of channel, product, group, region and time', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Forecast');
  await expect(planner.heading).toHaveText(
    /^Ondwell is heading for 24\.\d million, .* over Budget FY 2027$/,
  );
  const total = await planner.figure('Revenue', 'Total');
  const channels = ['Web shop', 'Home-goods stores', 'Trade partners', 'Office sales team'];

  // Parts add up to the total, within the rounding of what is shown.
  await page.getByRole('button', { name: /^Rows and columns/ }).click();
  await planner.choose(page.getByLabel('Rows within them'), 'None');
  await page.keyboard.press('Escape');
  let sum = 0;
  for (const channel of channels) sum += await planner.figure(channel, 'Total');
  expect(Math.abs(sum - total)).toBeLessThanOrEqual(2);

  // Regions across, groups down: the same total.
  await page.getByRole('button', { name: /^Rows and columns/ }).click();
  await planner.choose(page.getByLabel('Rows', { exact: true }), 'Customer group');
  await planner.choose(page.getByLabel('Columns', { exact: true }), 'Region');
  await page.keyboard.press('Escape');
  await expect.poll(() => planner.figure('Revenue', 'All')).toBe(total);
  expect(await planner.figure('Households', 'North')).toBeGreaterThan(0);

  // Quarters, and another measure; the window and the scope stay what they were.
  await page.getByRole('button', { name: /^Rows and columns/ }).click();
  await planner.choose(page.getByLabel('Columns', { exact: true }), 'Time');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^Weeks, months, quarters or years/ }).click();
  await page.getByRole('menuitemradio', { name: 'Quarters' }).click();
  await expect(await planner.cell('Households', 'Q1 27')).toBeVisible();
  await page.getByRole('button', { name: /^Measure/ }).click();
  await page.getByRole('button', { name: 'Only Average price' }).click();
  await expect(planner.heading).toContainText('a unit');
  await expect(page).toHaveURL(/from=2026-04&to=2027-03/);
});

test('narrow the scope, share the address, and lift it again', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Forecast');
  const whole = await planner.heading.innerText();
  await page.getByRole('button', { name: 'Filter', exact: true }).click();
  await page.getByRole('menuitemcheckbox', { name: 'North' }).click();
  await page.getByRole('menuitemcheckbox', { name: 'Coast' }).click();
  await page.keyboard.press('Escape');
  await expect(planner.heading).toHaveText(/^North and Coast are heading for/);
  const address = page.url();
  const narrowed = await planner.heading.innerText();
  await page.goto(address);
  await expect(planner.heading).toHaveText(narrowed);
  // The scope goes along to other rooms, and Back works.
  await planner.room('Comparison');
  await expect(page.getByRole('button', { name: /^Remove filter Region/ })).toBeVisible();
  await page.goBack();
  await expect(planner.heading).toHaveText(narrowed);
  await page.getByRole('button', { name: /^Remove filter Region/ }).click();
  await expect(planner.heading).toHaveText(whole);
});

test('an empty result names what emptied it and lifts it with one click', async ({ planner }) => {
  const { page } = planner;
  await page.goto(
    `${planner.origin}/w/1/forecast?from=2026-04&to=2027-03&scope=channel:office,product:carafes`,
  );
  await expect(page.getByText('No sales and no forecast here')).toBeVisible();
  await expect(page.getByText('Filter: Office sales team and Carafes.')).toBeVisible();
  await page.getByRole('button', { name: 'Remove filter', exact: true }).click();
  await expect(planner.heading).toHaveText(/^Ondwell is heading for/);
});

test('an edited assumption moves the forecast, and only open months', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Forecast');
  const [september, december] = [
    await planner.figure('Revenue', 'Sep'),
    await planner.figure('Revenue', 'Dec'),
  ];
  await planner.room('Drivers');
  await page.getByRole('tab', { name: 'Discount' }).click();
  const cell = await planner.cell('Home-goods stores', 'Dec 26');
  await planner.type(cell, '60');
  await expect(cell).toHaveText('60.0%');
  await planner.room('Forecast');
  await expect.poll(() => planner.figure('Revenue', 'Dec')).toBeLessThan(december);
  expect(await planner.figure('Revenue', 'Sep')).toBe(september);
});

test('several measures at once, in order, pinned, and kept as a view to be shared', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Forecast');
  await page.getByRole('button', { name: /^Measure/ }).click();
  const measures = page.getByRole('group', { name: 'Measures' });
  for (const name of ['Share of revenue', 'Share of market', 'Units']) {
    await measures.getByLabel(name, { exact: true }).check();
  }
  await planner.choose(measures.getByLabel('Measures in'), 'columns, for the period');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: '1 level of rows' }).click();
  const share = async (row: string): Promise<string> =>
    (await planner.cell(row, 'Share of revenue')).innerText();
  await expect(await planner.cell('All', 'Share of revenue')).toHaveText('100.0%');
  await expect(await planner.cell('Web shop', 'Share of market')).toHaveText('–');
  await expect(await planner.cell('Office sales team', 'Share of market')).toHaveText(/^19\.\d%$/);
  const trade = await share('Trade partners');

  // In order of revenue, and the other way round; what is pinned stays at the top.
  const first = page.getByRole('rowheader').first();
  const sort = page.getByRole('button', { name: /^Sort by Revenue, thousand/ });
  await sort.click();
  await expect(first).toContainText('Web shop');
  await sort.click();
  await expect(first).not.toContainText('Web shop');
  await planner.explain(await planner.cell('Web shop', 'Share of revenue'));
  await page.keyboard.press('p');
  await expect(page).toHaveURL(/pin=/);
  await expect(page.locator('[data-cell^="pin "]').first()).toBeVisible();

  // A share says what it is a share of.
  await expect(planner.trace).toContainText('Share of revenue');
  await page.getByRole('button', { name: 'Close: Trace' }).click();

  await page.getByRole('button', { name: /^Views/ }).click();
  await page.getByLabel('Name of the view').fill('Shares');
  await page.getByRole('button', { name: 'Save view' }).click();
  await expect(page.getByText('Saved the view Shares')).toBeVisible();
  await page.keyboard.press('Escape');
  await planner.room('Standing');
  await planner.room('Forecast');
  await page.getByRole('button', { name: /^Views/ }).click();
  await page.getByRole('button', { name: 'Shares', exact: true }).click();
  await expect(page).toHaveURL(/across=yes/);
  expect(await share('Trade partners')).toBe(trade);
  const address = page.url();
  await page.goto('about:blank');
  await page.goto(address);
  expect(await share('Trade partners')).toBe(trade);
});

test('read the forecast by week, the same in all, and see what a week is made of', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Forecast');
  const total = await planner.figure('Revenue', 'Total');
  await page.getByRole('button', { name: /^Weeks, months, quarters or years/ }).click();
  await page.getByRole('menuitemradio', { name: 'Weeks' }).click();
  await expect(page.getByRole('columnheader', { name: /W15/ })).toBeVisible();
  expect(await planner.figure('Revenue', 'Total')).toBe(total);

  // A week of a closed month is its sales lines.
  const week = await planner.figure('Revenue', 'W20');
  await planner.explain(await planner.cell('Web shop', 'W20'));
  await expect(planner.trace).toContainText('11 to 17 May 2026');
  await expect(planner.trace).toContainText('sales lines');
  await expect(planner.trace.getByRole('row').first()).toBeVisible();
  expect(week).toBeGreaterThan(0);

  // A week of an open month is its part of the days; it is not typed into.
  await page.goto(
    `${planner.origin}/w/1/forecast?grain=week&from=2026-11&to=2026-12&scope=channel:web`,
  );
  await planner.explain(await planner.cell('Revenue', 'W46'));
  await expect(planner.trace).toContainText('9 to 15 November 2026');
  await page.keyboard.press('Space');
  await planner.type(await planner.cell('Revenue', 'W46'), '5');
  await expect(page.getByRole('button', { name: 'No overrides' })).toBeVisible();
});
