import { expect, test } from './ondwell.ts';

test('type over the forecast with a reason, see it stand, explained and dropped', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Forecast');
  const before = await planner.figure('Home-goods stores', 'Dec');
  await page.getByLabel('Reason for the override').fill('agreed with the chain');
  await planner.type(await planner.cell('Home-goods stores', 'Dec'), '700k');
  await expect(page.getByText(/\d+ cells overridden, in proportion/)).toBeVisible();
  await expect.poll(() => planner.figure('Home-goods stores', 'Dec')).toBe(700);
  await planner.type(await planner.cell('Home-goods stores', 'Jun'), '1');
  await expect(page.getByRole('alert')).toContainText('This month is closed');

  // It stands when a driver changes.
  await planner.room('Drivers');
  await planner.driver('Discount');
  await planner.type(await planner.cell('Home-goods stores', 'Dec 26'), '40');
  await planner.saved();
  await planner.room('Forecast');
  expect(await planner.figure('Home-goods stores', 'Dec')).toBe(700);

  await page.getByRole('button', { name: /^\d+ overrides$/ }).click();
  const list = page.getByRole('complementary', { name: 'Manual overrides' });
  await expect(list).toContainText('“agreed with the chain” Mara Ellingsen');
  await list.getByRole('button', { name: /^Remove all/ }).click();
  await expect(page.getByRole('button', { name: 'No overrides' })).toBeVisible();
  expect(await planner.figure('Home-goods stores', 'Dec')).not.toBe(700);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: /^\d+ overrides$/ })).toBeVisible();
  await expect
    .poll(() => planner.figure('Home-goods stores', 'Dec'), { message: 'it is back' })
    .toBe(700);
  expect(before).not.toBe(700);
});

test('forecast chosen months anew, see it before it is taken, and undo it', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Forecast');
  const before = await planner.figure('Home-goods stores', 'Dec');
  await page.getByRole('button', { name: 'Methods' }).click();
  const panel = page.getByRole('complementary', { name: 'Forecast methods' });
  await panel.getByLabel('Find forecast line').fill('Home-goods');
  await panel.getByLabel(/^All \d+$/).check();
  await panel.getByRole('button', { name: 'Selected months' }).click();
  await panel.getByLabel('From', { exact: true }).fill('2026-12');
  await panel.getByLabel('to', { exact: true }).fill('2026-08');
  await expect(panel).toContainText('The last month is before the first');
  await panel.getByLabel('to', { exact: true }).fill('2026-12');
  await planner.choose(panel.getByLabel('Forecast from'), 'Nothing: leave the months blank');
  await expect(panel.getByRole('row', { name: /Dec 26/ })).toContainText('0');
  await panel.getByLabel('Reason (optional)').fill('the chain closes for a month');
  await panel.getByRole('button', { name: 'Reforecast these months' }).click();
  await expect.poll(() => planner.figure('Home-goods stores', 'Dec')).toBe(0);
  await expect(panel).toContainText('December 2026 reforecast');
  await page.keyboard.press('Control+z');
  await expect.poll(() => planner.figure('Home-goods stores', 'Dec')).toBe(before);
});

