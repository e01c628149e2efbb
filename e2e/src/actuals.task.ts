import { expect, FAULTY_FILE, test } from './ondwell.ts';

test('take in a file of sales lines of which some are faulty, and see the totals follow', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Actuals');
  await expect(planner.heading).toHaveText(
    /Ondwell sold 13\.3 million from April to September 2026, .* more than a year before/,
  );
  await page.getByRole('button', { name: /^Unit: / }).click();
  await page.getByRole('menuitemradio', { name: '€', exact: true }).click();
  const before = await planner.figure('Web shop', 'Oct to date');

  await page.getByLabel('File to import').setInputFiles(FAULTY_FILE);
  await expect(planner.heading).toHaveText('9 of 17 rows can be imported, 8 are excluded');
  const faulty = page.getByRole('region', { name: 'Rows to check' });
  for (const reason of [
    '"carafe-brok" is not a code of Product',
    '"2026-09-31" is not a day',
    'quantity is missing',
    'Line 1 of W202610-9001 stands in row',
    'after the last month',
  ]) {
    await expect(faulty).toContainText(reason.replace('Line 1', 'Line 2'));
  }
  await page.getByRole('button', { name: 'Import 9 rows' }).click();
  await expect(
    page.getByText('9 rows of sales-with-faults.csv are imported; 8 rows were excluded.'),
  ).toBeVisible();
  // 497.84 + 634.95 + 599.27 in the web shop.
  await expect.poll(() => planner.figure('Web shop', 'Oct to date')).toBe(before + 1732);

  await page
    .getByLabel('File to import')
    .setInputFiles({ name: 'empty.csv', mimeType: 'text/csv', buffer: Buffer.from('') });
  await expect(page.getByRole('alert')).toContainText('The file is empty');
  await page.getByLabel('File to import').setInputFiles({
    name: 'odd.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      'date,channel,product,customer group,region,net amount,cost,document,line number,customer,seller\n',
    ),
  });
  // A column is missing: it is asked for, and the file can be left.
  await expect(planner.heading).toHaveText('odd.csv can be imported');
  await page.getByRole('button', { name: 'Check rows' }).click();
  await expect(page.getByRole('alert')).toContainText('no rows');
  await page.getByRole('button', { name: 'Cancel' }).click();
});

test('decide later about a file, and put it away', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Actuals');
  const row = '2026-10-02,web,tap-one,households,lakes,1,67.62,34.44,LATER-1,1,,';
  const header =
    'date,channel,product,customer group,region,quantity,net amount,cost,document,line number,customer,seller';
  const buffer = Buffer.from(`${header}\n${row}\n`);
  await page
    .getByLabel('File to import')
    .setInputFiles({ name: 'later.csv', mimeType: 'text/csv', buffer });
  await expect(planner.heading).toHaveText('All 1 rows can be imported');
  await page.getByRole('button', { name: 'Decide later' }).click();
  await expect(page.getByText('1 file to import')).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: 'Open', exact: true }).click();
  await page.getByRole('button', { name: 'Discard file' }).click();
  await expect(page.getByText('1 file to import')).toBeHidden();
});

test('what was measured besides sales is a table like any other, and says how it adds up', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/actuals?view=facts&from=2026-07&to=2026-09`);
  const measure = page.getByRole('rowheader').filter({ hasText: 'New yearly subscribers' });
  await expect(measure).toContainText('as of the last month');
  /** Of the first row of the measure: its months, and what they come to. */
  const figures = async (): Promise<{ months: number[]; period: number }> => {
    const cells = page.locator('[data-cell^="New yearly subscribers "]');
    const all = await cells.evaluateAll((found) =>
      found.map((cell) => [cell.getAttribute('data-cell') ?? '', cell.textContent ?? ''] as const),
    );
    const own = all.filter(([, text]) => text !== '').slice(0, 4);
    const [period = 0, ...months] = own.map(([, text]) => Number(text));
    return { months, period };
  };
  const before = await figures();
  expect(before.months.length).toBe(3);
  expect(before.period).toBe(before.months.at(-1));

  await (await planner.inMenu('How measures add up')).click();
  const dialog = page.getByRole('dialog', { name: 'How measures add up' });
  await planner.choose(page.getByLabel('How New yearly subscribers adds up'), 'added up');
  await dialog.getByRole('button', { name: 'Close' }).click();
  await expect(dialog).toBeHidden();
  await expect(measure).toContainText('added up');
  const after = await figures();
  expect(after.period).toBe(before.months.reduce((sum, value) => sum + value, 0));

  const download = page.waitForEvent('download');
  await (await planner.inMenu('Save as CSV')).click();
  expect((await download).suggestedFilename()).toBe('Measured facts.csv');
});
