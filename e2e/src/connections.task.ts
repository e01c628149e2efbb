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
  await expect(planner.heading).toHaveText('No order book is connected yet');
  const port = (book.server.address() as AddressInfo).port;
  await page.getByRole('button', { name: 'Connect order book' }).first().click();
  await page.getByLabel('Address').fill(`http://127.0.0.1:${port}`);
  await page.getByLabel('API key').fill('not the key');
  await page.getByRole('button', { name: 'Connect', exact: true }).click();
  await page.getByRole('button', { name: 'Test', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('does not accept the key');
  await (await planner.inMenu('Disconnect')).click();
  await expect(planner.heading).toHaveText('No order book is connected yet');
  await page.getByRole('button', { name: 'Connect order book' }).first().click();
  await page.getByLabel('Address').fill(`http://127.0.0.1:${port}`);
  await page.getByLabel('API key').fill(KEY);
  await page.getByRole('button', { name: 'Connect', exact: true }).click();

  Object.assign(book.faults, { failEvery: 4, breakEvery: 6 });
  await page.getByRole('button', { name: 'Import now' }).click();
  await expect(planner.heading).toHaveText(
    'Order book: 2 documents are on hold for a missing code',
  );
  const runs = page.getByRole('table', { name: 'Imports' });
  await expect(runs.getByRole('row', { name: /done/ })).toHaveCount(1);
  const waiting = page.getByRole('complementary', { name: 'Documents on hold' });
  await expect(waiting).toContainText('"cart-mini" is not a code of Product');
  await expect(waiting).toContainText('The order book calls it Mini cartridge');
  await expect(page.getByText('7 items and 60 customers are in the order book')).toBeVisible();
  await expect(waiting.getByLabel('Name of cart-mini')).toHaveValue('Mini cartridge');
  await planner.choose(waiting.getByLabel('Parent of cart-mini'), 'below Cartridges');
  await waiting.getByRole('button', { name: 'Add member' }).click();
  await expect(planner.heading).toContainText('is up to date');
  await expect(waiting).toBeHidden();

  book.faults.down = true;
  await page.getByRole('button', { name: 'Import now' }).click();
  await expect(planner.heading).toContainText('has not answered since');
  book.faults.down = false;
  await page.getByRole('button', { name: 'Import now' }).click();
  await expect(planner.heading).toContainText('is up to date');

  await settings.getByRole('link', { name: 'Reporting access' }).click();
  await page.getByLabel('What the token is for').fill('Warehouse report');
  await page.getByRole('button', { name: 'Create token' }).click();
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
  await (await planner.inMenu('Embed in another page')).click();
  await page.getByLabel('Name', { exact: true }).fill('Revenue by month');
  await planner.choose(page.getByLabel('Show as'), 'Chart of the total');
  await page.getByRole('button', { name: 'Create address' }).click();
  const address = await page.locator('[data-address]').innerText();
  await page.setViewportSize({ width: 400, height: 300 });
  await page.goto(address);
  await expect(page.getByRole('heading', { name: 'Revenue by month' })).toBeVisible();
  await expect(page.getByRole('img')).toBeVisible();
});
