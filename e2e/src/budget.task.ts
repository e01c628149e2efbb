import { readFile } from 'node:fs/promises';
import { Desk, expect, test } from './ondwell.ts';

test('keep the forecast as a named version, look at it, and compare sales with it', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Forecast');
  const forecast = await planner.figure('Revenue', 'Total');
  await planner.room('Budget');
  await expect(planner.heading).toHaveText('Budget FY 2027 plans 24.5 million');

  const keep = async (name: string): Promise<void> => {
    await page.getByRole('button', { name: 'Save forecast as version' }).click();
    await page.getByRole('dialog').getByLabel('Name').fill(name);
    await page.getByRole('dialog').getByRole('button', { name: 'Save', exact: true }).click();
  };
  await keep('Budget FY 2027');
  await expect(page.getByRole('alert')).toContainText(
    'There is a version "Budget FY 2027" already',
  );
  await page.getByRole('button', { name: 'Cancel' }).click();
  await keep('October view');
  await page.getByRole('button', { name: 'Show October view in all rooms' }).click();
  await expect(planner.heading).toHaveText(/^October view plans/);
  await expect.poll(() => planner.figure('Revenue', 'Total')).toBe(forecast);

  await page.reload();
  await expect(planner.heading).toHaveText(/^October view plans/);
  await planner.room('Comparison');
  // Closed months of the version are the actuals, so there is no difference.
  await expect(planner.heading).toHaveText(/^Six months in, as October view/);
});

test('why the web shop is under budget, in euros by cause, and where the year ends', async ({
  planner,
}) => {
  const { page } = planner;
  await page.goto(`${planner.origin}/w/1/comparison?from=2026-04&to=2027-03&scope=channel:web`);
  await expect(planner.heading).toHaveText(/^Web shop: six months in, .* under Budget FY 2027/);
  await expect(
    page.getByText(/^To reach Budget FY 2027 in FY 2027: .* a month for six/),
  ).toBeVisible();
  const bridge = page.getByRole('table', { name: /^From Budget FY 2027 to Actual/ });
  const figures = async (): Promise<number[]> =>
    (await bridge.locator('td.number').allInnerTexts()).map((text) =>
      Number(text.replace('\u2212', '-').replaceAll(/[^\d.-]/g, '')),
    );
  const addsUp = async (): Promise<void> => {
    const [plan = NaN, ...steps] = await figures();
    const actual = steps.pop();
    expect(steps.length).toBeGreaterThan(2);
    expect(steps.reduce((sum, step) => sum + step, plan)).toBe(actual);
  };
  await addsUp();
  // By driver, in two clicks; what is shown adds up to the same.
  await page.getByRole('button', { name: /^Why/ }).click();
  await page.getByRole('menuitemradio', { name: /^By driver/ }).click();
  await expect(bridge.getByRole('rowheader', { name: /^Discount/ })).toBeVisible();
  await addsUp();
  await page.getByRole('button', { name: /^Why/ }).click();
  await page.getByRole('menuitemradio', { name: /^By item/ }).click();
  // One of the differences by itself, one click on.
  await page
    .getByRole('complementary', { name: 'Largest differences' })
    .getByRole('button')
    .first()
    .click();
  await expect(page.getByRole('button', { name: /^Remove filter Product/ })).toBeVisible();
  await expect(planner.heading).toHaveText(/Budget FY 2027/);

  await page.goto(`${planner.origin}/w/1/comparison?from=2026-04&to=2027-03`);
  await page.getByRole('button', { name: /^Compared/ }).click();
  await page.getByRole('menuitemradio', { name: 'Forecast' }).click();
  await expect(planner.heading).toHaveText(/^The forecast is .* over Budget FY 2027/);
  await page.getByRole('button', { name: /^Version/ }).click();
  await page.getByRole('menuitemradio', { name: 'Last year' }).click();
  await expect(planner.heading).toHaveText(/^The forecast is .* over last year/);
  await expect(page).toHaveURL(/of=forecast&against=lastYear/);
  await expect(bridge).toBeHidden();
  await expect(page.getByRole('table', { name: /^From Last year to Forecast/ })).toBeVisible();
});

