import { expect, FAULTY_FILE, test } from './ondwell.ts';

test('a morning’s work in every room is still there after signing out and in again', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await planner.room('Actuals');
  await page.getByLabel('File to import').setInputFiles(FAULTY_FILE);
  await page.getByRole('button', { name: 'Import 9 rows' }).click();
  await expect(page.getByText('9 rows of sales-with-faults.csv are imported')).toBeVisible();
  const sold = await planner.figure('Revenue', 'Oct to date');

  await planner.room('Drivers');
  await page.getByRole('tab', { name: 'Return rate' }).click();
  const returns = await planner.cell('Home-goods stores', 'Jan 27');
  await planner.type(returns, '9.5');
  await expect(returns).toHaveText('9.5%');
  await planner.saved();

  await planner.room('Forecast');
  const january = await planner.figure('Revenue', 'Jan');
  await planner.room('Targets');
  const share = await planner.cell('Lakes', 'Share');
  await planner.type(share, '18.5');
  await expect(share).toHaveText('18.5%');
  const unassigned = await planner.heading.innerText();

  await planner.room('Budget');
  await page.getByRole('button', { name: 'Save forecast as version' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill('Morning view');
  await page.getByRole('dialog').getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('button', { name: 'Show Morning view in all rooms' }).click();
  await expect(planner.heading).toHaveText(/^Morning view plans/);
  const kept = await planner.figure('Revenue', 'Total');

  await planner.signOut();
  await page.context().clearCookies();
  await planner.signIn('planner@ondwell.example', 'plan the year');

  await planner.room('Forecast');
  await expect.poll(() => planner.figure('Revenue', 'Jan')).toBe(january);
  await planner.room('Actuals');
  await expect.poll(() => planner.figure('Revenue', 'Oct to date')).toBe(sold);
  await planner.room('Drivers');
  await page.getByRole('tab', { name: 'Return rate' }).click();
  await expect(await planner.cell('Home-goods stores', 'Jan 27')).toHaveText('9.5%');
  await planner.room('Targets');
  await expect(planner.heading).toHaveText(unassigned);
  await page.goto(`${origin}/w/1/budget?from=2026-04&to=2027-03`);
  await page.getByRole('button', { name: /^Version/ }).click();
  await page.getByRole('menuitemradio', { name: 'Morning view' }).click();
  await expect.poll(() => planner.figure('Revenue', 'Total')).toBe(kept);
});

test('move the window by its ends, by mouse and by keyboard', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Forecast');
  const end = page.getByRole('slider', { name: 'Period ends' });
  await end.focus();
  await page.keyboard.press('ArrowLeft');
  await expect(page).toHaveURL(/from=2026-04&to=2027-02/);
  const start = page.getByRole('slider', { name: 'Period starts' });
  const strip = await page.getByRole('group', { name: 'Months', exact: true }).boundingBox();
  const handle = await start.boundingBox();
  if (!strip || !handle) throw new Error('the horizon is not on the screen');
  const month = strip.width / 72;
  await page.mouse.move(handle.x + handle.width / 2, handle.y + 10);
  await page.mouse.down();
  await page.mouse.move(handle.x + handle.width / 2 + month * 2.5, handle.y + 10, { steps: 5 });
  await page.mouse.up();
  await expect(page).toHaveURL(/from=2026-06&to=2027-02/);
  await expect(page.getByText('Revenue, thousand €, June 2026 to February 2027')).toBeVisible();
});
