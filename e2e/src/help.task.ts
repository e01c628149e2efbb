import type { Locator } from '@playwright/test';
import { expect, test } from './ondwell.ts';

const focused = (locator: Locator) => expect(locator).toBeFocused();

test('help beside each room, the tour again, and a way past the rail', async ({ planner }) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/drivers?driver=discount&from=2026-04&to=2027-03`);
  await expect(planner.firstFigure).toBeVisible();
  await expect(page).toHaveTitle('Drivers · Ondwell · Dravex');
  await page.keyboard.press('Tab');
  await focused(page.getByRole('link', { name: 'Skip to the room' }));
  await page.keyboard.press('Enter');
  await focused(page.locator('main'));
  await page.keyboard.press('F1');
  const help = page.getByRole('complementary', { name: /^Help: / });
  await expect(help).toContainText('The assumptions of the forecast');
  await expect(help.getByRole('listitem')).toHaveCount(3);
  await expect(help).toContainText('Ctrl D, Ctrl R');
  await planner.room('Comparison');
  await expect(help).toContainText('Actual sales, the forecast, a version');
  // One at a time beside a room: the trace takes its place.
  await planner.explain(page.getByRole('gridcell').filter({ hasText: /\d/ }).first());
  await expect(help).toBeHidden();
  await page.keyboard.press('Escape');
  await page.locator('h1').click();
  await page.keyboard.press('F1');
  await help.getByRole('button', { name: 'Take the tour' }).click();
  await expect(page.getByRole('dialog', { name: 'Welcome to Dravex' })).toBeVisible();
  await page.keyboard.press('Escape');
  await focused(help.getByRole('button', { name: 'Take the tour' }));
});

test('a dialog that is left gives the focus back to where it was', async ({ planner }) => {
  const { page, origin } = planner;
  const leave = async (opener: Locator): Promise<void> => {
    await opener.focus();
    await page.keyboard.press('Enter');
    const dialog = page.getByRole('dialog');
    await expect(dialog).toHaveAccessibleName(/./);
    // A key that comes with the very frame in which it is drawn is not yet the dialog's.
    await expect(async () => {
      await page.keyboard.press('Escape');
      await expect(dialog).toBeHidden({ timeout: 3000 });
    }).toPass();
    await focused(opener);
  };
  await page.goto(`${origin}/w/1/budget?from=2026-04&to=2027-03`);
  await leave(page.getByRole('button', { name: 'Save forecast as version' }));
  await leave(page.getByRole('button', { name: 'Copy with uplift' }));
  await page.goto(`${origin}/w/1/forecast?from=2026-04&to=2027-03`);
  await leave(page.getByRole('button', { name: 'Add forecast lines', exact: true }));
  await page.goto(`${origin}/w/1/drivers?driver=discount&from=2026-10&to=2027-03`);
  await leave(page.getByRole('button', { name: 'Limits' }));
  await leave(page.getByRole('button', { name: 'Add driver' }));
  await page.goto(`${origin}/w/1/settings`);
  await leave(page.getByRole('button', { name: 'Invite person' }));
  await leave(page.getByRole('button', { name: 'Change password' }));
  await page.goto(`${origin}/w/1/dimensions`);
  await leave(page.getByRole('button', { name: 'Add dimension' }));
});

test('at twice the size everything is still within reach', async ({ planner }) => {
  const { page, origin } = planner;
  // 1280 x 800 at 200 %.
  await page.setViewportSize({ width: 640, height: 400 });
  for (const room of ['standing', 'actuals', 'drivers', 'forecast', 'targets', 'budget']) {
    await page.goto(`${origin}/w/1/${room}?from=2026-04&to=2027-03`);
    await expect(planner.firstFigure).toBeAttached();
    for (const name of ['More actions', 'Filter', 'Sign out']) {
      const button = page.getByRole('button', { name, exact: true });
      if (room === 'standing' || name !== 'Filter') await button.scrollIntoViewIfNeeded();
      await expect(button, `${name} in ${room}`).toBeInViewport();
    }
    await planner.firstFigure.scrollIntoViewIfNeeded();
    await expect(planner.firstFigure, room).toBeInViewport();
  }
});
