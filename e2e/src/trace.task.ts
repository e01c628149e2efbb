import { expect, test } from './ondwell.ts';

test('ask of a number where it comes from, down to what is assumed, what was sold, and where it is set', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Forecast');
  const december = await planner.cell('Web shop', 'Dec');
  const shown = await planner.figure('Web shop', 'Dec');
  await planner.explain(december);
  await expect(planner.trace).toContainText('Web shop');
  await expect(planner.trace).toContainText('Revenue, December 2026');
  await expect.poll(async () => Math.round((await planner.traced()) / 1000)).toBe(shown);

  // Step by step down to a single stream, then to its drivers.
  for (const step of ['Tap units', 'Tap unit Duo']) {
    await planner.trace.getByRole('button', { name: step, exact: true }).click();
    await expect(planner.trace.getByRole('heading', { level: 3 }).first()).toContainText(step);
  }
  await planner.trace.getByRole('button', { name: 'North', exact: true }).click();
  for (const driver of ['Gross units', 'Return rate', 'List price', 'Discount']) {
    await expect(planner.trace).toContainText(driver);
  }
  await planner.trace.getByRole('button', { name: 'List price' }).click();
  await expect(planner.trace).toContainText('Inputs used');
  await planner.trace.getByRole('link').first().click();
  await expect(page).toHaveURL(/\/drivers\?.*driver=listPrice/);

  // By keyboard: Space shows and closes it, on whatever cell one stands.
  await page.goto(`${planner.origin}/w/1/actuals?from=2026-04&to=2027-03`);
  const september = await planner.cell('Home-goods stores', 'Sep');
  await planner.explain(september);
  await expect(planner.trace).toContainText('sales lines');
  await expect(planner.trace.getByRole('row')).not.toHaveCount(0);
  await page.keyboard.press('Space');
  await expect(planner.trace).toBeHidden();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Space');
  await expect(planner.trace).toContainText('August 2026');
});

test('every room explains its numbers', async ({ planner }) => {
  const { page, origin } = planner;
  const year = 'from=2026-04&to=2027-03';
  await page.goto(`${origin}/w/1/standing?${year}`);
  await planner.explain(page.locator('[data-grid="standing"] [data-cell]').first());
  await expect(planner.trace).toContainText('sales lines');
  await expect.poll(async () => Math.round((await planner.traced()) / 1000)).toBe(13_250);

  await page.goto(`${origin}/w/1/comparison?${year}`);
  await planner.explain(await planner.cell('Web shop', 'Variance'));
  await expect(planner.trace).toContainText('Actual');
  await expect(planner.trace).toContainText('Plan');
  await planner.trace.getByRole('button', { name: 'Plan', exact: true }).click();
  await expect(planner.trace).toContainText('Saved value and entries since');

  await page.goto(`${origin}/w/1/targets?${year}`);
  await planner.explain(await planner.cell('Lakes', 'Share'));
  await expect(planner.trace).toContainText('Target of Ondwell');
  await expect(planner.trace).toContainText('entered by Mara Ellingsen');
  await (await planner.cell('Ivo Tarnow', 'Forecast')).click();
  await expect(planner.trace).toContainText('Share of it, as of the last twelve closed months');
  // What the parts leave is explained by them.
  await (await planner.cell('Unassigned', 'Target')).click();
  await expect(planner.trace).toContainText('Unassigned of North');
  await expect(planner.trace).toContainText('Targets below North');

  await page.goto(`${origin}/w/1/drivers?driver=discount&from=2026-10&to=2027-03`);
  await planner.explain(await planner.cell('Web shop', 'Nov 26'));
  await expect(planner.trace).toContainText(
    'The average of its parts, weighted by revenue at list price',
  );

  await page.goto(`${origin}/w/1/budget?${year}`);
  await planner.explain(await planner.cell('Revenue', 'Total'));
  await expect(planner.trace).toContainText('Saved revenue');
});
