import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from '@playwright/test';
import { expect, FAULTY_FILE, test } from './ondwell.ts';

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
const ROOMS = [
  'settings',
  'standing',
  'actuals',
  'drivers',
  'forecast',
  'targets',
  'budget',
  'comparison',
] as const;

interface Axe {
  run(options: object): Promise<{
    violations: { id: string; help: string; nodes: { html: string }[] }[];
  }>;
}

test('every room holds to WCAG 2.2 AA, by day and by night', async ({ planner }) => {
  test.setTimeout(180_000);
  const { page, origin } = planner;
  for (const theme of ['Paper', 'Ink']) {
    await page.goto(`${origin}/w/1/settings?from=2026-04&to=2027-03`);
    await page.getByRole('button', { name: theme, exact: true }).click();
    await page.evaluate(AXE);
    for (const room of ROOMS) {
      if (room !== 'settings')
        await planner.room(`${room.charAt(0).toUpperCase()}${room.slice(1)}`);
      await expect(planner.heading).not.toBeEmpty();
      const grid = page.locator('.rgCol .rgCell .figure').first();
      if (['actuals', 'drivers', 'forecast', 'budget'].includes(room)) {
        await grid.click();
        await expect(planner.trace).toBeVisible();
        await expect(page.locator('.header-rgRow').first()).toHaveAttribute('role', 'row');
        await expect(page.locator('.rgCol .rgCell[tabindex="0"]').first()).toBeVisible();
      }
      const { violations } = await page.evaluate(() =>
        (globalThis as unknown as { axe: Axe }).axe.run({
          runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
        }),
      );
      const found = violations.map(
        ({ id, help, nodes }) => `${id}: ${help}: ${nodes[0]?.html ?? ''}`,
      );
      expect(found, `${room}, ${theme}`).toEqual([]);
    }
  }
});

/** Holds what is on the screen to WCAG 2.2 AA. */
function checks(page: Page): (where: string) => Promise<void> {
  return async (where) => {
    if ((await page.locator('revo-grid').count()) > 0) {
      // The grid tells its roles once it has its cells.
      await expect(page.locator('.header-rgRow').first()).toHaveAttribute('role', 'row');
      await expect(page.locator('.rgHeaderCell').first()).toBeVisible();
      await expect(page.locator('.rgCol .rgCell[tabindex="0"]').first()).toBeVisible();
    }
    // What is still unfolding or fading in is smaller and paler than it will be.
    await page.evaluate(() =>
      Promise.all(document.getAnimations().map(({ finished }) => finished.catch(() => undefined))),
    );
    await page.evaluate(AXE);
    const { violations } = await page.evaluate(() =>
      (globalThis as unknown as { axe: Axe }).axe.run({
        runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
      }),
    );
    const found = violations.map(
      ({ id, help, nodes }) => `${id}: ${help}: ${nodes[0]?.html ?? ''}`,
    );
    expect(found, where).toEqual([]);
  };
}

test('what is set up, and what is taken in, hold to WCAG 2.2 AA too', async ({ planner }) => {
  test.setTimeout(180_000);
  const { page, origin } = planner;
  const check = checks(page);
  for (const theme of ['Ink', 'Paper']) {
    await page.goto(`${origin}/w/1/settings?from=2026-04&to=2027-03`);
    await page.getByRole('button', { name: theme, exact: true }).click();
    await page.goto(`${origin}/w/1/dimensions`);
    await page.getByRole('button', { name: 'Web shop' }).click();
    await expect(page.getByRole('complementary', { name: 'Member Web shop' })).toBeVisible();
    await check(`dimensions, ${theme}`);
    await page.goto(`${origin}/w/1/connections`);
    await expect(page.getByLabel('API key')).toBeVisible();
    await check(`connections, ${theme}`);
    await page.goto(`${origin}/w/1/access`);
    await expect(page.getByLabel('What the token is for')).toBeVisible();
    await check(`access, ${theme}`);
    await page.goto(
      `${origin}/w/1/actuals?from=2026-04&to=2026-10&view=summary&rows=channel&measures=revenue,margin&beside=year-before&shares=yes`,
    );
    await page.locator('.summary .figure').first().click();
    await expect(page.getByRole('complementary', { name: 'Sales lines' })).toContainText('lines');
    await check(`summary, ${theme}`);
    await page.getByLabel('File of what happened').setInputFiles(FAULTY_FILE);
    await expect(planner.heading).toHaveText('9 of 17 rows are good, 8 are left out');
    await check(`preview, ${theme}`);
    await page.getByRole('button', { name: 'Change how it is read' }).click();
    await expect(page.getByRole('table', { name: 'First rows of the file' })).toBeVisible();
    await check(`reading, ${theme}`);
    await page.getByRole('button', { name: 'Leave it' }).click();
    await page.goto(`${origin}/w/1/drivers?driver=listPrice`);
    await page.getByRole('button', { name: 'Set by a profile' }).click();
    await page.getByLabel('Set by').selectOption('level');
    await expect(page.getByLabel('Season of month 12')).toBeVisible();
    await check(`profile, ${theme}`);
    await page.getByRole('button', { name: '+ a driver of your own' }).click();
    await page.getByRole('textbox', { name: 'Formula', exact: true }).fill('listPrice +');
    await expect(page.getByText('Something is missing at the end')).toBeVisible();
    await check(`driver, ${theme}`);
    await page.goto(`${origin}/w/1/forecast?from=2026-04&to=2027-03`);
    await page.getByRole('button', { name: 'Methods' }).click();
    await page.getByLabel(/^Method of/).selectOption('baseline');
    await expect(page.locator('tr.best')).toBeVisible();
    await check(`baseline, ${theme}`);
    await page.getByLabel(/^Method of/).selectOption('funnel');
    await expect(page.getByLabel('Rate of Buys')).toBeVisible();
    await check(`funnel, ${theme}`);
    await page.getByRole('button', { name: 'Let it stand in another page' }).click();
    await expect(page.getByRole('button', { name: 'Save it' })).toBeVisible();
    const dialog = page.locator(
      '.v-dialog--active .v-overlay__content, .v-dialog .v-overlay__content',
    );
    await expect(dialog.last()).toHaveCSS('opacity', '1');
    await check(`stand elsewhere, ${theme}`);
  }
});

