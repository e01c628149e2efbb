import { expect, test } from './ondwell.ts';

test('build the forecast of a new product from nothing', async ({ planner }) => {
  const { page } = planner;
  // The product comes first: a member below its family.
  await page.goto(`${planner.origin}/w/1/dimensions`);
  await page.getByRole('button', { name: 'Product', exact: true }).click();
  await page.getByLabel('New member').fill('Spring carafe');
  await page.getByLabel('Code', { exact: true }).fill('carafe-spring');
  await planner.choose(page.getByLabel('Parent'), 'below Carafes');
  await page.getByRole('button', { name: 'Add member' }).click();
  await expect(page.getByRole('cell', { name: 'Spring carafe' })).toBeVisible();

  // Its streams: one a region, in the web shop, to households.
  await planner.room('Forecast');
  await planner.window('Next 12');
  const total = await planner.figure('Revenue', 'Mar 27');
  await page.getByRole('button', { name: 'Add forecast lines', exact: true }).click();
  const form = page.getByRole('dialog');
  for (const [dimension, members] of [
    ['Channel', ['Web shop']],
    ['Product', ['Spring carafe']],
    ['Customer group', ['Households']],
    ['Region', ['North', 'Coast', 'Lakes', 'Capital']],
  ] as const) {
    for (const member of members) await planner.choose(form.getByLabel(dimension), member);
  }
  await form.getByRole('button', { name: 'Add 4 forecast lines' }).click();
  await expect(form).toBeHidden();
  await expect(page).toHaveURL(/scope=channel:web,product:carafe-spring,group:households/);

  // Nothing is assumed yet: it says what is missing, and is no zero.
  await planner.room('Drivers');
  await planner.driver('Gross units');
  await page.getByRole('button', { name: 'Growth and season' }).click();
  const profile = page
    .getByRole('complementary')
    .filter({ has: page.getByRole('form', { name: 'Growth and season' }) });
  await planner.choose(profile.getByLabel('Set as'), 'Start value and growth');
  await profile.getByLabel('Start', { exact: true }).fill('100');
  await profile.getByLabel('Rate, %').fill('5');
  await profile.getByLabel('Reason').fill('four regions from March');
  await profile.getByRole('button', { name: 'Set', exact: true }).click();
  await expect(profile.getByText('“four regions from March”')).toBeVisible();
  await planner.driver('List price');
  await profile.getByLabel('Value', { exact: true }).fill('59');
  await profile.getByRole('button', { name: 'Set', exact: true }).click();
  await planner.saved();

  // Its forecast stands: 4 streams x 100 x 59, less returns and discounts; in November the offer.
  // The growth comes once a year.
  await planner.room('Forecast');
  await page.getByRole('button', { name: /^Unit: / }).click();
  await page.getByRole('menuitemradio', { name: '€', exact: true }).click();
  const october = await planner.figure('Revenue', 'Oct 26');
  expect(october).toBe(Math.round(400 * (1 - 0.045) * 59 * (1 - 0.02)));
  expect(await planner.figure('Revenue', 'Nov 26')).toBe(
    Math.round(400 * (1 - 0.045) * 59 * (1 - 0.2)),
  );
  await page.getByRole('button', { name: 'Remove filter Product: Spring carafe' }).click();
  await page.getByRole('button', { name: 'Remove filter Channel: Web shop' }).click();
  await page.getByRole('button', { name: 'Remove filter Customer group: Households' }).click();
  await page.getByRole('button', { name: /^Unit: / }).click();
  await page.getByRole('menuitemradio', { name: 'thousand €' }).click();
  expect(await planner.figure('Revenue', 'Mar 27')).toBeGreaterThan(total);
});

