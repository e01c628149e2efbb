import { fileURLToPath } from 'node:url';
import { lastDayOf, monthFrom, monthInWords } from '@dravex/core';
import { Desk, expect, test } from './ondwell.ts';

const FIRST_FILE = fileURLToPath(new URL('../../sample/data/sales/fy2026.csv', import.meta.url));

test('from nothing to the first forecast', async ({ page, emptyOrigin }) => {
  await page.goto(emptyOrigin);
  await page.getByLabel('E-mail address').fill('planner@ondwell.example');
  await page.getByLabel('Password').fill('plan the year');
  await page.getByRole('button', { name: 'Sign in' }).click();
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
  test.setTimeout(180_000);
  const desk = new Desk(page, emptyOrigin);
  const heading = page.getByRole('heading', { level: 1 });
  await page.goto(emptyOrigin);
  await page.getByLabel('E-mail address').fill('planner@ondwell.example');
  await page.getByLabel('Password').fill('plan the year');
  await page.getByRole('button', { name: 'Sign in' }).click();
  const file = (name: string, text: string) => ({
    name,
    mimeType: 'text/csv',
    buffer: Buffer.from(text),
  });
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
  await page.getByRole('button', { name: 'Continue' }).click();
  await expect(heading).toHaveText('731 sales lines with 2 dimensions');
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

  for (const month of monthsFrom(2026, 1, 3)) {
    await desk.room('Actuals');
    const name = `kasse-${month}.csv`;
    await page.getByLabel('File to import').setInputFiles(file(name, tillExport([month])));
    // Read as the first one was, without a question.
    await expect(page.getByText('The as-of date moves to')).toBeVisible();
    await page.getByRole('button', { name: /^Import \d+ rows/ }).click();
    await expect(page.getByText(`rows of ${name} are imported`)).toBeVisible();
    await desk.room('Closing');
    await page.getByRole('button', { name: /^Close / }).click();
    await expect(page.getByText(`${monthInWords(monthFrom(month))} is closed`)).toBeVisible();
    await expect(page.locator('footer')).toContainText(
      `Closed through ${monthInWords(monthFrom(month))}`,
    );
  }
  await page.getByRole('tab', { name: 'Accuracy' }).click();
  await expect(heading).toHaveText(/^Forecasts of Bäckerei Korn were [\d.]+% off one month ahead/);
});
