/**
 * `npm run screenshots`: a current picture of every room, made from fresh sample data; with names
 * behind it (`npm run screenshots -- import start`) only those.
 */
import { mkdirSync } from 'node:fs';
import { ensureDependencies } from './dependencies.mjs';
import { chromiumPath, ensurePackages } from './packages.mjs';
import { ROOT } from './places.mjs';

ensurePackages({ postgres: true, chromium: true });
ensureDependencies();

const { chromium } = await import('@playwright/test');
const { ensureBuilt, fillWithSample, PLANNER, startOrderBook, startServer } =
  await import('./application.mjs');
const { startCluster } = await import('./cluster.mjs');
const { createDatabase, dropDatabase } = await import('./databases.mjs');

/** What fades in or out has done so by then. */
const SETTLE_MS = 400;
const FOLDER = `${ROOT}/docs/screenshots`;
const DATABASE = 'pictures';
const YEAR = 'from=2026-04&to=2027-03';

/** @typedef {import('@playwright/test').Page} Page */

/**
 * Chooses from a list as a person does.
 * @param {Page} page
 * @param {string | RegExp} label
 * @param {string} option
 */
async function choose(page, label, option) {
  await page.getByLabel(label).and(page.locator('input')).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('option', { name: option, exact: true }).click();
}

/** @type {{ name: string, path: string, ready: string, act?: (page: Page) => Promise<void> }[]} */
const PICTURES = [
  { name: 'standing', path: `standing?${YEAR}`, ready: '.plan-grid .figure' },
  { name: 'actuals', path: `actuals?${YEAR}`, ready: '.plan-grid .figure' },
  {
    name: 'drivers',
    path: 'drivers?driver=discount&from=2026-10&to=2027-09',
    ready: '.plan-grid .figure',
    act: async (page) => {
      await page.locator('.plan-grid .cell', { hasText: '20.0%' }).first().click();
      await page.keyboard.press('Space');
      await page.getByText('November offer').first().waitFor();
    },
  },
  {
    name: 'forecast',
    path: `forecast?${YEAR}`,
    ready: '.plan-grid .figure',
    act: async (page) => {
      await page.locator('[data-cell$=" 2026-10"]').nth(1).click();
      await page.keyboard.press('Space');
      await page.getByRole('complementary', { name: 'Trace' }).getByText('The sum of').waitFor();
    },
  },
  { name: 'targets', path: `targets?${YEAR}`, ready: '.plan-grid .figure' },
  {
    name: 'budget',
    path: `budget?${YEAR}`,
    ready: '.plan-grid .figure',
    act: async (page) => {
      const cell = page.locator('[data-cell$=" 2026-10"]').nth(1);
      await cell.click();
      await page.keyboard.type('150k');
      await page.keyboard.press('Enter');
      await page.getByLabel('Reason').fill('agreed with the stores');
      await page.keyboard.press('Enter');
      await page.getByText('“agreed with the stores”').first().waitFor();
      await cell.click();
      await page.keyboard.press('Space');
      await page.locator('[data-entry]').getByText('agreed').waitFor();
    },
  },
  {
    name: 'sheet',
    path: `sheets?${YEAR}`,
    ready: '.room-head',
    act: async (page) => {
      await page.getByRole('button', { name: 'Add sheet' }).click();
      await page.getByRole('dialog').getByLabel('Name').fill('North');
      await choose(page, 'For', 'Una Keldby, manager');
      const scope = page.getByRole('dialog').getByRole('combobox', { name: /^Sales of/ });
      await scope.fill('North');
      await page.getByRole('option', { name: 'Region: North', exact: true }).click();
      await page.keyboard.press('Tab');
      await choose(page, 'Lines by', 'Channel');
      // The list that closes gives the focus back first.
      await page.waitForTimeout(SETTLE_MS);
      await choose(page, 'and below that by', 'Product');
      await page.getByLabel('Due').fill('2026-11-13');
      await page.getByRole('button', { name: 'Add', exact: true }).click();
      await page.getByRole('button', { name: 'Hand out' }).click();
      await page.locator('[data-grid="sheet"] .figure').first().waitFor();
      await page.getByText('handed out; closed').waitFor();
    },
  },
  {
    name: 'profile',
    path: `drivers?${YEAR}&driver=listPrice`,
    ready: '.plan-grid .cell',
    act: async (page) => {
      await page.getByRole('button', { name: 'Growth and season' }).click();
      await choose(page, 'Set as', 'Start value and growth');
      await page.getByLabel('Rate, %').fill('4');
      await page.waitForTimeout(800);
    },
  },
  {
    name: 'methods',
    path: `forecast?${YEAR}&scope=product:carafe-brook`,
    ready: '.plan-grid .figure',
    act: async (page) => {
      await page.getByRole('button', { name: 'Methods' }).click();
      await choose(page, /Method of/, 'Statistical baseline');
      await page.locator('tr.best').waitFor();
      await page.locator('.side-panel').evaluate((panel) => panel.scrollTo(0, 190));
      await page.waitForTimeout(800);
    },
  },
  { name: 'closing', path: `closing?${YEAR}`, ready: '.plan-grid .figure' },
  { name: 'accuracy', path: `closing?view=accuracy&${YEAR}`, ready: '.plan-grid .figure' },
  { name: 'comparison', path: `comparison?${YEAR}`, ready: '.plan-grid .figure' },
  {
    name: 'subscriptions',
    path: 'forecast?from=2026-10&to=2027-09&chart=subscriptions&measures=revenue,activeSubscribers&scope=product:plans',
    ready: '.plan-grid .figure',
    act: async (page) => {
      await page.getByRole('button', { name: 'Cohorts', exact: true }).click();
      await page.getByRole('table', { name: 'Cohorts by months after the start' }).waitFor();
    },
  },
  {
    name: 'import',
    path: `actuals?${YEAR}`,
    ready: '.plan-grid .figure',
    act: async (page) => {
      await page.setInputFiles('input[type=file]', `${ROOT}/sample/try/sales-with-faults.csv`);
      await page.getByText('9 of 17 rows can be imported').waitFor();
    },
  },
  {
    name: 'summary',
    path: 'actuals?from=2026-04&to=2026-10&view=summary&rows=channel,product&by=quarter&measures=revenue,margin,averagePrice&beside=year-before&unit=1000',
    ready: '.plan-grid .figure',
  },
  {
    name: 'dimensions',
    path: `dimensions?${YEAR}`,
    ready: '.sheet-table td',
    act: async (page) => {
      await page.getByRole('button', { name: 'Product', exact: true }).click();
      await page.getByRole('button', { name: 'Dew carafe' }).click();
      await page.getByLabel('Merge into').and(page.locator('input')).fill('Brook carafe');
      await page.getByRole('option', { name: 'Brook carafe', exact: true }).click();
      await page.getByText('cannot be undone').waitFor();
    },
  },
  {
    name: 'connections',
    path: `connections?${YEAR}`,
    ready: '.empty',
    act: async (page) => {
      const [address = '', key = ''] = (await startOrderBook(4611)).split(', key ');
      await page.getByRole('button', { name: 'Connect order book' }).first().click();
      await page.getByLabel('Address').fill(address);
      await page.getByLabel('API key').fill(key);
      await page.getByRole('button', { name: 'Connect', exact: true }).click();
      await page.getByRole('button', { name: 'Import now' }).click();
      await page.getByText('Documents on hold').waitFor({ timeout: 60_000 });
    },
  },
  { name: 'start', path: '../../start', ready: 'h1' },
  {
    name: 'dark',
    path: `settings?${YEAR}`,
    ready: '.sheet-table td',
    act: async (page) => {
      await choose(page, 'Theme', 'Dark');
      await page.locator('.v-theme--ink').first().waitFor();
      await page.goto(page.url().replace('/settings', '/forecast'));
      await page.locator('.plan-grid .figure').first().waitFor();
    },
  },
];

