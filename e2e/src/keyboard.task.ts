import { expect, test, type Desk } from './ondwell.ts';

/** Presses keys, one after the other. */
async function press({ page }: Desk, ...keys: string[]): Promise<void> {
  for (const key of keys) await page.keyboard.press(key);
}

test('a whole morning by keyboard alone: a driver, its forecast, a target, and taken back', async ({
  planner,
}) => {
  const { page, origin } = planner;
  const field = page.locator('.field');
  await page.goto(`${origin}/w/1/standing?from=2026-10&to=2027-03`);
  await expect(page.locator('[data-grid="standing"] [data-cell]').first()).toBeVisible();

  // Where do we stand? Into the table, to the number that is off, and why.
  await press(planner, 'F6');
  await expect(page.locator('[data-grid="standing"] .field')).toBeFocused();
  await press(planner, 'End', 'Space');
  await expect(planner.trace).toContainText('Difference');
  await press(planner, 'Escape');
  await expect(planner.trace).toBeHidden();
  // Out of it, and into the next table of the room.
  await press(planner, 'F6', 'F6');
  await expect(page.locator('[data-grid="changes"] .field')).toBeFocused();

  // A driver is changed in three months.
  await press(planner, 'Control+k');
  await page.keyboard.type('discount');
  await press(planner, 'Enter');
  await expect(page).toHaveURL(/driver=discount/);
  await expect(page.locator('[data-grid="drivers"] [data-cell]').first()).toBeVisible();
  await press(planner, 'F6', 'Control+f');
  await page.keyboard.type('trade partners');
  await press(planner, 'Escape');
  await expect(field).toHaveAccessibleName(/^Trade partners, Average/);
  // What follows from the months says so.
  await page.keyboard.type('3');
  await expect(page.locator('[data-said]')).toContainText('Average is calculated from the months');
  await press(planner, 'ArrowRight');
  for (const value of ['21', '22', '23']) {
    await page.keyboard.type(value);
    await press(planner, 'Tab');
  }
  // Each would make different values equal: all three wait for one answer, given by keyboard too.
  const asks = page.getByRole('alert').filter({ hasText: 'one discount for' });
  await expect(asks).toContainText('October 2026');
  await expect(asks).toContainText('December 2026');
  await asks.getByRole('button').first().focus();
  await press(planner, 'Enter');
  await planner.saved();
  for (const [month, text] of [
    ['Oct 26', '21.0%'],
    ['Nov 26', '22.0%'],
    ['Dec 26', '23.0%'],
  ] as const) {
    await expect(await planner.cell('Trade partners', month)).toHaveText(text);
  }
  await press(planner, 'F6');

  // What can be done with a cell, by its key.
  await press(planner, 'Home', 'ArrowRight', 'Shift+F10');
  const menu = page.getByRole('menu', { name: 'Actions for the selected cells' });
  await expect(menu).toBeVisible();
  await press(planner, 'Escape');
  await expect(menu).toBeHidden();
  await expect(field).toBeFocused();

  // A target, in its own room; Space explains it, and the trace follows.
  await press(planner, 'g', '6');
  await expect(page).toHaveURL(/targets/);
  await expect(page.locator('[data-grid="targets"] [data-cell]').first()).toBeVisible();
  await press(planner, 'F6', 'Control+f');
  await page.keyboard.type('ivo');
  await press(planner, 'Escape', 'ArrowRight');
  await expect(field).toHaveAccessibleName(/^Ivo Tarnow, Share, 34.0%/);
  await page.keyboard.type('+1pt');
  await press(planner, 'Enter', 'ArrowUp');
  await planner.saved();
  await expect(field).toHaveAccessibleName(/^Ivo Tarnow, Share, 35.0%/);
  await press(planner, 'Space');
  await expect(planner.trace).toContainText('Share of Ivo Tarnow');
  await press(planner, 'Escape', 'Control+z');
  await expect(field).toHaveAccessibleName(/^Ivo Tarnow, Share, 34.0%/);
});

