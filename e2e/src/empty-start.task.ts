import { fileURLToPath } from 'node:url';
import type { Page } from '@playwright/test';
import ExcelJS from 'exceljs';
import { Desk, expect, test } from './ondwell.ts';

const FIRST_FILE = fileURLToPath(new URL('../../sample/data/sales/fy2026.csv', import.meta.url));

/** `2026-01-31` of `2026-01`. */
function lastDayOf(month: string): string {
  const [year = 0, number = 1] = month.split('-').map(Number);
  return new Date(Date.UTC(year, number, 0)).toISOString().slice(0, 10);
}
/** `January 2026` of `2026-01`. */
function inWords(month: string): string {
  const first = new Date(`${month}-01T00:00:00Z`);
  return first.toLocaleDateString('en-GB', { month: 'long', year: 'numeric', timeZone: 'UTC' });
}

async function signedIn(page: Page, origin: string): Promise<Desk> {
  await page.goto(origin);
  await page.getByLabel('E-mail address').fill('planner@ondwell.example');
  await page.getByLabel('Password').fill('plan the year');
  await page.getByRole('button', { name: 'Sign in' }).click();
  return new Desk(page, origin);
}
const file = (name: string, text: string | Buffer) => ({
  name,
  mimeType: 'application/octet-stream',
  buffer: Buffer.from(text),
});

/** Takes what was created as far as its first forecast. */
async function toForecast(page: Page, company: string): Promise<void> {
  await page.getByLabel('Company name').fill(company);
  await page.getByRole('button', { name: 'Create workspace' }).click();
  await page.getByRole('button', { name: /^Import \d+ sales lines/ }).click();
  await page.getByRole('button', { name: 'Create forecast' }).click();
  await expect(page).toHaveURL(/\/w\/1\/forecast/);
  await page.getByRole('button', { name: 'Skip' }).click();
}

/** Brings the sales of three further months in, each closed when they are there. */
async function throughMonths(
  desk: Desk,
  months: readonly string[],
  bring: (month: string) => { name: string; mimeType: string; buffer: Buffer },
): Promise<void> {
  const { page } = desk;
  for (const month of months) {
    await desk.room('Actuals');
    const sent = bring(month);
    await page.getByLabel('File to import').setInputFiles(sent);
    // Read as the first one was, without a question.
    await expect(page.getByText('The as-of date moves to')).toBeVisible();
    await page.getByRole('button', { name: /^Import \d+ rows/ }).click();
    await expect(page.getByText(`rows of ${sent.name} are imported`)).toBeVisible();
    await desk.room('Closing');
    await page.getByRole('button', { name: /^Close / }).click();
    const words = inWords(month);
    await expect(page.getByText(`${words} is closed`)).toBeVisible();
    await expect(page.locator('footer')).toContainText(`Closed through ${words}`);
  }
  await page.getByRole('tab', { name: 'Accuracy' }).click();
  await expect(desk.heading).toHaveText(/^Forecasts of .* were [\d.]+% off one month ahead/);
}

