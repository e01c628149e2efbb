import { expect, test } from './ondwell.ts';

const HEADER =
  'date,channel,product,customer group,region,quantity,net amount,cost,document,line number';
/** The rest of October in the web shop, and the first day of November. */
const REST = [
  '2026-10-30,web,carafe-brook,households,north,2000,70000.00,30000.00,OCT-1,1',
  '2026-11-02,web,carafe-brook,households,north,40,1400.00,600.00,NOV-1,1',
];

test('a month ends: its sales come in, it is closed, the next one begins, and it is opened again', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Closing');
  await expect(planner.heading).toHaveText(
    'October is not over; the forecast stands until it is closed',
  );
  const needs = page.getByRole('list', { name: 'Before the month is closed' });
  await needs.getByRole('link', { name: 'Import sales: October is not over' }).click();

  // The file reaches beyond the as-of date: that is said before, and moves it.
  await page.getByLabel('File to import').setInputFiles({
    name: 'rest-of-october.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`${[HEADER, ...REST].join('\n')}\n`),
  });
  await expect(planner.heading).toHaveText('All 2 rows can be imported');
  await expect(page.getByText('The as-of date moves to 2 November 2026')).toBeVisible();
  await page.getByRole('button', { name: 'Import 2 rows' }).click();
  await expect(page.getByText('2 rows of rest-of-october.csv are imported')).toBeVisible();
  await expect(page.locator('footer')).toContainText('as of 2 November 2026');

  const forecast = await (async () => {
    await page.goto(`${planner.origin}/w/1/forecast?from=2026-10&to=2027-03&unit=1&rows=channel`);
    return planner.figure('Web shop', 'Oct');
  })();
  await planner.room('Closing');
  await expect(planner.heading).toContainText('under its forecast');
  await expect(needs).toContainText('Sales of October are in');
  await expect(needs).toContainText('rest-of-october.csv');
  await expect(needs).toContainText('unusual change');
  expect(await planner.figure('Web shop', 'Forecast')).toBe(forecast);

  // Once a month, at each close, the horizon shall grow by a month.
  const panel = page.getByRole('complementary', { name: 'Close the month' });
  await panel.getByRole('button', { name: 'Change rules' }).click();
  const dialog = page.getByRole('dialog');
  await planner.choose(dialog.getByLabel('Months are closed'), 'On a working day');
  await dialog.getByLabel('Holidays, one on each line').fill('2026-11-02\nsoon');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.locator('.failure')).toContainText('Line 2, "soon", is not a day');
  await dialog.getByLabel('Holidays, one on each line').fill('2026-11-02\n2026-11-03');
  await planner.choose(dialog.getByLabel('The horizon'), 'Grows by 1 month');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toBeHidden();
  await expect(panel).toContainText('on working day 3 after the month, 6 November 2026');
  await expect(panel).toContainText('Grows by one month, to April 2029');

  await panel.getByRole('button', { name: 'Close October' }).click();
  await expect(page.getByText('October 2026 is closed')).toBeVisible();
  await expect(planner.heading).toHaveText(/^November is not over/);
  await expect(panel.getByRole('listitem').first()).toContainText('October 2026');
  await expect(page.locator('footer')).toContainText('Closed through October 2026');
  // Every room has its sales in place of its forecast, and one month more to plan.
  await page.goto(`${planner.origin}/w/1/forecast?from=2026-10&to=2027-03&unit=1&rows=channel`);
  expect(await planner.figure('Web shop', 'Oct')).not.toBe(forecast);

  // What it was can stand below it, or in its place.
  const shows = async (what: string): Promise<void> => {
    await planner.room('Closing');
    await panel.getByRole('button', { name: 'Change rules' }).click();
    await planner.choose(dialog.getByLabel('Forecast shows, in closed months'), what);
    await dialog.getByRole('button', { name: 'Save' }).click();
    await expect(dialog).toBeHidden();
    await page.goto(`${planner.origin}/w/1/forecast?from=2026-10&to=2027-03&unit=1&rows=channel`);
  };
  const sold = await planner.figure('Revenue', 'Oct');
  await shows('Actuals, and the forecast at close in a row below');
  await expect(await planner.cell('Forecast at close', 'Oct')).toBeVisible();
  const atClose = await planner.figure('Forecast at close', 'Oct');
  expect(await planner.figure('Revenue', 'Oct')).toBe(sold);
  expect(atClose).not.toBe(sold);
  await shows('Forecast at close only');
  await expect(page.getByText('closed months as forecast at their close')).toBeVisible();
  expect(await planner.figure('Web shop', 'Oct')).toBe(forecast);
  expect(await planner.figure('Revenue', 'Oct')).toBe(atClose);
  await planner.explain(await planner.cell('Revenue', 'Oct'));
  await expect(planner.trace).toContainText('forecast at the close of each month');
  await shows('Actuals only');
  expect(await planner.figure('Revenue', 'Oct')).toBe(sold);
  await planner.room('Closing');

  // A month that is not over is asked about, and stays open when it is not meant.
  await panel.getByRole('button', { name: 'Close November' }).click();
  await expect(dialog).toContainText('November 2026 is not over');
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await expect(planner.heading).toHaveText(/^November is not over/);

  // What was forecast answers for itself.
  await page.getByRole('tab', { name: 'Accuracy' }).click();
  await expect(planner.heading).toHaveText(
    /^Forecasts of Ondwell were [\d.]+% off one month ahead/,
  );
  const first = await planner.cell('Web shop', '1 month ahead');
  await planner.explain(first);
  await expect(planner.trace).toContainText('Differences, without signs');
  await expect(planner.trace).toContainText('Actual, without signs');
  await page.getByRole('tab', { name: 'Next close' }).click();

  await panel.getByRole('button', { name: 'Reopen' }).click();
  await dialog.getByRole('button', { name: 'Reopen' }).click();
  await expect(dialog).toContainText('say why the month is opened again');
  await dialog.getByLabel('Reason').fill('the stores’ file comes tomorrow');
  await dialog.getByRole('button', { name: 'Reopen' }).click();
  await expect(dialog).toBeHidden();
  await expect(planner.heading).toContainText('October is');
  await page.goto(`${planner.origin}/w/1/forecast?from=2026-10&to=2027-03&unit=1&rows=channel`);
  expect(await planner.figure('Web shop', 'Oct')).toBe(forecast);

  // The horizon is changed under Settings; what would be out of sight is said before.
  await page.getByRole('link', { name: 'Settings' }).click();
  await page.getByRole('button', { name: 'Change dates' }).click();
  await dialog.getByLabel('Last month of the horizon').fill('2027-06');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByText(/^Months of \d+ inputs .* out of sight/)).toBeVisible();
  // Another month is another question.
  await dialog.getByLabel('Last month of the horizon').fill('2027-09');
  await dialog.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(dialog.getByText(/after September 2027.*out of sight/)).toBeVisible();
  await dialog.getByRole('button', { name: 'Save anyway' }).click();
  await expect(dialog).toBeHidden();
  await expect(page.getByText('The horizon ends in September 2027')).toBeVisible();
});