test('compare actual with budget by two dimensions and take it out as CSV', async ({ planner }) => {
  const { page } = planner;
  await page.goto(`${planner.origin}/w/1/comparison?from=2026-04&to=2027-03&version=1`);
  await expect(planner.heading).toHaveText(
    /^Six months in, 18\d thousand over Budget FY 2027, most of it in Office sales team$/,
  );
  await expect(page.getByText('both through September 2026')).toBeVisible();
  const web = page.getByRole('row', { name: /Web shop/ }).first();
  // Bad is said by a mark and a sign, not by colour alone.
  await expect(web).toContainText('◇');
  await expect(web).toContainText('\u2212');
  await expect(page.getByRole('row', { name: /Office sales team/ }).first()).toContainText('+');
  await page.getByRole('button', { name: 'Open Carafes' }).first().click();
  await expect(page.getByRole('row', { name: /^Rill glass carafe/ })).toBeVisible();
  // What came in place of another one is shown with it.
  await expect(
    page.getByRole('row', { name: /^Replaced Rill glass carafe for Dew/ }),
  ).toBeVisible();

  const [download] = await Promise.all([
    page.waitForEvent('download'),
    (await planner.inMenu('Save as CSV')).click(),
  ]);
  expect(download.suggestedFilename()).toBe('comparison-2026-04-2026-09.csv');
  const text = await readFile(await download.path(), 'utf8');
  expect(text).toContain(
    'Channel,Product,Period,"Actual, Revenue, EUR","Budget FY 2027, Revenue, EUR","Variance, Revenue, EUR"',
  );
  expect(text).toContain('Web shop,Carafes > Rill glass carafe,2026-04 to 2026-09,');

  await planner.window('Next 12');
  await expect(page.getByText('No closed months in this period')).toBeVisible();
  await page.getByRole('button', { name: 'Show to date' }).click();
  await expect(planner.heading).toHaveText(/over Budget FY 2027/);
});

test('a reader sees everything and changes nothing', async ({ page, origin }) => {
  const reader = new Desk(page, origin);
  await reader.signIn('reader@ondwell.example', 'read the plan');
  await reader.room('Drivers');
  await expect(
    page.getByText('You can read this workspace; planners change its drivers.'),
  ).toBeVisible();
  const cell = await reader.cell('Web shop', 'Oct 26');
  await cell.click();
  await page.keyboard.press('5');
  await expect(reader.openField).toHaveCount(0);
  await reader.room('Targets');
  await expect(page.getByRole('button', { name: /^Add below/ })).toHaveCount(0);
  await reader.room('Budget');
  await expect(page.getByRole('button', { name: 'Save forecast as version' })).toHaveCount(0);
});

test('a wrong password has one message, and the right one goes where one wanted to go', async ({
  page,
  origin,
}) => {
  await page.goto(`${origin}/w/1/comparison?from=2026-04&to=2026-09`);
  await page.getByLabel('E-mail address').fill('planner@ondwell.example');
  await page.getByLabel('Password').fill('wrong');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toHaveText(
    'This e-mail address and password do not belong together',
  );
  await page.getByLabel('Password').fill('plan the year');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page).toHaveURL(/comparison\?from=2026-04&to=2026-09/);
  await page.getByRole('button', { name: 'Skip the tour' }).click();
  await new Desk(page, origin).signOut();
});

