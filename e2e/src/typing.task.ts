/** What is typed is what is kept: fast, elsewhere, offline, and taken back. */
import type { Page } from '@playwright/test';
import { handedOut } from './handed-out.ts';
import { expect, test, type Desk } from './ondwell.ts';

/** Between two keys, as a quick typist or a macro has it. */
const BETWEEN_MS = 20;

/** Types numbers down the first rows of single lines, column by column; as quickly as said. */
async function typeDown(
  desk: Desk,
  count: number,
  first: number,
): Promise<{ rows: string[]; values: number[][] }> {
  const { page } = desk;
  const lines = await page.evaluate(() => {
    const single = [...document.querySelectorAll('.plan-grid .scrolls')]
      .filter((line) => line.querySelector('[data-fold]') === null)
      .map((line) => Number(line.getAttribute('aria-rowindex')) - 2);
    const start = single.find((row) => single.includes(row + 1)) ?? 0;
    return [start, start + 1];
  });
  const cells = lines.map((row) => page.locator(`[data-row="${row}"][data-column="1"]`));
  const rows: string[] = [];
  for (const cell of cells) {
    rows.push(((await cell.getAttribute('data-cell')) ?? '').replace(/ [^ ]*$/, ''));
  }
  await cells[0]?.click();
  const values: number[][] = [[], []];
  for (let typed = 0; typed < count; typed += 1) {
    await page.keyboard.type(String(first + typed), { delay: BETWEEN_MS });
    await page.keyboard.press('Enter');
    values[typed % 2]?.push(first + typed);
    if (typed % 2 === 1) {
      for (const key of ['ArrowUp', 'ArrowUp', 'ArrowRight']) await page.keyboard.press(key);
    }
  }
  await desk.saved();
  return { rows, values };
}

/** What of a plan these tasks look at. */
interface PlanSeen {
  readonly assumptions: readonly {
    readonly driver: string;
    readonly profile: { readonly kind: string; readonly values?: Readonly<Record<string, number>> };
  }[];
  readonly combinations: readonly { readonly id: number; readonly members: readonly number[] }[];
  readonly overrides?: readonly {
    readonly combination: number;
    readonly month: string;
    readonly measure: string;
    readonly value: number;
  }[];
}
async function planOf({ page, origin }: Desk): Promise<PlanSeen> {
  const answer = await page.request.get(`${origin}/api/workspaces/1/plan`);
  return ((await answer.json()) as { plan: PlanSeen }).plan;
}

/** Whether whoever leaves the page now is asked whether they mean to. */
function warnsOfLeaving(page: Page): Promise<boolean> {
  return page.evaluate(() => {
    const leaving = new Event('beforeunload', { cancelable: true });
    window.dispatchEvent(leaving);
    return leaving.defaultPrevented;
  });
}