/** Presses Tab until what is named has the focus. */
async function reach({ page }: Desk, name: RegExp): Promise<void> {
  const passed: string[] = [];
  for (let tabs = 0; tabs < 80; tabs += 1) {
    const here = await page.evaluate(() => {
      const { activeElement: at } = document;
      const labels = at instanceof HTMLInputElement ? [...(at.labels ?? [])] : [];
      const text = at instanceof HTMLElement && at !== document.body ? at.innerText : '';
      return (at?.getAttribute('aria-label') ?? labels[0]?.innerText ?? text).trim();
    });
    if (name.test(here)) return;
    passed.push(here);
    await page.keyboard.press('Tab');
  }
  throw new Error(`${name.source} was not reached by Tab: ${passed.join(' | ')}`);
}

test('in every room by keyboard alone: import, filter, order, versions, comparison, people', async ({
  planner,
}) => {
  const { page, origin } = planner;
  const heading = page.getByRole('heading', { level: 1 });
  const dialog = page.getByRole('dialog');
  const goTo = async (place: string): Promise<void> => {
    await page.goto(`${origin}/w/1/${place}`);
    await expect(heading).toBeVisible();
  };

  // A file of sales lines comes in.
  await goTo('actuals');
  page.on('filechooser', (chooser) => void chooser.setFiles('sample/try/sales-with-faults.csv'));
  await reach(planner, /^Import file$/);
  await press(planner, 'Enter');
  await expect(heading).toHaveText(/9 of 17 rows can be imported/);
  // The button that opened the file is gone: the keyboard goes on at the top of the new page.
  await expect(heading).toBeFocused();
  await reach(planner, /^Import 9 rows/);
  await press(planner, 'Enter');
  await expect(
    page.getByRole('status').filter({ hasText: '9 rows of sales-with-faults.csv are imported' }),
  ).toBeVisible();

  // The scope is narrowed by a member, and widened again.
  await goTo('forecast?from=2026-10&to=2027-03');
  await reach(planner, /^Filter$/);
  await press(planner, 'Enter', 'ArrowDown', 'Enter');
  await expect(page).toHaveURL(/scope=channel:web/);
  await press(planner, 'Escape');

  // Rows are put in order by the menu of the cell.
  await press(planner, 'F6', 'ArrowRight', 'Shift+F10');
  const menu = page.getByRole('menu', { name: 'Actions for the selected cells' });
  const sort = menu.getByRole('menuitem', { name: 'Sort by Oct', exact: true });
  await expect(sort).toBeVisible();
  await press(planner, 'End');
  for (let up = 0; up < 12 && !(await sort.evaluate((one) => one.matches(':focus'))); up += 1) {
    await press(planner, 'ArrowUp');
  }
  await press(planner, 'Enter');
  await expect(page).toHaveURL(/order=2026-10/);
  await expect(page.locator('.field')).toBeFocused();

  // The forecast is kept as a version, and sales are held against it.
  await goTo('budget?from=2026-10&to=2027-03');
  await reach(planner, /^Save forecast as version$/);
  await press(planner, 'Enter');
  await expect(dialog.getByLabel('Name')).toBeFocused();
  await press(planner, 'Control+a');
  await page.keyboard.type('Outlook by keys');
  await press(planner, 'Enter');
  await expect(dialog).toBeHidden();
  await goTo('comparison?from=2026-04&to=2027-03');
  await reach(planner, /^Version: against/);
  await press(planner, 'Enter');
  await expect(page.getByRole('menuitemradio', { name: /Outlook by keys/ })).toBeVisible();
  await page.getByRole('menuitemradio', { name: /Outlook by keys/ }).focus();
  await press(planner, 'Enter');
  await expect(
    page.getByRole('button', { name: 'Version: against Outlook by keys' }),
  ).toBeVisible();

  // Somebody is invited.
  await goTo('settings');
  await reach(planner, /^(Invite|Add person)/);
  await press(planner, 'Enter');
  await expect(dialog.getByLabel('Name')).toBeFocused();
  await page.keyboard.type('Runa Halvik');
  await press(planner, 'Tab');
  await page.keyboard.type('runa@ondwell.example');
  await press(planner, 'Enter');
  const link = page.getByRole('dialog', { name: 'Link for Runa Halvik' });
  await expect(link).toContainText('It is shown only once');
  await press(planner, 'Escape');
  await expect(link).toBeHidden();
});
