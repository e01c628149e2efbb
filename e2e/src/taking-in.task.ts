import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect, test, type Desk } from './ondwell.ts';

const TRY = new URL('../../sample/try/', import.meta.url);
const fileOf = (name: string): string => fileURLToPath(new URL(name, TRY));

async function bring(
  { page }: Desk,
  file: string | { name: string; mimeType: string; buffer: Buffer },
): Promise<void> {
  await page.getByLabel('File to import').setInputFiles(file);
}

/** Revenue of a row of the table in whole euros. */
async function inEuros({ page }: Desk): Promise<void> {
  await page.getByRole('button', { name: /^Unit: / }).click();
  await page.getByRole('menuitemradio', { name: '€', exact: true }).click();
}

test('a messy workbook becomes clean totals, and what was repaired is remembered', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Actuals');
  await inEuros(planner);
  const before = await planner.figure('Web shop', 'Oct to date');

  await bring(planner, fileOf('messy-export.xlsx'));
  // The first sheet is a cover; the one with data is chosen, and read without a question.
  await expect(planner.heading).toHaveText('6 of 12 rows can be imported, 6 are excluded');
  await page.getByRole('button', { name: 'Change mapping' }).click();
  await expect(page.getByRole('button', { name: 'Sheet: Export' })).toBeVisible();
  await expect(page.getByText('header in row 4')).toBeVisible();
  await expect(page.getByLabel('Column Qty holds')).toHaveValue('Quantity');
  await expect(page.getByLabel('Column Plant holds')).toHaveValue('Do not import');
  await page.getByLabel('Save this mapping as').check();
  await page.getByLabel('Name of the mapping').fill('Old order system');
  await page.getByRole('button', { name: 'Check rows' }).click();

  await expect(planner.heading).toHaveText('6 of 12 rows can be imported, 6 are excluded');
  const faulty = page.getByRole('region', { name: 'Rows to check' });
  for (const reason of [
    'The row is a total of other rows',
    '"WB" is not a code of Channel',
    'ended with the error #DIV/0!',
    '"31.09.2026" is not a day',
  ]) {
    await expect(faulty).toContainText(reason);
  }
  await page.getByRole('button', { name: 'Reverse the sign of net amount' }).click();
  await expect(page.getByText('The sign of net amount is reversed.')).toBeVisible();
  await planner.choose(page.getByLabel('Member for WB'), 'Web shop');
  await page.getByRole('button', { name: 'Use for 2 rows' }).click();
  await expect(planner.heading).toHaveText('8 of 12 rows can be imported, 4 are excluded');
  await page.getByLabel('date for 31.09.2026').fill('2026-10-09');
  await faulty
    .getByRole('row', { name: /31\.09\.2026/ })
    .getByRole('button')
    .click();
  await expect(planner.heading).toHaveText('9 of 12 rows can be imported, 3 are excluded');

  const saving = page.waitForEvent('download');
  await (await planner.inMenu('Export the 3 excluded')).click();
  const saved = readFileSync(await (await saving).path(), 'utf8');
  expect(saved).toContain('The row is a total of other rows');
  expect(saved).toContain('Subtotal web shop');

  await page.getByRole('button', { name: 'Import 9 rows' }).click();
  await expect(page.getByText('9 rows of messy-export.xlsx are imported')).toBeVisible();
  // 426.72 + 284.48 + 819.60 + 106.68 + 204.90 + 35.56 + 71.12 in the web shop.
  await expect.poll(() => planner.figure('Web shop', 'Oct to date')).toBe(before + 1949);

  // The next file bears the same code: it is known by now.
  const header =
    'date,channel,product,customer group,region,quantity,net amount,cost,document,line number';
  const row = '2026-10-10,WB,carafe-brook,households,north,1,35.56,12,NEXT-1,1';
  await bring(planner, {
    name: 'next.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`${header}\n${row}\n`),
  });
  await expect(planner.heading).toHaveText('All 1 rows can be imported');
  await expect(page.getByText('1 values were corrected as in earlier files')).toBeVisible();
  await page.getByRole('button', { name: 'Discard file' }).click();

  // The same file once more is known by its mapping, and noticed.
  await expect(planner.firstFigure).toBeVisible();
  await bring(planner, fileOf('messy-export.xlsx'));
  await expect(page.getByText('This same file was imported before')).toBeVisible();
  await page.getByRole('button', { name: 'Discard file' }).click();

  // Taken back, the totals are what they were.
  await page.getByRole('button', { name: /files$/ }).click();
  await page.getByRole('button', { name: 'Undo import of messy-export.xlsx', exact: true }).click();
  await expect(page.getByText('no longer count')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect.poll(() => planner.figure('Web shop', 'Oct to date')).toBe(before);
});

