import { expect, test, type Desk } from './ondwell.ts';

/** A number of the subscriptions' table: by the row's name and the place of its column, 0 for the total. */
async function subscribed({ page }: Desk, row: RegExp, column: number): Promise<number> {
  const cells = page
    .getByRole('region', { name: 'Subscriptions' })
    .getByRole('row', { name: row })
    .getByRole('cell');
  const text = await cells.nth(column).innerText();
  return Number(text.replaceAll(/[^\d.\-\u2212]/g, '').replace('\u2212', '-'));
}

test('the cohort that leaves faster is found, and churn is forecast without it', async ({
  planner,
}) => {
  const { page } = planner;
  await planner.room('Actuals');
  await page.getByRole('tab', { name: 'Subscribers' }).click();
  await expect(planner.heading).toHaveText(
    /^9,547 subscribers at the end of September 2026, 99 fewer than before April 2026$/,
  );
  await page.getByRole('button', { name: 'Cohorts', exact: true }).click();
  await expect(planner.heading).toHaveText(
    /^Those who started in March 2026 leave faster: 6\d\.\d% have left, of those before 1\d\.\d% had$/,
  );
  const cohorts = page.getByRole('table', { name: 'Cohorts by months after the start' });
  await expect(cohorts.getByRole('row', { name: /^Mar 26/ })).toContainText('leaves faster');
  await page.getByRole('button', { name: 'Churn by age' }).click();
  await expect(planner.heading).toHaveText(/^Subscribers leave at 3\.5% in the first month/);
  await page.getByLabel(/^Leave out March 2026/).check();
  await expect(planner.heading).toHaveText(
    /^Subscribers leave at 3\.1% a month; 6\d\.\d% are still there after 12 months$/,
  );
  const saving = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as workbook' }).click();
  expect((await saving).suggestedFilename()).toBe('Subscribers.xlsx');

  // The forecast counts it in; by the records of the others fewer leave.
  const chart = `${planner.origin}/w/1/forecast?scope=product:plan-month,region:north&from=2026-10&to=2027-03&chart=subscriptions`;
  await page.goto(chart);
  const shown = page.getByRole('region', { name: 'Subscriptions' });
  await expect(shown.getByRole('row', { name: /^Active subscribers/ })).toBeVisible();
  const lost = await subscribed(planner, /^Lost/, 0);
  await page.getByRole('button', { name: 'Methods' }).click();
  const panel = page.getByRole('complementary', { name: 'Forecast methods' });
  await expect(panel).toContainText('Subscribers leave at 3.1% a month');
  await expect(panel).toContainText('without March 2026');
  await panel.getByRole('button', { name: 'Use this churn' }).click();
  await planner.saved();
  await panel.getByRole('button', { name: 'Close: Forecast methods' }).click();
  await expect.poll(() => subscribed(planner, /^Lost/, 0)).toBeLessThan(lost);
  await expect(page.getByText(/At \d+ new a month and 3\.1% churn/)).toBeVisible();
  // Cohorts of the forecast go on from those of the records.
  await page.getByRole('button', { name: 'Cohorts', exact: true }).click();
  await expect(shown.getByRole('row', { name: /^Sep 26/ })).toHaveCount(1);
  await expect(shown.getByRole('row', { name: /^Mar 26/ })).toContainText('leaves faster');
});