test('a driver of one’s own by a formula, a profile for it, and a stream that reads it', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Drivers');
  const add = async (name: string, fields: () => Promise<void>): Promise<void> => {
    await page.getByRole('button', { name: 'Add driver' }).click();
    await page.getByLabel('Name', { exact: true }).fill(name);
    await fields();
    await page.getByRole('dialog').getByRole('button', { name: 'Add driver' }).click();
    await expect(page.getByRole('tab', { name, exact: true })).toHaveAttribute(
      'aria-selected',
      'true',
    );
  };
  await add('Flyer spend', async () => {
    await planner.choose(page.getByLabel('Values are'), 'an amount of money');
    await page.getByLabel('Default without an input').fill('6000');
  });
  // Nothing reads it yet; it has a table all the same, in which it can be set.
  await expect(await planner.cell('Everything', 'Oct 26')).toBeVisible();
  await add('Visits', async () => {
    await page.getByRole('textbox', { name: 'Unit' }).fill('visits');
    const formula = page.getByRole('textbox', { name: 'Formula', exact: true });
    await formula.fill('flyerSpend / listPrice');
    await expect(page.getByText('the formula comes to unit, the driver is visit')).toBeVisible();
    await expect(
      page.getByRole('dialog').getByRole('button', { name: 'Add driver' }),
    ).toBeDisabled();
    await formula.fill('flyerSp');
    await page.getByRole('button', { name: 'flyerSpend', exact: true }).click();
    await formula.fill('if(flyerSpend > 5k, 1, 2)');
    await expect(page.getByText(/was not expected here/)).toBeVisible();
    await formula.fill('if(flyerSpend > 5000, 1200, 800)');
    await expect(page.getByText('First open months: 1,200, 1,200')).toBeVisible();
  });

  // A stream takes them up by a formula of its own; what it would make is seen first.
  await page.getByRole('navigation').getByRole('link', { name: 'Forecast' }).click();
  await page.getByRole('button', { name: 'Methods' }).click();
  const methods = page.getByRole('complementary', { name: 'Forecast methods' });
  await methods.getByLabel('Find forecast line').fill('Refill plan, monthly');
  await methods.getByRole('checkbox', { name: /^All/ }).check();
  await planner.choose(methods.getByLabel(/^Method of/), 'Formula');
  await methods.getByLabel('Revenue =').fill('visits * nothing');
  await expect(methods.getByText(/reads the driver "nothing"/).first()).toBeVisible();
  await methods.getByRole('button', { name: 'Use method' }).click();
  await expect(methods.getByRole('alert')).toContainText('which is not there');
  await methods.getByLabel('Revenue =').fill('visits + flyerSpend / 10');
  await expect(methods.getByText(/visit and money cannot be added/).first()).toBeVisible();
  await methods.getByLabel('Units =').fill('visits * 2');
  await methods.getByLabel('Revenue =').fill('flyerSpend / 10');
  await expect(methods.getByText(/Next twelve months:/)).toBeVisible();
  await methods.getByRole('button', { name: 'Use method' }).click();
  await expect(methods.getByRole('alert')).toBeHidden();
  await expect(methods.getByText('Formula', { exact: true }).first()).toBeVisible();
  await planner.saved();

  // The profile of the driver moves them.
  await planner.room('Drivers');
  await planner.driver('Flyer spend');
  await page.getByRole('button', { name: 'Growth and season' }).click();
  const profile = page
    .getByRole('complementary')
    .filter({ has: page.getByRole('form', { name: 'Growth and season' }) });
  await planner.choose(profile.getByLabel('Set as'), 'Yearly total with season');
  await profile.getByLabel('Total', { exact: true }).fill('120k'.replace('k', '000'));
  await profile.getByLabel('Reason').fill('the plan of marketing');
  await profile.getByRole('button', { name: 'Set', exact: true }).click();
  await expect(profile.getByText('“the plan of marketing”')).toBeVisible();
  await expect.poll(() => planner.figure('Everything', 'Dec 26')).toBe(10_000);
  await page.keyboard.press('Control+z');
  await expect(profile.getByText('“the plan of marketing”')).toBeHidden();
});