test('a table with months across, and a code that is made a member', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Actuals');
  await bring(planner, fileOf('units-by-month.csv'));
  await expect(page.getByRole('button', { name: 'Layout: months in columns' })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Months hold: .*Quantity/ })).toBeVisible();
  await page.getByLabel('Empty cells repeat the one above').check();
  await expect(page.getByLabel('Empty cells repeat the one above')).toBeEnabled();
  await page.getByRole('button', { name: 'Check rows' }).click();
  await expect(planner.heading).toHaveText('8 of 11 rows can be imported, 3 are excluded');
  const adds = page.getByRole('region', { name: 'Change by month' });
  await expect(adds.getByRole('row', { name: /^April 2026/ })).toContainText('2,830');
  await expect(adds.getByRole('row', { name: /^All months/ })).toContainText('8,102');
  await page.getByRole('button', { name: 'Discard file' }).click();

  const header =
    'date,channel,product,customer group,region,quantity,net amount,cost,document,line number';
  const row = '2026-10-10,web,carafe-fjord,households,north,3,90.00,30.00,FJ-1,1';
  await bring(planner, {
    name: 'fjord.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`${header}\n${row}\n`),
  });
  await expect(planner.heading).toHaveText('None of the 1 rows can be imported');
  await page.getByRole('button', { name: 'or add it as a member' }).click();
  await expect(planner.heading).toHaveText('All 1 rows can be imported');
  await page.getByRole('button', { name: 'Import 1 row' }).click();
  await expect(page.getByText('1 rows of fjord.csv are imported.')).toBeVisible();

  await page.getByRole('link', { name: 'Settings' }).click();
  await page.getByRole('link', { name: 'Dimensions' }).click();
  await page.getByRole('button', { name: 'Product', exact: true }).click();
  await page.getByRole('button', { name: 'carafe-fjord' }).click();
  const panel = page.getByRole('complementary', { name: 'Member carafe-fjord' });
  await panel.getByLabel('Name').fill('Fjord carafe');
  await planner.choose(panel.getByLabel('Parent'), 'Carafes');
  await panel.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Fjord carafe is changed.')).toBeVisible();
  await planner.choose(page.getByLabel('Merge into'), 'Dew carafe');
  await expect(
    page.getByText(/1 sales lines, 1 combinations would move to Dew carafe/),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Merge Fjord carafe into Dew carafe' }).click();
  await expect(
    page.getByText('Fjord carafe is merged into Dew carafe; 1 sales lines moved.'),
  ).toBeVisible();
});

test('a customer of no group is assigned where the file says so', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Actuals');
  // No column names the group: it follows from who bought.
  const header = 'date,channel,product,region,customer,quantity,net amount,cost,document';
  const row = (customer: string, number: number): string =>
    `2026-10-10,web,carafe-brook,north,${customer},1,35.56,12,AS-${number}`;
  await bring(planner, {
    name: 'by-customer.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from([header, row('K-new', 1), row('K-new', 2), ''].join('\n')),
  });
  await expect(planner.heading).toHaveText(/choose the column for customer group$/);
  await planner.choose(page.getByLabel('Customer group'), 'As the customer is assigned');
  await expect(planner.heading).toHaveText('by-customer.csv can be imported');
  await page.getByRole('button', { name: 'Check rows' }).click();
  await expect(planner.heading).toHaveText('None of the 2 rows can be imported');
  const rows = page.getByRole('region', { name: 'Rows to check' });
  await expect(rows).toContainText('K-new');
  await planner.choose(rows.getByLabel('Member for K-new'), 'Households');
  await rows.getByRole('button', { name: 'Assign K-new' }).click();
  await expect(planner.heading).toHaveText('All 2 rows can be imported');
  await page.getByRole('button', { name: 'Import 2 rows' }).click();
  await expect(page.getByText('2 rows of by-customer.csv are imported')).toBeVisible();
});