test('from a web budget to recurring revenue', async ({ planner }) => {
  const { page } = planner;
  const where = 'scope=product:plan-year,region:north&from=2026-10&to=2027-03';
  const chart = `${planner.origin}/w/1/forecast?${where}&chart=subscriptions`;
  const paid = async (): Promise<number> => {
    await page.goto(chart);
    await page.getByRole('button', { name: 'Sources', exact: true }).click();
    return subscribed(planner, /^Paid visits/, 3);
  };
  const before = await paid();
  expect(before).toBeGreaterThan(0);
  await page.getByRole('button', { name: 'Movement', exact: true }).click();
  const recurring = await subscribed(planner, /^Billed/, 0);

  await page.goto(`${planner.origin}/w/1/drivers?${where}`);
  await planner.driver('Advertising');
  await (await planner.cell('Everything', 'Nov 26')).click();
  await page.keyboard.type('x2');
  await page.keyboard.press('Enter');
  await planner.saved();
  // Whoever came in November tried in November, and subscribes a month later.
  expect(await paid()).toBeGreaterThan(1.9 * before);
  await page.getByRole('button', { name: 'Movement', exact: true }).click();
  await expect.poll(() => subscribed(planner, /^Billed/, 0)).toBeGreaterThan(recurring);
  await page.getByRole('button', { name: 'Worth', exact: true }).click();
  await expect(page.getByRole('row', { name: /^Acquisition cost/ })).toContainText(
    'spent on all sources / new subscribers',
  );
  await page.getByLabel('Subscribers that one person serves').fill('50');
  await page.keyboard.press('Enter');
  await expect.poll(() => subscribed(planner, /^People needed/, 0)).toBeGreaterThan(0);
  await page.goto(
    `${planner.origin}/w/1/forecast?${where}&measures=units,activeSubscribers&unit=1`,
  );
  await planner.explain(await planner.cell('All\\s*units', 'Dec'));
  await expect(planner.trace).toContainText('Renewals');
  // Of subscribers the total is the last month's.
  expect(await planner.figure('Active subscribers', 'Total')).toBe(
    await planner.figure('Active subscribers', 'Mar'),
  );
  await planner.explain(await planner.cell('Active subscribers', 'Dec'));
  // Down to the funnel that new ones came out of, and to the cohorts of those who left.
  await expect(planner.trace).toContainText('Subscribers before');
  await expect(planner.trace).toContainText('Trials that subscribe');
  await planner.trace.getByRole('button', { name: 'Less lost' }).click();
  await expect(planner.trace).toContainText('Started in December 2025');
  await expect(planner.trace).toContainText('There before');
});