test('a baseline proposed by its league, for many streams at once, and taken back', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Forecast');
  const before = await planner.figure('Web shop', 'Jan');
  await page.getByRole('button', { name: 'Methods' }).click();
  const methods = page.getByRole('complementary', { name: 'Forecast methods' });
  await methods.getByLabel('Find forecast line').fill('Web shop');
  await methods.getByRole('checkbox', { name: /^All/ }).check();
  await planner.choose(methods.getByLabel(/^Method of/), 'Funnel');
  const buys = methods.getByRole('group', { name: 'Step Buys' });
  await planner.choose(
    methods.getByRole('group', { name: 'Source Visits' }).getByLabel('Volume'),
    'one times the other',
  );
  await planner.choose(
    methods.getByRole('group', { name: 'Source Visits' }).getByLabel('Driver 2'),
    'Discount',
  );
  await planner.choose(buys.getByLabel('Conversion'), 'Return rate');
  await buys.getByLabel('Months later').fill('1');
  await buys.getByLabel('Months later').press('Tab');
  await expect(
    methods.getByText(/under way before Buys is missing: 1 months/).first(),
  ).toBeVisible();
  await buys.getByLabel('Already under way, oldest first').fill('250');
  await buys.getByLabel('Already under way, oldest first').press('Tab');
  await expect(methods.getByText(/is missing: 1 months/)).toHaveCount(0);
  await methods.getByRole('button', { name: 'Add source' }).click();
  await planner.choose(
    methods.getByRole('group', { name: 'Source Another source' }).getByLabel('Enters'),
    'after Buys',
  );
  await expect(methods.getByText(/Next twelve months:/)).toBeVisible();
  await planner.choose(methods.getByLabel(/^Method of/), 'Statistical baseline');
  const table = methods.getByRole('table', { name: /^Accuracy/ });
  await expect(table.getByRole('row')).toHaveCount(8);
  await expect(table.locator('tr.best')).toHaveCount(1);
  await expect(methods.getByText(/Next twelve months:/)).toBeVisible();
  await methods.getByRole('button', { name: 'Use method' }).click();
  // All of the web shop is fitted to its history; that takes a busy machine its time.
  await expect(methods.locator('li').first()).toContainText('Statistical baseline');
  await page.getByRole('button', { name: 'Close: Forecast methods' }).click();
  await expect.poll(() => planner.figure('Web shop', 'Jan')).not.toBe(before);
  await planner.explain(await planner.cell('Home-goods stores', 'Jan'));
  await expect(planner.trace).toContainText('The sum of');
  await planner.trace.getByRole('button', { name: /1% more of each driver/ }).click();
  await expect(planner.trace.getByRole('link', { name: 'List price' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect.poll(() => planner.figure('Web shop', 'Jan')).toBe(before);
});

test('subscriptions by cohort: what comes, who leaves, and where it leads', async ({ planner }) => {
  const { page } = planner;
  const place = (scope: string, more = ''): string =>
    `${planner.origin}/w/1/forecast?scope=product:plan-month,region:${scope}&from=2026-10&to=2027-03${more}`;

  // A line becomes a subscription, and what it lacks is set where it is named.
  await page.goto(place('capital'));
  await expect(planner.firstFigure).toBeVisible();
  await page.getByRole('button', { name: 'Methods' }).click();
  const panel = page.getByRole('complementary', { name: 'Forecast methods' });
  await planner.choose(panel.getByLabel(/^Method of/), 'Subscription');
  await panel.getByRole('button', { name: 'Use method' }).click();
  const steps = page.getByRole('list', { name: 'Next steps' });
  await expect(steps).toContainText('1 forecast line lacks new subscribers');
  await steps.getByRole('link', { name: 'set new subscribers' }).click();
  await page.getByRole('button', { name: 'Growth and season' }).click();
  const set = async (value: string): Promise<void> => {
    const form = page.getByRole('form', { name: 'Growth and season' });
    await form.getByLabel(/^Value/).fill(value);
    await form.getByRole('button', { name: 'Set', exact: true }).click();
    await planner.saved();
  };
  await set('120');
  await planner.driver('Churn');
  await set('4');
  await page.goto(place('capital', '&chart=subscriptions'));
  const leads = page.getByRole('status').filter({ hasText: 'level off' });
  await expect(leads).toHaveText(
    /^At 120 new a month and 4\.0% churn, subscribers level off at 3,000; nine tenths of it are reached in November 2027\.$/,
  );
  const shown = page.getByRole('region', { name: 'Subscriptions' });
  await expect(shown.getByRole('row', { name: /^Active subscribers/ })).toBeVisible();
  await page.getByRole('button', { name: 'Cohorts' }).click();
  await expect(shown.getByRole('row', { name: /^Sep 26 there before/ })).toBeVisible();
  await page.getByRole('button', { name: 'Percent kept' }).click();
  await expect(shown.getByRole('row', { name: /^Oct 26/ })).toContainText('96.0%');
  const saving = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as CSV' }).click();
  expect((await saving).suggestedFilename()).toBe('Cohorts.csv');

  // A number of it explains itself.
  await page.goto(place('north', '&measures=units'));
  await planner.explain(await planner.cell('Units', 'Nov'));
  await expect(planner.trace).toContainText('Subscribers before');
  await expect(planner.trace).toContainText('Less lost');
});
