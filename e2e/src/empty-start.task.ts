import { fileURLToPath } from 'node:url';
import { Desk, expect, test } from './ondwell.ts';

const FIRST_FILE = fileURLToPath(new URL('../../sample/data/sales/fy2026.csv', import.meta.url));

test('from nothing to the first forecast', async ({ page, emptyOrigin }) => {
  await page.goto(emptyOrigin);
  await page.getByLabel('E-mail address').fill('planner@ondwell.example');
  await page.getByLabel('Password').fill('plan the year');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Import your sales');

  // What is no file of sales lines says what it lacks.
  await page.getByLabel('First file of sales lines').setInputFiles({
    name: 'list.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('date,channel,net amount\n2026-01-01,web,5\n'),
  });
  await expect(page.getByRole('alert')).toContainText('lacks "quantity"');

  await page.getByLabel('First file of sales lines').setInputFiles(FIRST_FILE);
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