test('sum sales by week beside the year before, down to a line, with a sale that is not in the books', async ({
  planner,
}) => {
  const { page } = planner;
  await page.goto(
    `${planner.origin}/w/1/actuals?from=2026-09&to=2026-10&view=summary&rows=channel`,
  );
  const table = page.getByRole('grid', { name: 'Summary of sales' });
  await expect(table.getByRole('row', { name: /^Web shop/ })).toBeVisible();
  await page.getByRole('button', { name: 'Measures and comparison' }).click();
  const measures = page.getByRole('group', { name: 'Measures and comparison' });
  await measures.getByLabel('Units', { exact: true }).check();
  await measures.getByLabel('Compare with last year').check();
  await page.keyboard.press('Escape');
  await expect(page.getByText('compared with 1 September 2025 to 12 October 2025')).toBeVisible();
  await page.getByRole('button', { name: /^Columns/ }).click();
  await page.getByRole('menuitemradio', { name: 'ISO weeks' }).click();
  await expect(await planner.cell('Web shop', '2026-W40, Units')).toBeVisible();

  await (await planner.inMenu('Add a sale by hand')).click();
  const form = page.getByRole('dialog', { name: 'Add a sale by hand' });
  await form.getByLabel('Date').fill('2026-10-03');
  await planner.choose(form.getByLabel('Channel'), 'Web shop');
  await planner.choose(form.getByLabel('Product'), 'Brook carafe');
  await planner.choose(form.getByLabel('Customer group'), 'Households');
  await planner.choose(form.getByLabel('Region'), 'North');
  await form.getByLabel('Quantity').fill('4');
  await form.getByLabel('Net amount').fill('9,876.50');
  await form.getByLabel('Reason why it is not in the books').fill('sold at the fair');
  await form.getByRole('button', { name: 'Add sale' }).click();
  await expect(form).toBeHidden();

  await page.getByRole('button', { name: /^Which sales/ }).click();
  await page.getByRole('menuitemradio', { name: 'Only sales entered by hand' }).click();
  const web = table.getByRole('row', { name: /^Web shop/ });
  await expect(web).toBeVisible();
  await expect(table.getByRole('row', { name: /^Home-goods stores/ })).toBeHidden();
  await web.getByRole('gridcell').first().click();
  await page.keyboard.press('Space');
  const lines = page.getByRole('complementary', { name: /^Sales lines/ });
  await expect(lines).toContainText('9,876.50');
  await expect(lines).toContainText('Entered by hand: sold at the fair');
  await lines.getByRole('button', { name: 'Delete', exact: true }).click();
  await expect(page.getByText('No sales lines match')).toBeVisible();
});

test('a dimension of one’s own is told apart by a rule, in history too', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Forecast');
  const total = await planner.figure('Revenue', 'Total');
  await page.getByRole('link', { name: 'Settings' }).click();
  await page.getByRole('link', { name: 'Dimensions' }).click();
  await page.getByRole('button', { name: 'Add dimension' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name', { exact: true }).fill('Brand');
  await dialog.getByLabel(/[Mm]ember/).fill('Own brand');
  await dialog.getByRole('button', { name: 'Add dimension' }).click();
  await expect(dialog).toBeHidden();
  const adding = page.getByRole('form', { name: 'Add member' });
  await adding.getByLabel('New member').fill('Partner brand');
  await adding.getByRole('button', { name: 'Add member' }).click();
  await expect(page.getByText('Partner brand is added.')).toBeVisible();

  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Assign Brand by rule' }).click();
  await planner.choose(dialog.getByLabel('Partner brand'), 'Carafes');
  await page.keyboard.press('Escape');
  await expect(dialog.getByRole('table', { name: 'What moves' })).toContainText('Partner brand');
  await expect(dialog).toContainText(/\d+ forecast lines go with their products/);
  await dialog.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByText(/Brand: [\d,]+ sales lines moved/)).toBeVisible();
  await page.goto(`${planner.origin}/w/1/forecast?rows=brand`);
  expect(await planner.figure('Partner brand', 'Total')).toBeGreaterThan(0);
  expect(await planner.figure('Revenue', 'Total')).toBe(total);
});