test('measures, charts and panels of the forecast hold to it as well', async ({ planner }) => {
  test.setTimeout(180_000);
  const { page, origin } = planner;
  const check = checks(page);
  const place = `${origin}/w/1/forecast?from=2026-04&to=2027-03`;
  for (const theme of ['Ink', 'Paper']) {
    await page.goto(`${origin}/w/1/settings?from=2026-04&to=2027-03`);
    await page.getByRole('button', { name: theme, exact: true }).click();
    await page.goto(
      `${place}&measures=units,shareOfMarket,revenue&levels=1&chart=stack&by=product`,
    );
    await expect(page.getByRole('button', { name: 'as a table' })).toBeVisible();
    await page.getByRole('button', { name: /^Measure/ }).click();
    await expect(page.getByRole('checkbox', { name: 'Share of units' })).toBeVisible();
    await check(`measures and parts, ${theme}`);
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'as a table' }).click();
    await page.getByRole('button', { name: /^Views/ }).click();
    await expect(page.getByLabel('Name of the view')).toBeVisible();
    await check(`parts as a table, and views, ${theme}`);
    await page.goto(`${place}&chart=multiples&panel=loose`);
    await expect(page.getByRole('complementary', { name: 'Not forecast' })).toBeVisible();
    await check(`small charts, and what is not forecast, ${theme}`);
    await page.goto(`${place}&chart=funnel`);
    await expect(page.getByRole('region', { name: 'Funnels' })).toBeVisible();
    await check(`funnels, ${theme}`);
    await page.getByRole('button', { name: '+ streams' }).click();
    await expect(page.getByRole('button', { name: 'Make 0 streams' })).toBeVisible();
    await check(`new streams, ${theme}`);
    await page.goto(`${origin}/w/1/drivers?driver=discount&from=2026-10&to=2027-09`);
    await page.getByRole('button', { name: 'What it was' }).click();
    await expect(page.getByRole('complementary', { name: 'States' })).toContainText('as it is now');
    await check(`states of a driver, ${theme}`);
  }
});

test('go anywhere by keyboard', async ({ planner }) => {
  const { page } = planner;
  await page.locator('h1').click();
  for (const [numeral, room] of [
    ['2', 'actuals'],
    ['8', 'comparison'],
    ['1', 'standing'],
    ['4', 'forecast'],
  ]) {
    await page.keyboard.press('g');
    await page.keyboard.press(numeral ?? '');
    await expect(page).toHaveURL(new RegExp(`/w/1/${room}`));
    await expect(planner.heading).not.toBeEmpty();
  }
  await expect(page).toHaveURL(/from=2026-04&to=2027-03/);
  await page.keyboard.press(']');
  await expect(page).toHaveURL(/from=2027-04&to=2028-03/);
  await page.keyboard.press('[');
  await page.keyboard.press('[');
  await expect(page).toHaveURL(/from=2025-04&to=2026-03/);

  // In a grid a letter is no typing: `g` and a numeral still go to a room.
  await (await planner.cell('Web shop', 'Apr')).click();
  await page.keyboard.press('g');
  await page.keyboard.press('7');
  await expect(page).toHaveURL(/\/budget/);

  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('whose number it is');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox').fill('duo households north web');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/forecast\?.*scope=channel/);
  await expect(planner.heading).toContainText('Tap unit Duo');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox').fill('return rate');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/drivers\?.*driver=returnRate/);
});

test('print a table whole, with its period, scope and version', async ({ planner }) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/forecast?from=2026-04&to=2027-03&rows=channel,product`);
  await expect(await planner.cell('Web shop', 'Apr')).toBeVisible();
  await page.emulateMedia({ media: 'print' });
  const table = page.locator('table.printed');
  await expect(table).toBeVisible();
  await expect(table.locator('tbody tr').last()).toContainText('Growth');
  await expect(table).toContainText('Office sales team');
  await expect(page.locator('.room-head')).toContainText('April 2026 to March 2027');
  await expect(page.locator('.rail')).toBeHidden();
  await expect(page.locator('revo-grid')).toBeHidden();
});