test('raise prices in one channel from a month on, and see volume, price and share', async ({
  planner,
}) => {
  const { page } = planner;
  await page.goto(
    `${planner.origin}/w/1/forecast?from=2027-04&to=2028-03&measures=units,averagePrice,revenue,shareOfRevenue&across=yes&levels=1`,
  );
  const read = async (row: string): Promise<Record<string, number>> => ({
    units: await planner.figure(row, 'Units'),
    price: await planner.figure(row, 'Average price, € per unit'),
    revenue: await planner.figure(row, 'Revenue, thousand €'),
    share: await planner.figure(row, 'Share of revenue'),
  });
  const [stores, web] = [await read('Home-goods stores'), await read('Web shop')];

  // From July on every list price in the stores is five percent higher.
  await page.goto(
    `${planner.origin}/w/1/drivers?driver=listPrice&scope=channel:stores&from=2027-07&to=2028-03&rows=product`,
  );
  const before = await planner.figure('Brook carafe', 'Jul 27');
  await (await planner.cell('Brook carafe', 'Jul 27')).click();
  await (await planner.cell('Tap cartridge', 'Mar 28')).click({ modifiers: ['Shift'] });
  await page.keyboard.type('+5%');
  await page.keyboard.press('Enter');
  await planner.saved();
  await expect.poll(() => planner.figure('Brook carafe', 'Jul 27')).toBeCloseTo(before * 1.05, 1);

  await page.goto(
    `${planner.origin}/w/1/forecast?from=2027-04&to=2028-03&measures=units,averagePrice,revenue,shareOfRevenue&across=yes&levels=1`,
  );
  const [dearer, other] = [await read('Home-goods stores'), await read('Web shop')];
  expect(dearer['units'], 'units stay').toBe(stores['units']);
  expect(dearer['price']).toBeGreaterThan((stores['price'] ?? 0) * 1.03);
  expect(dearer['revenue']).toBeGreaterThan((stores['revenue'] ?? 0) * 1.03);
  expect(dearer['share']).toBeGreaterThan(stores['share'] ?? 0);
  expect(other['revenue'], 'another channel stays').toBe(web['revenue']);
  expect(other['share']).toBeLessThan(web['share'] ?? 0);

  // Where price and volume stand now, and where they stood, in one picture; and as a table.
  await page.getByRole('button', { name: /^Chart/ }).click();
  await page.getByRole('menuitemradio', { name: 'Shares' }).click();
  await page.getByRole('button', { name: 'Show as table' }).click();
  await expect(page.getByRole('row', { name: /^Home-goods stores/ })).toContainText('%');
  await page.getByRole('button', { name: /^Chart/ }).click();
  await page.getByRole('menuitemradio', { name: 'Price and volume' }).click();
  await expect(page.getByText('a tick the same months last year')).toBeVisible();
});

test('find why one number is what it is, and change it from the trace', async ({ planner }) => {
  const { page } = planner;
  await page.goto(
    `${planner.origin}/w/1/forecast?from=2026-10&to=2027-09&scope=channel:web,product:plan-year,region:capital&unit=1`,
  );
  const december = await planner.cell('Revenue', 'Dec 26');
  const before = await planner.figure('Revenue', 'Dec 26');
  await planner.explain(december);
  // Net units by the funnel: what came through, and what entered it.
  await expect(planner.trace).toContainText('Revenue, December 2026');
  const step = async (name: string | RegExp): Promise<void> =>
    planner.trace.getByRole('button', { name }).first().click();
  await step(/^Units/);
  await expect(planner.trace).toContainText(/units, December 2026/i);
  await expect(planner.trace).toContainText('Trials that subscribe');
  await step(/^Trial(?!s)/);
  for (const part of ['Partner referrals', 'Quizzes that start a trial', 'Quiz']) {
    await expect(planner.trace).toContainText(part);
  }
  await page.getByRole('button', { name: 'Back' }).click();
  // What would move it most is ranked, and the rate leads to where it is set.
  await planner.trace.getByRole('button', { name: 'Trials that subscribe' }).first().click();
  await expect(planner.trace).toContainText('Inputs used');
  await expect(planner.trace).toContainText('As measured');
  await planner.trace.getByRole('link').first().click();
  await expect(page).toHaveURL(/\/drivers\?.*driver=subscribeRate/);

  // The reference stands beside it; the value is changed there, for a year.
  await expect(
    page.getByText(/Measured as new yearly subscribers over trials started/),
  ).toBeVisible();
  const rate = await planner.cell('Everything', 'Dec 26');
  await planner.type(rate, '50');
  await planner.saved();
  await page.goBack();
  await expect(page).toHaveURL(/\/forecast\?/);
  await expect
    .poll(() => planner.figure('Revenue', 'Dec 26'))
    .toBeCloseTo((before * 0.5) / 0.4, -1);

  // What the driver was is a click away.
  await planner.room('Drivers');
  await planner.driver('Trials that subscribe');
  await page.getByRole('button', { name: 'History of values' }).click();
  const states = page.getByRole('complementary', { name: /^History of / });
  await expect(states.getByRole('listitem')).toHaveCount(2);
  await states.getByRole('button', { name: /^Restore/ }).click();
  await expect(states.getByRole('listitem')).toHaveCount(3);
  await planner.room('Forecast');
  await expect.poll(() => planner.figure('Revenue', 'Dec 26')).toBe(before);
});