test('typed at full speed every number is kept, in drivers', async ({ planner }) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/drivers?driver=listPrice&from=2026-10&to=2029-03&rows=channel`);
  await page.getByRole('button', { name: 'Forecast lines', exact: true }).click();
  await expect(page.getByRole('rowheader').filter({ hasText: 'Households' }).first()).toBeVisible();
  const { values } = await typeDown(planner, 60, 3001);
  const kept = (await planOf(planner)).assumptions.flatMap(({ driver, profile }) =>
    driver === 'listPrice' ? Object.values(profile.values ?? {}) : [],
  );
  expect(kept.filter((value) => value > 3000).sort()).toEqual(values.flat().sort());
});

test('typed at full speed every number is kept, in the forecast and in a budget', async ({
  planner,
}) => {
  const { page, origin } = planner;
  const months = 'from=2026-10&to=2028-03&unit=1';
  await page.goto(`${origin}/w/1/forecast?${months}&rows=channel`);
  await expect(planner.firstFigure).toBeVisible();
  const first = await typeDown(planner, 24, 200_001);
  const { overrides = [], combinations } = await planOf(planner);
  const sums = new Map<string, number>();
  for (const { combination, month, value, measure } of overrides) {
    if (measure !== 'revenue') continue;
    const members = combinations.find(({ id }) => id === combination);
    const key = `${members?.members[0] ?? 0} ${month}`;
    sums.set(key, (sums.get(key) ?? 0) + value);
  }
  expect([...sums.values()].map(Math.round).sort()).toEqual(first.values.flat().sort());

  await page.goto(`${origin}/w/1/budget?${months}&rows=channel`);
  await page.getByRole('button', { name: 'Copy with uplift' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Copy', exact: true }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  await page.goto(`${page.url()}&unit=1&measure=units`);
  await expect(planner.firstFigure).toBeVisible();
  const budget = await typeDown(planner, 20, 70_001);
  for (const [place, row] of budget.rows.entries()) {
    for (const value of budget.values[place]?.slice(0, 3) ?? []) {
      await expect(
        page.locator(`[data-cell^="${row} "]`, { hasText: value.toLocaleString('en-IE') }),
      ).toBeVisible();
    }
  }
});

test('typed at full speed every number is kept, in targets', async ({ planner }) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/targets?from=2026-04&to=2027-03&unit=1`);
  await expect(planner.firstFigure).toBeVisible();
  const targets = page.locator('.plan-grid .scrolls [data-cell$=" target"]');
  const typed = new Map<string, number>();
  // Down the rows again and again; what the parts leave is passed over, and takes nothing. It comes
  // into sight where nothing was left before, so the rows of the last way down count.
  for (const first of [2_100_001, 2_200_001]) {
    await planner.saved();
    typed.clear();
    const keys = await targets.evaluateAll((cells) =>
      cells.map((cell) => cell.getAttribute('data-cell')?.replace(' target', '') ?? ''),
    );
    await targets.nth(1).click();
    for (const [place, key] of keys.slice(1, 16).entries()) {
      await page.keyboard.type(String(first + place), { delay: BETWEEN_MS });
      await page.keyboard.press('Enter');
      if (!key.startsWith('rest')) typed.set(key, first + place);
    }
  }
  await planner.saved();
  const answer = await page.request.get(`${origin}/api/workspaces/1/targets/2027`);
  const { nodes } = (await answer.json()) as {
    nodes: readonly { id: number; part: { kind: string; amount?: number } }[];
  };
  const kept = nodes.flatMap(({ id, part }): [string, number][] =>
    typed.has(String(id)) ? [[String(id), (part.amount ?? 0) / 100]] : [],
  );
  expect(new Map(kept)).toEqual(typed);
});

test('typed at full speed every number is kept, in a budget sheet', async ({ planner }) => {
  const { page, origin } = planner;
  const id = await handedOut(planner, 'Quick numbers', 'Mara Ellingsen');
  await page.goto(`${origin}/w/1/sheets/${id}?unit=1`);
  await expect(planner.firstFigure).toBeVisible();
  // Down the channels again and again; what was typed last is what counts.
  const cells = page.locator('.plan-grid .scrolls:not(:has([data-fold])) [data-cell$=" plan"]');
  const count = await cells.count();
  expect(count).toBe(4);
  for (let way = 1; way <= 5; way += 1) {
    await cells.first().click();
    for (let row = 0; row < count; row += 1) {
      await page.keyboard.type(String(way * 1_000_001 + row), { delay: BETWEEN_MS });
      await page.keyboard.press('Enter');
    }
  }
  await planner.saved();
  const answer = await page.request.get(`${origin}/api/workspaces/1/sheets/${id}`);
  const { lines } = (await answer.json()) as { lines: { parent: boolean; plan: number }[] };
  const kept = lines.flatMap(({ parent, plan }) => (parent ? [] : [plan / 100]));
  expect(kept).toEqual([5_000_005, 5_000_006, 5_000_007, 5_000_008]);
});

