import type { AddressInfo } from 'node:net';
import { orderBook, type OrderBook } from '@dravex/standins';
import { expect, test as base } from './ondwell.ts';

const KEY = 'a-key-for-the-task';
const test = base.extend<{ book: OrderBook }>({
  book: async ({ browserName: _ }, use) => {
    const book = orderBook(KEY);
    await new Promise<void>((resolve) => book.server.listen(0, '127.0.0.1', resolve));
    await use(book);
    book.server.closeAllConnections();
    await new Promise((resolve) => book.server.close(resolve));
  },
});

test('connect an order book that fails now and then, and let reporting tools read what it brought', async ({
  planner,
  book,
}) => {
  const { page } = planner;
  const settings = page.getByRole('navigation', { name: 'Settings' });
  await planner.room('Standing');
  await page.getByRole('link', { name: 'Settings' }).click();
  await settings.getByRole('link', { name: 'Connections' }).click();
  await expect(planner.heading).toHaveText('No source is connected yet');
  const port = (book.server.address() as AddressInfo).port;
  await page.getByLabel('Address').fill(`http://127.0.0.1:${port}`);
  await page.getByLabel('API key').fill('not the key');
  await page.getByRole('button', { name: 'Connect it' }).click();
  await page.getByRole('button', { name: 'Test it' }).click();
  await expect(page.getByRole('alert')).toContainText('does not take the key');
  await page.getByRole('button', { name: 'End it' }).click();
  await expect(planner.heading).toHaveText('No source is connected yet');
  await page.getByLabel('Address').fill(`http://127.0.0.1:${port}`);
  await page.getByLabel('API key').fill(KEY);
  await page.getByRole('button', { name: 'Connect it' }).click();

  Object.assign(book.faults, { failEvery: 4, breakEvery: 6 });
  await page.getByRole('button', { name: 'Read it now' }).click();
  await expect(planner.heading).toHaveText('Order book: 2 documents wait for a code', {
    timeout: 40_000,
  });
  const runs = page.getByRole('table', { name: 'What it brought' });
  await expect(runs.getByRole('row', { name: /done/ })).toHaveCount(1);
  const waiting = page.getByRole('complementary', { name: 'Waiting documents' });
  await expect(waiting).toContainText('"cart-mini" is not a code of Product');
  await expect(waiting).toContainText('The order book calls it Mini cartridge');
  await expect(page.getByText('7 items and 60 customers are known')).toBeVisible();
  await expect(waiting.getByLabel('Name of cart-mini')).toHaveValue('Mini cartridge');
  await waiting.getByLabel('Where cart-mini lies').selectOption({ label: 'below Cartridges' });
  await waiting.getByRole('button', { name: 'Make it a member' }).click();
  await expect(planner.heading).toContainText('is up to date', { timeout: 40_000 });
  await expect(waiting).toBeHidden();

  book.faults.down = true;
  await page.getByRole('button', { name: 'Read it now' }).click();
  await expect(planner.heading).toContainText('does not answer since', { timeout: 60_000 });
  book.faults.down = false;
  await page.getByRole('button', { name: 'Read it now' }).click();
  await expect(planner.heading).toContainText('is up to date', { timeout: 40_000 });

  await settings.getByRole('link', { name: 'Access for reporting' }).click();
  await page.getByLabel('What the token is for').fill('Warehouse report');
  await page.getByRole('button', { name: 'Make a token' }).click();
  const token = await page.locator('.made code').innerText();
  const read = (): Promise<Response> =>
    fetch(
      `${planner.origin}/api/reporting/sales-lines?from=2026-10&to=2026-10&members=product:cart-mini`,
      {
        headers: { authorization: `Bearer ${token}` },
      },
    );
  const lines = (await (await read()).json()) as { total: number };
  expect(lines.total).toBe(2);
  await page.getByRole('button', { name: 'Withdraw Warehouse report' }).click();
  await expect(page.getByText('never')).toBeHidden();
  expect((await read()).status).toBe(401);

  await planner.room('Forecast');
  await page.getByRole('button', { name: 'Let it stand in another page' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Revenue by month');
  await page.getByLabel('As', { exact: true }).selectOption('chart');
  await page.getByRole('button', { name: 'Save it' }).click();
  const address = await page.locator('[data-address]').innerText();
  await page.setViewportSize({ width: 400, height: 300 });
  await page.goto(address);
  await expect(page.getByRole('heading', { name: 'Revenue by month' })).toBeVisible();
  await expect(page.getByRole('img')).toBeVisible();
});
