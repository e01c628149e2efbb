import { expect, test } from './ondwell.ts';

test('what was entered by hand is dressed as such, and left out of every room by one switch', async ({
  planner,
}) => {
  const { page, origin } = planner;
  const year = 'from=2026-04&to=2027-03&unit=1';
  const csrf = await page.request.get(`${origin}/api/session`);
  const { csrfToken } = (await csrf.json()) as { csrfToken: string };
  const entered = await page.request.post(`${origin}/api/workspaces/1/hand-lines`, {
    headers: { 'x-csrf-token': csrfToken },
    data: {
      date: '2026-09-30',
      members: { channel: 'web', product: 'carafe-dew', group: 'households', region: 'north' },
      quantity: 40,
      netAmount: 100_000_000,
      why: 'sold at the fair',
    },
  });
  expect(entered.status()).toBe(201);

  await page.goto(`${origin}/w/1/actuals?${year}`);
  await (await planner.cell('Carafes', 'Total')).click();
  await page.keyboard.press('Alt+ArrowRight');
  const dew = await planner.cell('Dew carafe', 'Sep');
  await expect(dew).toHaveText('1,000,000');
  await expect(dew).toHaveClass(/dress-typed/);
  await expect(dew).toHaveAttribute('title', /entered by hand, not in the books/);
  await expect(await planner.cell('Carafes', 'Sep')).toHaveClass(/dress-books/);
  const all = await planner.figure('Revenue', 'Sep');
  await page.goto(`${origin}/w/1/actuals?${year}&view=summary`);
  await expect(page.locator('.dress-typed').filter({ hasText: /^1,000,000$/ })).toHaveCount(1);
  await page.goto(`${origin}/w/1/actuals?${year}`);

  await page.getByRole('button', { name: 'Books only' }).click();
  await expect.poll(() => planner.figure('Revenue', 'Sep')).toBe(all - 1_000_000);
  await expect(page.locator('.state')).toContainText('from the books only');
  // The trace lists the lines of the books only.
  await planner.explain(await planner.cell('Carafes', 'Sep'));
  await expect(planner.trace).toContainText('sales lines in the books');
  await expect(planner.trace).not.toContainText('by hand');

  // It stays from room to room, and each says so.
  await planner.room('Forecast');
  await expect(page.locator('.state')).toContainText('books only');
  await expect.poll(() => planner.figure('Revenue', 'Sep')).toBe(all - 1_000_000);
  const file = await planner.inMenu('Save as CSV');
  await expect(file).toHaveAttribute('href', /origin=books/);
  await page.keyboard.press('Escape');
  await planner.room('Comparison');
  await expect(page.locator('.state')).toContainText('actual in the books less');
  const compared = await planner.figure('Revenue', 'Actual');
  await page.getByRole('button', { name: 'Books only' }).click();
  await expect.poll(() => planner.figure('Revenue', 'Actual')).toBe(compared + 1_000_000);
  await planner.room('Standing');
  const now = page.locator('[data-grid="standing"] [data-cell$=" now"]').first();
  await expect(now).toHaveText((compared + 1_000_000).toLocaleString('en-IE'));
  await page.getByRole('button', { name: 'Books only' }).click();
  await expect(now).toHaveText(compared.toLocaleString('en-IE'));
});