test('from nothing to the first forecast', async ({ page, emptyOrigin }) => {
  await signedIn(page, emptyOrigin);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Import your sales');

  // What a file does not say is asked for, and nothing is refused.
  await page.getByLabel('First file of sales lines').setInputFiles({
    name: 'list.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('date,channel\n2026-01-01,web\n'),
  });
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(
    'list.csv: choose the column for quantity or net amount',
  );
  await expect(page.getByRole('button', { name: 'Continue' })).toBeDisabled();
  await page.getByRole('button', { name: 'Choose another file' }).click();

  await page.getByLabel('First file of sales lines').setInputFiles(FIRST_FILE);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(
    'fy2026.csv: check what the columns hold',
  );
  await page.getByRole('button', { name: 'Continue' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('with 4 dimensions');
  await page.getByLabel('Company name').fill('Ondwell once more');
  await new Desk(page, emptyOrigin).choose(page.getByLabel('Fiscal year starts in'), 'April');
  await page.getByRole('button', { name: 'Create workspace' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('rows can be imported');
  await page.getByRole('button', { name: /^Import/ }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(
    'Your sales are imported. Create the first forecast',
  );
  await page.getByRole('button', { name: 'Create forecast' }).click();
  await expect(page).toHaveURL(/\/w\/1\/forecast/);
  // The first visit begins with a short tour.
  const tour = page.getByRole('dialog');
  await expect(tour).toContainText('Welcome to Dravex');
  for (let step = 0; step < 4; step += 1) await tour.getByRole('button', { name: 'Next' }).click();
  await tour.getByRole('button', { name: 'Start' }).click();
  await expect(tour).toBeHidden();
  await page.getByRole('button', { name: 'Next 12', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(
    /^Ondwell once more is forecast to sell [\d.]+ million/,
  );
  await page.reload();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/is forecast to sell/);
});

/** A till export of a bakery: its own headings, German numbers, a total at the end of each month. */
function tillExport(months: readonly string[]): string {
  const shops = ['Hafen', 'hafen ', 'Markt', 'Walk-in'];
  const rows = months.flatMap((month) => [
    ...Array.from({ length: Number(lastDayOf(month).slice(8)) }, (_, index) => {
      const day = String(index + 1).padStart(2, '0');
      const [year, number] = month.split('-');
      const pieces = 20 + ((index * 7) % 13);
      return `${day}.${number}.${year};${shops[index % 4]};${index % 2 ? 'Roggen' : 'Semmel'};${pieces};${(pieces * 1.2).toFixed(2).replace('.', ',')};bar`;
    }),
    ';Summe;;;1.234,50;',
  ]);
  return ['Bäckerei, Kassenbericht;;;;;', 'Tag;Filiale;Ware;Stk;Takings;Bezahlt', ...rows, ''].join(
    '\n',
  );
}
const monthsFrom = (year: number, month: number, count: number): string[] =>
  Array.from({ length: count }, (_, index) => {
    const at = year * 12 + month - 1 + index;
    return `${Math.floor(at / 12)}-${String((at % 12) + 1).padStart(2, '0')}`;
  });

test('a bakery’s till export becomes a forecast, and lives through three months', async ({
  page,
  emptyOrigin,
}) => {
  const desk = await signedIn(page, emptyOrigin);
  const heading = page.getByRole('heading', { level: 1 });
  await page
    .getByLabel('First file of sales lines')
    .setInputFiles(file('kasse.csv', tillExport(monthsFrom(2024, 1, 24))));
  await expect(heading).toHaveText('kasse.csv: check what the columns hold');
  await expect(page.getByLabel('Column Tag holds')).toHaveValue('Date');
  await expect(page.getByLabel('Column Filiale holds')).toHaveValue('Filiale');
  await expect(page.getByLabel('Column Stk holds')).toHaveValue('Quantity');
  await expect(page.getByLabel('Column Takings holds')).toHaveValue('Net amount');
  // How it was paid is nothing to plan by.
  await desk.choose(page.getByLabel('Column Bezahlt holds'), 'Do not import');
  await expect(page.getByLabel('Column Bezahlt holds')).toHaveValue('Do not import');
  // Something to plan by that the till does not know, because it is the same for all it sells.
  await page.getByRole('button', { name: 'Add a dimension that no column holds' }).click();
  await page.getByLabel('Dimension', { exact: true }).fill('Sold through');
  await page.getByLabel('Value for all rows', { exact: true }).fill('Own shops');
  await page.keyboard.press('Enter');
  await expect(page.getByText('All rows have Sold through: Own shops')).toBeVisible();
  await page.getByRole('button', { name: 'Continue' }).click();
  await expect(heading).toHaveText('731 sales lines with 3 dimensions');
  await expect(page.getByRole('row', { name: /^Sold through/ })).toContainText('1Own shops');
  await expect(page.getByText('Left out: 24 rows are totals.')).toBeVisible();
  await expect(page.getByRole('row', { name: /^Filiale/ })).toContainText('3Hafen, Markt, Walk-in');
  await page.getByLabel('Company name').fill('Bäckerei Korn');
  await desk.choose(page.getByLabel('Plan ahead'), '2 years');
  await page.getByRole('button', { name: 'Create workspace' }).click();
  await expect(heading).toHaveText('731 of 755 rows can be imported, 24 are excluded');
  await page.getByRole('button', { name: /^Import/ }).click();
  await page.getByRole('button', { name: 'Create forecast' }).click();
  await expect(page).toHaveURL(/\/w\/1\/forecast/);
  await page.getByRole('button', { name: 'Skip' }).click();
  await throughMonths(desk, monthsFrom(2026, 1, 3), (month) =>
    file(`kasse-${month}.csv`, tillExport([month])),
  );
});

/** A wholesaler's workbook: a cover, then articles down and months across. */
async function wideWorkbook(months: readonly string[]): Promise<Buffer> {
  const book = new ExcelJS.Workbook();
  const cover = book.addWorksheet('Cover');
  cover.addRow(['Great Northern Wholesale']);
  cover.addRow(['Prepared for the planning round']);
  const sheet = book.addWorksheet('Turnover');
  sheet.addRow(['Turnover by article, net']);
  sheet.addRow(['Depot', 'Article', ...months]);
  for (const [d, depot] of ['East', 'West'].entries()) {
    for (const [a, article] of ['Screws', 'Nails', 'Glue'].entries()) {
      sheet.addRow([
        a === 0 ? depot : '',
        article,
        ...months.map((_, m) => 1000 * (d + 1) + 100 * a + 25.5 * (m % 12)),
      ]);
    }
    sheet.addRow(['', 'Total', ...months.map(() => 99_999)]);
  }
  return Buffer.from(await book.xlsx.writeBuffer());
}

test('a wholesaler’s wide workbook becomes a forecast, and lives through three months', async ({
  page,
  emptyOrigin,
}) => {
  const desk = await signedIn(page, emptyOrigin);
  const first = await wideWorkbook(monthsFrom(2024, 1, 24));
  await page.getByLabel('First file of sales lines').setInputFiles(file('turnover.xlsx', first));
  // The cover is passed over, and the months are seen.
  await expect(desk.heading).toHaveText('turnover.xlsx: check what the columns hold');
  await expect(page.getByRole('button', { name: 'Sheet: Turnover' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Months hold: Net amount' })).toBeVisible();
  await page.getByLabel('Empty cells repeat the one above').check();
  await expect(page.getByLabel('Column Depot holds')).toHaveValue('Depot');
  await page.getByRole('button', { name: 'Continue' }).click();
  await expect(page.getByText('Left out: 2 rows are totals.')).toBeVisible();
  await expect(page.getByRole('row', { name: /^Depot/ })).toContainText('2East, West');
  await toForecast(page, 'Great Northern');
  const further = new Map<string, Buffer>();
  for (const month of monthsFrom(2026, 1, 3)) {
    // Three months across are what is known as a wide table: those before are in it once more.
    further.set(month, await wideWorkbook([month]));
  }
  await throughMonths(desk, [...further.keys()], (month) =>
    file(`turnover-${month}.xlsx`, further.get(month) ?? Buffer.from('')),
  );
});

/** A ledger: postings by account, credit is revenue, and a total below. */
function ledger(months: readonly string[]): string {
  const rows = months.flatMap((month) => [
    `${lastDayOf(month)};8400;Sales of goods;-12000,00`,
    `${lastDayOf(month)};8401;Services;-${3000 + Number(month.slice(5)) * 100},00`,
    `;;Total;-15000,00`,
  ]);
  return ['Posted on;Acct;Wording;Movement', ...rows, ''].join('\n');
}

test('a ledger becomes a forecast, and lives through three months', async ({
  page,
  emptyOrigin,
}) => {
  const desk = await signedIn(page, emptyOrigin);
  await page
    .getByLabel('First file of sales lines')
    .setInputFiles(file('ledger.csv', ledger(monthsFrom(2024, 1, 24))));
  await expect(desk.heading).toHaveText('ledger.csv: check what the columns hold');
  await expect(page.getByLabel('Column Movement holds')).toHaveValue('Net amount');
  await desk.choose(page.getByLabel('Column Acct holds'), 'Do not import');
  await expect(page.getByLabel('Column Acct holds')).toHaveValue('Do not import');
  // Credit stands with a minus: it is turned once, for this file and those to come.
  await page.getByRole('button', { name: 'Reverse the sign of net amount' }).click();
  await page.getByRole('button', { name: 'Continue' }).click();
  await expect(page.getByRole('row', { name: /^Wording/ })).toContainText(
    '2Sales of goods, Services',
  );
  await expect(page.getByRole('row', { name: /^January 2024/ })).toContainText('15,100');
  await toForecast(page, 'Ledger and Sons');
  await throughMonths(desk, monthsFrom(2026, 1, 3), (month) =>
    file(`ledger-${month}.csv`, ledger([month])),
  );
});

test('a company without sales is planned from what is written down', async ({
  page,
  emptyOrigin,
}) => {
  const desk = await signedIn(page, emptyOrigin);
  await page.getByRole('button', { name: 'Start without a file' }).click();
  const first = page.getByRole('group', { name: 'Dimension 1' });
  await first.getByLabel('Members').fill('Rye bread, Rolls, Rolls');
  await page.getByRole('group', { name: 'Dimension 2' }).getByLabel('Members').fill('Shop');
  await page.getByRole('button', { name: 'Continue' }).click();
  await expect(desk.heading).toHaveText('A plan by 2 dimensions');
  await page.getByLabel('Company name').fill('New bakery');
  await page.getByRole('button', { name: 'Create workspace' }).click();
  await expect(page).toHaveURL(/\/w\/1\/forecast/);
  await page.getByRole('button', { name: 'Skip' }).click();
  await page.getByRole('button', { name: 'Add forecast lines', exact: true }).first().click();
  const dialog = page.getByRole('dialog');
  await desk.choose(dialog.getByLabel('Product'), 'Rolls');
  await page.keyboard.press('Escape');
  await desk.choose(dialog.getByLabel('Channel'), 'Shop');
  await page.keyboard.press('Escape');
  await dialog.getByRole('button', { name: 'Add forecast line' }).click();
  await expect(page.getByText('Added 1 forecast line')).toBeVisible();
});