test('forecast a new product like another one in a handful of clicks', async ({ planner }) => {
  const { page } = planner;
  await planner.room('Forecast');
  await page.evaluate(() => {
    const counted = window as unknown as { clicks: number };
    counted.clicks = 0;
    addEventListener('click', () => (counted.clicks += 1), true);
  });
  await page.getByRole('button', { name: 'Add forecast lines', exact: true }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'Add a new product like another one' }).click();
  await dialog.getByLabel('Name').fill('Fen carafe');
  await planner.choose(dialog.getByLabel('New member of'), 'Product');
  await planner.choose(dialog.getByLabel('Like', { exact: true }), 'Brook carafe');
  await dialog.getByLabel('Volume, % of it').fill('40');
  await dialog.getByLabel('Sold from').fill('2026-12');
  await dialog.getByLabel(/^List price/).fill('49');
  await expect(dialog.getByRole('status')).toContainText('in the first twelve months from Dec 26');
  await dialog.getByRole('button', { name: 'Add and forecast' }).click();
  await expect(dialog).toBeHidden();
  await expect(planner.heading).toHaveText(/^Fen carafe/);
  expect(await page.evaluate(() => (window as unknown as { clicks: number }).clicks)).toBeLessThan(
    25,
  );
  await expect.poll(() => planner.figure('Web shop', 'Nov')).toBe(0);
  expect(await planner.figure('Web shop', 'Dec')).toBeGreaterThan(0);
  await expect(page.locator('footer')).not.toContainText('inputs missing');

  // All of it can be seen and changed under Drivers, and is taken back as one.
  await planner.room('Drivers');
  await planner.driver('List price');
  expect(await planner.figure('Web shop', 'Dec 26')).toBe(49);
  await planner.room('Forecast');
  await page.keyboard.press('Control+z');
  await expect(page.getByText(/Undone: Added Fen carafe like Brook carafe/).first()).toBeVisible();
});

test('a plan file makes another workspace; one with a mistake says it once, and makes none', async ({
  planner,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/settings`);
  const text = await (await page.request.get(`${origin}/api/workspaces/1/plan-file`)).text();
  const bring = async (content: string): Promise<void> => {
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: 'New workspace from plan file' }).click(),
    ]);
    const buffer = Buffer.from(content);
    await chooser.setFiles({ name: 'plan.json', mimeType: 'application/json', buffer });
  };
  await bring(text.replace('"minorDigits":2', '"minorDigits":"two"'));
  await expect(page.getByText(/^plan\.currency\.minorDigits: /)).toHaveCount(1);
  await bring(text.replace('"name":"Ondwell"', '"name":"Ondwell again"'));
  await expect(page).toHaveURL(/\/w\/2\/standing/);
  await expect(planner.heading).toContainText('Ondwell again sold');
});
