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