test('what a point of churn is worth over three years', async ({ planner }) => {
  const { page } = planner;
  const where = 'scope=product:plan-month&from=2026-10&to=2029-03&grain=year';
  await page.goto(`${planner.origin}/w/1/forecast?${where}`);
  const before = await planner.figure('Revenue', 'Total');
  await planner.room('Budget');
  await page.getByRole('button', { name: 'Save forecast as version' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill('Before the point');
  await page.getByRole('dialog').getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('button', { name: 'Show Before the point in all rooms' }).click();
  await expect(planner.heading).toHaveText(/Before the point/);
  const version = new URL(page.url()).searchParams.get('version') ?? '';
  await page.goto(`${planner.origin}/w/1/drivers?${where}`);
  await planner.driver('Churn');
  // The whole row, month by month, a point more.
  await (await planner.cell('Everything', 'Oct 26')).click();
  await page.keyboard.press('Control+Shift+ArrowRight');
  await page.keyboard.type('+1pt');
  await page.keyboard.press('Control+Enter');
  await planner.saved();
  await page.goto(`${planner.origin}/w/1/forecast?${where}`);
  await expect.poll(() => planner.figure('Revenue', 'Total')).toBeLessThan(0.95 * before);
  await planner.explain(await planner.cell('Revenue', 'Total'));
  await planner.trace.getByRole('button', { name: /1% more of each driver/ }).click();
  await expect(planner.trace.getByRole('link', { name: 'Churn', exact: true })).toBeVisible();

  // Beside what was kept before: nothing but churn moves recurring revenue.
  await page.goto(`${planner.origin}/w/1/forecast?${where}&chart=subscriptions&version=${version}`);
  await page.getByRole('button', { name: 'Against version', exact: true }).click();
  await expect(page.locator('[data-bridge]')).toHaveText(
    /^Recurring revenue in March 2029 is \d+ thousand under Before the point: churn −\d+ thousand\.$/,
  );
  expect(await subscribed(planner, /^Churn/, 0)).toBeLessThan(-1);
  expect(await subscribed(planner, /^Variance/, 0)).toBe(0);
});

test('a funnel is read as a chain, and each of its drivers is where it is typed', async ({
  planner,
}) => {
  const { page } = planner;
  const where = 'scope=product:plan-year,region:north&from=2026-10&to=2027-03';
  await page.goto(`${planner.origin}/w/1/drivers?${where}&driver=adSpend`);
  await page.getByRole('button', { name: 'Funnel', exact: true }).click();
  const panel = page.getByRole('complementary', { name: 'Funnel' });
  await planner.choose(panel.getByLabel('Month'), 'December 2026');
  const subscribers = panel.getByRole('listitem', { name: 'Step Subscriber' });
  await expect(subscribers).toContainText(/16\.0% trials that subscribe/);
  await expect(subscribers).toContainText(/1 month later/);
  await expect(subscribers).toContainText(/measured 1\d\.\d%/);
  const partners = panel.getByRole('listitem', { name: 'Source Partner referrals' });
  await expect(partners).toContainText(/30\.0% trials of a referral/);
  await subscribers.getByRole('button', { name: /trials that subscribe/ }).click();
  await expect(page).toHaveURL(/driver=subscribeRate/);
  const out = panel.getByRole('listitem').filter({ hasText: 'Comes out' });
  const before = await out.innerText();
  await planner.type(await planner.cell('Everything', 'Dec 26'), '32');
  await planner.saved();
  await expect(out).not.toHaveText(before);
  await expect(subscribers).toContainText(/32\.0% trials that subscribe/);
});

test('new subscribers and recurring revenue are typed into a budget, and compared', async ({
  planner,
}) => {
  const { page } = planner;
  const where = 'rows=product,region&scope=product:plans&from=2026-10&to=2027-03&unit=1';
  await page.goto(`${planner.origin}/w/1/budget?measure=newSubscribers&${where}`);
  const starters = await planner.cell('Refill plan, monthly', 'Oct');
  const before = await planner.figure('New subscribers', 'Total');
  const oct = await planner.figure('Refill plan, monthly', 'Oct');
  await planner.type(starters, '+=120');
  await expect(starters).toHaveText(String(oct + 120));
  await expect.poll(() => planner.figure('New subscribers', 'Total')).toBe(before + 120);
  await planner.explain(starters);
  await expect(planner.trace.locator('[data-entry]')).toContainText('+120');
  expect(await planner.traced()).toBe(oct + 120);
  await page.keyboard.press('Escape');

  // Who is there in March are they, less those who leave.
  await page.goto(`${planner.origin}/w/1/budget?measure=activeSubscribers&${where}`);
  await expect(planner.heading).toContainText('active subscribers');
  await page.goto(`${planner.origin}/w/1/budget?measure=recurringRevenue&${where}`);
  const recurring = await planner.cell('Refill plan, yearly', 'Nov');
  const paid = await planner.figure('Refill plan, yearly', 'Nov');
  await planner.type(recurring, '+=1000');
  await expect.poll(() => planner.figure('Refill plan, yearly', 'Nov')).toBe(paid + 1000);
  await planner.explain(recurring);
  await page.keyboard.press('Escape');
  await planner.type(recurring, '-900000');
  await expect(page.getByRole('alert')).toContainText(/cannot be negative/);
  await page.keyboard.press('Control+z');
  await expect.poll(() => planner.figure('Refill plan, yearly', 'Nov')).toBe(paid);

  // The comparison holds who came by their records against the budget.
  await page.goto(
    `${planner.origin}/w/1/comparison?measure=newSubscribers&rows=product,region&from=2026-04&to=2026-09`,
  );
  await expect(planner.heading).toContainText('not every line has numbers on both sides');
  expect(await planner.figure('Refill plan, monthly', 'Actual')).toBeGreaterThan(1000);

  const bridge = page.locator('[data-bridge]');
  await page.goto(
    `${planner.origin}/w/1/forecast?chart=subscriptions&scope=product:plans&from=2026-10&to=2027-03`,
  );
  await page.getByRole('button', { name: 'Against version', exact: true }).click();
  await expect(bridge).toContainText(/Recurring revenue in March 2027 is/);
});