test('several versions of a year: one is its budget, others are renamed, compared, put away and deleted', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Budget');
  await page.getByRole('button', { name: 'Save forecast as version' }).click();
  const form = page.getByRole('dialog');
  await form.getByLabel('Name').fill('Outlook');
  await form.getByRole('button', { name: 'Save' }).click();
  // The version in force stays; the new one is a click away.
  await expect(page.getByRole('button', { name: 'Show Outlook in all rooms' })).toBeVisible();
  await expect(planner.heading).toContainText('Budget FY 2027');

  await (await planner.inMenu('All versions')).click();
  const dialog = page.getByRole('dialog', { name: 'Versions' });
  const row = (name: string) => dialog.getByRole('row').filter({ hasText: name });
  await expect(row('Budget FY 2027')).toContainText('the budget of FY 2027, open');
  const act = async (name: string, action: string): Promise<void> => {
    await dialog.getByRole('button', { name: `Actions of ${name}` }).click();
    await page.getByRole('menuitem', { name: action, exact: true }).click();
  };
  await act('Outlook', 'Rename');
  const renaming = page.getByRole('dialog', { name: 'Rename Outlook' });
  await renaming.getByLabel('Name').fill('Outlook autumn');
  await renaming.getByLabel('Purpose').fill('for the board');
  await page.keyboard.press('Enter');
  await expect(row('Outlook autumn')).toContainText('for the board');
  await act('Outlook autumn', 'Make it the budget of FY 2027');
  await expect(row('Outlook autumn')).toContainText('the budget of FY 2027');
  await expect(row('Budget FY 2027').first()).not.toContainText('the budget of');
  await act('Budget FY 2027', 'Archive');
  await expect(row('Budget FY 2027').first()).toContainText('archived');
  await act('Budget FY 2027', 'Compare with Outlook autumn');
  await expect(page).toHaveURL(/comparison\?.*of=version/);
  await expect(planner.heading).toContainText(/Outlook autumn|Budget FY 2027/);
  await planner.room('Budget');
  await expect(planner.heading).toContainText('Outlook autumn');

  // Without one that is in use the room says so, and leads to them.
  await (await planner.inMenu('All versions')).click();
  await act('Outlook autumn', 'Archive');
  await expect(row('Outlook autumn')).toContainText('archived');
  await page.goto(`${planner.origin}/w/1/budget`);
  await expect(planner.heading).toHaveText('Every version is archived');
  await page.getByRole('button', { name: 'All versions' }).click();
  await act('Outlook autumn', 'Restore');
  await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click();
  await expect(planner.heading).toContainText('Outlook autumn');
});

test('small differences are quiet, and only those that matter are listed', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Comparison');
  const listed = page.getByRole('complementary', { name: 'Largest differences' });
  await expect(listed.getByRole('listitem')).toHaveCount(8);
  await page.getByRole('button', { name: /^Differences that matter/ }).click();
  await page.getByLabel('From, €').fill('-5');
  await expect(page.getByText('Enter a number of zero or more')).toBeVisible();
  await page.getByLabel('From, €').fill('100k');
  await page.getByLabel('And from, %').fill('3');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/least=100000&leastShare=3/);
  const choice = page.getByRole('button', { name: /Differences from 100 thousand and 3\.0%/ });
  await expect(choice).toBeVisible();
  const count = await listed.getByRole('listitem').count();
  expect(count).toBeGreaterThan(0);
  expect(count).toBeLessThan(8);
  await expect(page.locator('.plan-grid .slight').first()).toBeVisible();
  await choice.click();
  await page.getByRole('button', { name: 'Show all' }).click();
  await expect(page.locator('.plan-grid .slight')).toHaveCount(0);
});

test('where each channel will end, against budget, target and last year in one table', async ({
  planner,
}) => {
  const { page } = planner;
  await page.goto(`${planner.origin}/w/1/comparison?rows=channel&from=2026-04&to=2027-03`);
  await page.getByRole('button', { name: /^Compared/ }).click();
  await page.getByRole('menuitemradio', { name: 'Forecast' }).click();
  await page.getByRole('button', { name: /^Beside/ }).click();
  await page.getByRole('menuitemcheckbox', { name: 'Target FY 2027' }).click();
  await page.getByRole('menuitemcheckbox', { name: 'Last year', exact: true }).click();
  await page.keyboard.press('Escape');
  await expect(page).toHaveURL(/beside=target,lastYear/);
  await expect(planner.heading).toHaveText(/^The forecast is .* over Budget FY 2027/);
  const forecast = await planner.figure('Web shop', 'Forecast');
  const target = await planner.figure('Web shop', 'Target FY 2027');
  expect(await planner.figure('Revenue', 'Target FY 2027')).toBe(26_500);
  expect(await planner.figure('Web shop', 'Last year')).toBeGreaterThan(1000);

  // The target is that of the web shops of all areas, and a difference says of what it is.
  const cell = await planner.cell('Web shop', 'Target FY 2027');
  await planner.explain(cell);
  await expect(planner.trace).toContainText('North · Web shop');
  await expect(planner.trace).toContainText('set in Targets');
  await page.keyboard.press('Escape');
  const more = cell.locator('xpath=following-sibling::*[@data-cell][1]');
  await expect(more).toContainText(String(Math.abs(forecast - target)));

  const [download] = await Promise.all([
    page.waitForEvent('download'),
    (await planner.inMenu('Save as CSV')).click(),
  ]);
  const text = await readFile(await download.path(), 'utf8');
  expect(text).toContain('"Target FY 2027, Revenue, EUR","Variance from Target FY 2027');

  // Of what has no target, it is said.
  await page.goto(page.url().replace('rows=', 'measure=cost&rows='));
  await expect(page.getByText('FY 2027 has no target in it')).toBeVisible();
  await expect(page.getByRole('columnheader', { name: 'Target FY 2027' })).toBeHidden();
});