mkdirSync(FOLDER, { recursive: true });
await ensureBuilt();
const cluster = await startCluster('test', { durable: false });
const admin = cluster.url('postgres');
await dropDatabase(admin, DATABASE);
await createDatabase(admin, DATABASE);
await fillWithSample(cluster.url(DATABASE));
const server = await startServer({
  databaseUrl: cluster.url(DATABASE),
  allowedNetworks: '127.0.0.1',
});
const browser = await chromium.launch({
  executablePath: chromiumPath() ?? '',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run'],
});
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const origin = `http://127.0.0.1:${server.port}`;
  await page.goto(origin);
  await page.getByLabel('E-mail address').fill(PLANNER.email);
  await page.getByLabel('Password').fill(PLANNER.password);
  await page.click('button[type=submit]');
  await page.waitForURL(/\/w\/1\//);
  // The pictures show the rooms, not the tour of the first visit.
  await page.getByRole('button', { name: 'Skip the tour' }).click();
  const wanted = process.argv.slice(2);
  for (const { name, path, ready, act } of PICTURES) {
    if (wanted.length > 0 && !wanted.includes(name)) continue;
    await page.goto(`${origin}/w/1/${path}`);
    await page.locator(ready).first().waitFor();
    await act?.(page);
    await page.evaluate('document.fonts.ready');
    // What is still fading, or under way, is no picture of the room.
    await page.getByText('Saving', { exact: true }).waitFor({ state: 'hidden' });
    await page.waitForTimeout(SETTLE_MS);
    await page.screenshot({ path: `${FOLDER}/${name}.png` });
    console.log(`docs/screenshots/${name}.png`);
  }
} finally {
  await browser.close();
  await server.stop();
  await dropDatabase(admin, DATABASE);
  cluster.stop();
}
