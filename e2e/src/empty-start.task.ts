import { fileURLToPath } from 'node:url';
import { expect, test } from './ondwell.ts';

const FIRST_FILE = fileURLToPath(new URL('../../sample/data/sales/fy2026.csv', import.meta.url));

test('from nothing to the first forecast', async ({ page, emptyOrigin }) => {
  await page.goto(emptyOrigin);
  await page.getByLabel('E-mail address').fill('planner@ondwell.example');
  await page.getByLabel('Password').fill('plan the year');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('What did you sell?');

  // What is no file of sales lines says what it lacks.
  await page.getByLabel('First file of sales lines').setInputFiles({
    name: 'list.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('date,channel,net amount\n2026-01-01,web,5\n'),
  });
  await expect(page.getByRole('alert')).toContainText('lacks "quantity"');

  await page.getByLabel('First file of sales lines').setInputFiles(FIRST_FILE);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('cut in 4 ways');
  await page.getByLabel('What is the company called?').fill('Ondwell once more');
  await page.getByLabel('The fiscal year starts in').selectOption('April');
  await page.getByRole('button', { name: 'Make the workspace' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('rows are good');
  await page.getByRole('button', { name: /^Apply/ }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(
    'Your sales are in. What will you sell?',
  );
  await page.getByRole('button', { name: 'Make the streams and show the forecast' }).click();
  await expect(page).toHaveURL(/\/w\/1\/forecast/);
  await page.getByRole('button', { name: 'Next 12', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(
    /^Ondwell once more is forecast to sell [\d.]+ million/,
  );
  await page.reload();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/is forecast to sell/);
});