test('a click elsewhere keeps what was typed, as Enter does', async ({ planner }) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/drivers?driver=discount&from=2026-10&to=2027-03`);
  const cell = await planner.cell('Home-goods stores', 'Nov 26');
  const other = await planner.cell('Web shop', 'Dec 26');
  const places: [string, () => Promise<void>][] = [
    ['21', () => other.click()],
    ['22', () => page.getByRole('columnheader', { name: 'Dec 26' }).click()],
    ['23', () => page.getByRole('button', { name: 'History of values' }).click()],
    ['24', () => page.getByRole('heading', { level: 1 }).click()],
    ['26', () => page.getByRole('navigation').getByRole('link', { name: 'Targets' }).click()],
  ];
  for (const [text, go] of places) {
    await cell.click();
    await page.keyboard.type(text);
    await go();
    if (text !== '26') await expect(cell).toHaveText(`${text}.0%`);
  }
  // The other room opens once it is kept; before that there is nothing to go back from.
  await expect(page).toHaveURL(/\/targets/);
  await planner.saved();
  await page.goBack();
  await expect(cell).toHaveText('26.0%');
});

test('what is shown in thousands is typed in thousands, and a slip by a thousand is asked about', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/forecast?from=2026-10&to=2027-03&unit=1000&rows=channel,product`);
  const cell = await planner.cell('Cartridges', 'Nov');
  await cell.click();
  await page.keyboard.type('200');
  await expect(page.locator('.field-place.open .unit')).toHaveText('thousand €');
  await page.keyboard.press('Enter');
  await expect(cell).toHaveText('200');
  await planner.saved();
  await planner.type(cell, '190000');
  const question = page.getByRole('alert');
  await expect(question).toContainText('You typed 190,000.00 thousand €');
  await expect(question).toContainText('in place of 200.00 thousand €');
  await expect(cell).toHaveText('200');
  await question.getByRole('button', { name: '190.00 thousand €' }).click();
  await expect(cell).toHaveText('190');
  await planner.saved();
  await page.evaluate(() => navigator.clipboard.writeText(''));
  await cell.click();
  await page.keyboard.press('Control+c');
  expect(Number(await page.evaluate(() => navigator.clipboard.readText()))).toBeCloseTo(190, 6);
});