test('a number is asked about, answered and resolved, where it stands', async ({
  planner,
  browser,
}) => {
  const { page, origin } = planner;
  const where = `${origin}/w/1/budget?rows=channel&from=2026-10&to=2027-03`;
  await page.goto(where);
  const number = await planner.cell('Web shop', 'Nov');
  await number.click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Comment', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'Comments' });
  await expect(dialog).toContainText('revenue of Web shop, November 2026');
  await expect(dialog.getByRole('textbox')).toBeFocused();
  await page.keyboard.type('Is the fair in here?');
  await page.keyboard.press('Control+Enter');
  await expect(dialog.getByRole('listitem')).toContainText('Is the fair in here?');
  await page.keyboard.type('Yes, from the 12th on');
  await dialog.getByRole('button', { name: 'Comment' }).click();
  await expect(dialog.getByRole('listitem')).toHaveCount(2);
  await page.keyboard.press('Escape');
  await expect(number.getByRole('img', { name: 'commented' })).toBeVisible();

  // On paper, where nobody can open them, comments stand below the table.
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByText('Yes, from the 12th on')).toBeVisible();
  await page.emulateMedia({ media: 'screen' });

  // A reader reads it, and says nothing.
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const reader = new Desk(await context.newPage(), origin);
  await reader.enter('reader@ondwell.example', 'read the plan');
  await reader.page.goto(where);
  await (await reader.inMenu('All comments, 1 open')).click();
  await reader.page.getByRole('button', { name: /^Web shop, revenue, November/ }).click();
  const read = reader.page.getByRole('dialog', { name: 'Comments' });
  await expect(read.getByRole('listitem').first()).toContainText('Mara Ellingsen');
  await expect(read.getByRole('textbox')).toHaveCount(0);

  // Resolved, its mark is gone, on the other screen too; undo brings it back.
  await number.click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Comment', exact: true }).click();
  await dialog.getByRole('button', { name: 'Resolve' }).click();
  await expect(number.getByRole('img', { name: 'commented' })).toBeHidden();
  await reader.page.keyboard.press('Escape');
  await expect(
    (await reader.cell('Web shop', 'Nov')).getByRole('img', { name: 'commented' }),
  ).toBeHidden();
  await number.click();
  await page.keyboard.press('Control+z');
  await expect(number.getByRole('img', { name: 'commented' })).toBeVisible();
  await context.close();
});

test('what deserves a second look in a budget is listed, shown at its line, and dismissed with a reason', async ({
  planner,
}) => {
  const { page, origin } = planner;
  const room = `${origin}/w/1/budget?rows=channel&from=2026-10&to=2027-03`;
  await page.goto(room);
  // Six months of the web shop at three times their prices.
  await planner.type(await planner.cell('Web shop', 'Total'), '+200%');
  await planner.saved();
  const waits = page.locator('.plan-grid .waits').filter({ hasText: 'Web shop' });
  await expect(waits).toBeVisible();
  await (await planner.inMenu(/^What to check, \d/)).click();
  const dialog = page.getByRole('dialog', { name: 'What to check' });
  const growth = dialog.getByRole('listitem').filter({ hasText: 'Unusual growth' });
  await expect(growth).toContainText('Web shop');
  await expect(growth).toContainText(/is planned; the last twelve months grew/);
  const price = dialog.getByRole('listitem').filter({ hasText: 'Unusual price' });
  await expect(price).toContainText(/€ a unit is planned; the nearest price of any month was/);
  for (const check of [growth, price]) {
    await check.getByRole('button', { name: 'Dismiss with a reason' }).click();
    await dialog.getByLabel('Reason').fill('A chain lists us from October');
    await page.keyboard.press('Enter');
    await expect(check).toContainText('Dismissed by Mara Ellingsen: A chain lists us from October');
  }
  await dialog.getByRole('button', { name: 'Web shop' }).first().click();
  await expect(page).toHaveURL(/scope=channel:web/);
});