test('a grid is worked by keyboard alone, and hears no key when the focus is elsewhere', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/drivers?driver=discount&from=2026-10&to=2027-03`);
  const field = page.locator('.field');
  const cell = await planner.cell('Home-goods stores', 'Nov 26');
  await planner.type(cell, '25');
  await expect(cell).toHaveText('25.0%');
  await page.getByRole('button', { name: 'History of values' }).focus();
  await page.keyboard.press('Delete');
  await page.waitForTimeout(300);
  await expect(cell).toHaveText('25.0%');

  // Tab comes to the active cell; F6 and a second Esc leave, and Tab goes on from there.
  await page.getByRole('tab', { name: 'Cost of sales' }).focus();
  for (
    let tabs = 0;
    tabs < 40 && !(await field.evaluate((e) => e === document.activeElement));
    tabs += 1
  ) {
    await page.keyboard.press('Tab');
  }
  await expect(field).toBeFocused();
  await page.keyboard.press('Control+Home');
  await expect(field).toHaveAccessibleName(/^Everything, .*%/);
  await page.keyboard.press('F6');
  await expect(field).not.toBeFocused();
  await cell.click();
  await page.keyboard.type('33');
  await page.keyboard.press('Escape');
  await expect(cell).toHaveText('25.0%');
  await expect(field).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(field).not.toBeFocused();

  // A row is found by its name.
  await cell.click();
  await page.keyboard.press('Control+f');
  await page.getByLabel('Find a row').fill('under-sink');
  await expect(field).toHaveAccessibleName(/^Under-sink units, Nov 26/);
  // The next one is folded away: it is brought into sight.
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await expect(field).toHaveAccessibleName(/^Under-sink Base, Nov 26/);
  await page.keyboard.press('Control+f');
  await page.getByLabel('Find a row').fill('nothing of the kind');
  await expect(page.getByText('No row is called “nothing of the kind”')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(field).toBeFocused();

  // The right button offers the same.
  await cell.click({ button: 'right' });
  await page.getByText('Show how it is calculated', { exact: true }).click();
  await expect(planner.trace).toContainText('Discount, November 2026');
  await page.keyboard.press('Space');
  await expect(planner.trace).toBeHidden();
  await cell.click({ button: 'right' });
  await page.getByText('Copy', { exact: true }).click();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe('25');

  // F2 changes what is there; arrows keep a number that is being typed; blocks are filled.
  await cell.click();
  await page.keyboard.press('F2');
  await expect(planner.openField).toHaveValue('25');
  await page.keyboard.type('.5');
  await page.keyboard.press('Enter');
  await expect(cell).toHaveText('25.5%');
  await cell.click();
  await page.keyboard.type('27');
  await page.keyboard.press('ArrowRight');
  await expect(cell).toHaveText('27.0%');
  await expect(field).toHaveAccessibleName(/^Home-goods stores, Dec 26/);
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Control+r');
  await expect(await planner.cell('Home-goods stores', 'Dec 26')).toHaveText('27.0%');
  await expect(page.locator('[data-selection]')).toContainText('2 cells');
});

test('undo takes back the last thing done here, in order, and asks about anything else', async ({
  planner,
}) => {
  const { page, origin } = planner;
  const cellOf = () => planner.cell('Home-goods stores', 'Nov 26');
  await page.goto(`${origin}/w/1/drivers?driver=discount&from=2026-10&to=2027-03`);
  const cell = await cellOf();
  await cell.click();
  // At once after Enter: the edit is kept first, then taken back, and nothing older with it.
  await page.keyboard.type('21');
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.type('22');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-said]')).toContainText('Undone');
  await expect(cell).toHaveText('21.0%');
  await page.keyboard.press('Control+y');
  await expect(cell).toHaveText('22.0%');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(cell).toHaveText('31.0%');

  // After another sign-in nothing is taken back without asking.
  await planner.type(cell, '23');
  await planner.saved();
  await planner.signOut();
  await planner.signIn('planner@ondwell.example', 'plan the year');
  await page.goto(`${origin}/w/1/drivers?driver=discount&from=2026-10&to=2027-03`);
  await expect(await cellOf()).toHaveText('23.0%');
  await page.keyboard.press('Control+z');
  const asks = page.getByRole('dialog');
  await expect(asks).toContainText('“Typed Discount');
  await asks.getByRole('button', { name: 'Cancel' }).click();
  await expect(await cellOf()).toHaveText('23.0%');
});

test('what is typed is meant for what was shown, whatever is shown when it is kept', async ({
  planner,
}) => {
  const { page, origin } = planner;
  // The first edit is on its way for a while; the second waits behind it.
  await page.route('**/drivers/*/values', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 1200));
    await route.continue();
  });
  await page.goto(`${origin}/w/1/drivers?driver=discount&from=2026-10&to=2027-03`);
  await planner.type(await planner.cell('Home-goods stores', 'Nov 26'), '24');
  await planner.type(await planner.cell('Home-goods stores', 'Dec 26'), '23');
  await planner.driver('Return rate');
  await planner.saved();
  const kept = (await planOf(planner)).assumptions.flatMap(({ driver, profile }) =>
    [0.24, 0.23].some((value) => Object.values(profile.values ?? {}).includes(value))
      ? [driver]
      : [],
  );
  expect(new Set(kept)).toEqual(new Set(['discount']));
  await planner.driver('Discount');
  await expect(await planner.cell('Home-goods stores', 'Dec 26')).toHaveText('23.0%');
});

test('a total, and a moment later a part of it, are no clash with oneself', async ({ planner }) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/forecast?from=2026-10&to=2027-03&unit=1&rows=channel,product`);
  const shop = await planner.cell('Web shop', 'Nov');
  const part = await planner.cell('Cartridges', 'Nov');
  await planner.type(shop, '650000');
  await planner.type(part, '211000');
  await planner.saved();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(part).toHaveText('211,000');
  expect((await planOf(planner)).overrides?.length).toBeGreaterThan(1);
});

test('what is typed while the server cannot be reached is kept when it is back', async ({
  planner,
}) => {
  const { page, origin } = planner;
  for (const [room, row, text, shown] of [
    ['drivers?driver=discount', 'Home-goods stores', '24', '24.0%'],
    ['forecast?unit=1000', 'Plans', '123', '123'],
  ] as const) {
    await page.goto(`${origin}/w/1/${room}&from=2026-10&to=2027-03&rows=channel,product`);
    const cell = await planner.cell(row, room.startsWith('d') ? 'Nov 26' : 'Nov');
    await page.context().setOffline(true);
    await planner.type(cell, text);
    await expect(page.locator('[data-saved]')).toContainText('the server cannot be reached');
    await expect(cell).toContainText(text);
    await expect(cell).toHaveClass(/dress-waiting/);
    expect(await warnsOfLeaving(page), 'leaving the page would lose it').toBe(true);
    await page.context().setOffline(false);
    await planner.saved();
    expect(await warnsOfLeaving(page)).toBe(false);
    await expect(cell).toHaveText(shown);
    await page.reload();
    await expect(await planner.cell(row, room.startsWith('d') ? 'Nov 26' : 'Nov')).toHaveText(
      shown,
    );
  }
});
