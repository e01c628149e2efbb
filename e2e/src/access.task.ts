/** Every room, panel and dialog held to WCAG 2.2 AA: all of it by day, what colours decide by night too. */
import type { Locator } from '@playwright/test';
import { checks } from './axe.ts';
import { expect, FAULTY_FILE, test } from './ondwell.ts';

const ROOMS = [
  ...['Standing', 'Actuals', 'Drivers', 'Forecast', 'Targets', 'Budget', 'Comparison'],
  'Closing',
];

test('every room holds to WCAG 2.2 AA, by day and by night', async ({ planner }) => {
  const { page } = planner;
  const check = checks(page);
  for (const room of ROOMS) {
    await planner.room(room);
    if (['Actuals', 'Drivers', 'Forecast', 'Budget'].includes(room)) {
      await planner.explain(planner.firstFigure);
    }
    await check(room);
  }
});

test('the look that a person chose holds whatever the system has', async ({ planner }) => {
  const { page, origin } = planner;
  const dressed = page.locator('html');
  await page.goto(`${origin}/w/1/settings?from=2026-04&to=2027-03`);
  const check = checks(page);
  await check('settings');
  await planner.choose(page.getByLabel('Theme'), 'Dark');
  await expect(dressed).toHaveAttribute('data-theme', 'dark');
  await page.reload();
  await expect(dressed).toHaveAttribute('data-theme', 'dark');
  await planner.choose(page.getByLabel('Theme'), 'Light');
  await page.emulateMedia({ colorScheme: 'dark' });
  await expect(dressed).toHaveAttribute('data-theme', 'light');
  await planner.choose(page.getByLabel('Theme'), 'System');
  await expect(dressed).toHaveAttribute('data-theme', 'dark');
});

test('what is set up holds to it', async ({ planner }) => {
  const { page, origin } = planner;
  const check = checks(page);
  await page.goto(`${origin}/w/1/dimensions`);
  await page.getByRole('button', { name: 'Web shop' }).click();
  await expect(page.getByRole('complementary', { name: 'Member Web shop' })).toBeVisible();
  await check('dimensions');
  await page.goto(`${origin}/w/1/connections`);
  await page.getByRole('button', { name: 'Connect order book' }).first().click();
  await expect(page.getByLabel('API key')).toBeVisible();
  await check('connections');
  await page.goto(`${origin}/w/1/access`);
  await expect(page.getByLabel('What the token is for')).toBeVisible();
  await check('access');
  await page.goto(`${origin}/w/1/settings`);
  await page.getByRole('button', { name: 'Actions for Una Keldby' }).click();
  await page.getByRole('menuitem', { name: 'Change role and part' }).click();
  await expect(page.getByRole('dialog').getByText(/North, Revenue FY 2027/)).toBeVisible();
  await check('a role and a part');
});

test('what is taken in, summed and read differently holds to it', async ({ planner }) => {
  const { page, origin } = planner;
  const check = checks(page);
  await page.goto(
    `${origin}/w/1/actuals?from=2026-04&to=2026-10&view=summary&rows=channel&measures=revenue,margin&beside=year-before&shares=yes`,
  );
  await planner.firstFigure.click();
  await page.keyboard.press('Space');
  await expect(page.getByRole('complementary', { name: /^Sales lines/ })).toContainText('lines');
  await check('summary');
  await page.getByLabel('File to import').setInputFiles(FAULTY_FILE);
  await expect(planner.heading).toHaveText('9 of 17 rows can be imported, 8 are excluded');
  await check('preview');
  await page.getByRole('button', { name: 'Change mapping' }).click();
  await expect(page.getByRole('table', { name: 'First rows of the file' })).toBeVisible();
  await check('reading');
});

test('menus, drawers and dialogs hold to it, 1024 wide', async ({ planner }) => {
  const { page, origin } = planner;
  await page.setViewportSize({ width: 1024, height: 768 });
  const check = checks(page);
  const open = page.locator('.v-overlay--active .v-overlay__content').last();
  const leaving = async (where: string, shown: Locator): Promise<void> => {
    await expect(shown).toBeVisible();
    await check(where);
    await page.keyboard.press('Escape');
    await expect(shown).toBeHidden();
  };
  await page.goto(`${origin}/w/1/forecast?from=2026-04&to=2027-03`);
  await expect(planner.firstFigure).toBeVisible();
  await check('forecast');
  for (const name of [/^Filter/, /^Rows and columns/, /^Measure/, /^Views/, /^Unit/, /^More/]) {
    await page.getByRole('button', { name }).first().click();
    await leaving(String(name), open);
  }
  await page.getByRole('button', { name: 'Add forecast lines', exact: true }).click();
  await leaving('forecast lines', page.getByRole('dialog'));
  await page.getByRole('button', { name: 'Add forecast lines', exact: true }).click();
  await page.getByRole('button', { name: 'Add a new product like another one' }).click();
  await leaving('a product like another one', page.getByRole('dialog'));
  await page.keyboard.press('Control+k');
  await leaving('go to', page.getByRole('dialog'));
  await page.keyboard.press('F1');
  await leaving('help', page.getByRole('complementary', { name: /^Help: / }));
  const history = await planner.history();
  await expect(history).toBeVisible();
  await check('history');
  await history.getByRole('button', { name: /^Close/ }).click();
  await page.goto(`${origin}/w/1/budget?from=2026-04&to=2027-03`);
  await page.getByRole('button', { name: 'Copy with uplift' }).click();
  await leaving('copy of a budget', page.getByRole('dialog'));
  await page.goto(`${origin}/w/1/drivers?driver=discount&from=2026-10&to=2027-03`);
  await page.getByRole('button', { name: 'Limits' }).click();
  await leaving('limits', page.getByRole('dialog'));
  await page.goto(`${origin}/w/1/settings`);
  for (const name of ['Invite person', 'Change password']) {
    await page.getByRole('button', { name }).click();
    await leaving(name, page.getByRole('dialog'));
  }
});

test('what is added, copied and asked about holds to it, 1024 wide', async ({ planner }) => {
  const { page, origin } = planner;
  await page.setViewportSize({ width: 1024, height: 768 });
  const check = checks(page);
  const dialog = page.getByRole('dialog');
  const leaving = async (where: string): Promise<void> => {
    await expect(dialog).toBeVisible();
    await check(where);
    await page.keyboard.press('Escape');
    await expect(dialog).toBeHidden();
  };
  await page.goto(`${origin}/w/1/actuals?from=2026-04&to=2026-10&view=summary&rows=channel`);
  await expect(planner.firstFigure).toBeVisible();
  await page.keyboard.press('?');
  await leaving('keys');
  await (await planner.inMenu('Add a sale by hand')).click();
  await leaving('sale by hand');
  await page.goto(`${origin}/w/1/drivers?driver=discount&scope=channel:web`);
  await page.getByRole('button', { name: 'Copy inputs' }).click();
  await leaving('copy of inputs');
  await page.goto(`${origin}/w/1/targets?from=2026-04&to=2027-03`);
  await (await planner.cell('Coast', 'Target')).click();
  await page.getByRole('button', { name: /^Add / }).first().click();
  await leaving('part of a target');
  await page.goto(`${origin}/w/1/budget?from=2026-04&to=2027-03`);
  await page.getByRole('button', { name: 'Save forecast as version' }).first().click();
  await leaving('version');
  for (const [entry, name] of [
    ['Add line', 'line of a budget'],
    ['Revenue needed for a profit', 'revenue needed'],
    ['Budget by ledger account', 'ledger accounts'],
    ['As of an earlier time', 'moment'],
  ] as const) {
    await (await planner.inMenu(entry)).click();
    await leaving(name);
  }
  await page.goto(`${origin}/w/1/sheets`);
  await page.getByRole('button', { name: 'Add sheet' }).click();
  await leaving('budget sheet');
  await page.goto(`${origin}/w/1/dimensions`);
  await page.getByRole('button', { name: 'Add dimension' }).click();
  await leaving('dimension');
  await (await planner.inMenu(/^Assign .* by rule$/)).click();
  await leaving('assigned by rule');
  await page.goto(`${origin}/w/1/connections`);
  await page.getByRole('button', { name: 'Connect order book' }).first().click();
  await leaving('order book');
  await page.goto(`${origin}/w/1/closing`);
  for (const name of ['Change rules', 'Change dates', 'Reopen', 'Close October']) {
    await page.getByRole('button', { name, exact: true }).click();
    await leaving(name);
  }
  await page.getByRole('tab', { name: 'Accuracy' }).click();
  await expect(planner.firstFigure).toBeVisible();
  await check('accuracy');
  // What was done elsewhere is asked about before it is taken back.
  await page.goto(`${origin}/w/1/drivers?driver=discount&from=2026-10&to=2027-03`);
  await planner.type(await planner.cell('Trade partners', 'Oct 26'), '21');
  await planner.saved();
  await planner.room('Targets');
  await page.keyboard.press('Control+z');
  await leaving('undo of what is elsewhere');
  await page.keyboard.press('F1');
  const help = page.getByRole('complementary', { name: /^Help: / });
  await help.getByRole('button', { name: 'Take the tour' }).click();
  await leaving('tour');
});

test('profiles, formulas and methods hold to it', async ({ planner }) => {
  const { page, origin } = planner;
  const check = checks(page);
  await page.goto(`${origin}/w/1/drivers?driver=listPrice`);
  await page.getByRole('button', { name: 'Growth and season' }).click();
  await planner.choose(page.getByLabel('Set as'), 'Average level with season');
  await expect(page.getByRole('group', { name: 'Season' }).getByLabel('Dec')).toBeVisible();
  await check('profile');
  await page.getByRole('button', { name: 'Add driver' }).click();
  await page.getByRole('textbox', { name: 'Formula', exact: true }).fill('listPrice +');
  await expect(page.getByText('Something is missing at the end')).toBeVisible();
  await check('driver');
  await page.goto(`${origin}/w/1/forecast?from=2026-04&to=2027-03`);
  await page.getByRole('button', { name: 'Methods' }).click();
  await planner.choose(page.getByLabel(/^Method of/), 'Statistical baseline');
  await expect(page.locator('tr.best')).toBeVisible();
  await check('baseline');
  await page.getByRole('button', { name: 'Selected months' }).click();
  await expect(page.getByRole('table', { name: 'Revenue of these months' })).toBeVisible();
  await check('months forecast anew');
  await page.getByRole('button', { name: 'Method', exact: true }).click();
  await planner.choose(page.getByLabel(/^Method of/), 'Funnel');
  await expect(
    page.getByRole('group', { name: 'Step Buys' }).getByLabel('Conversion'),
  ).toBeVisible();
  await check('funnel');
  await (await planner.inMenu('Embed in another page')).click();
  await expect(page.getByRole('button', { name: 'Create address' })).toBeVisible();
  const dialog = page.locator(
    '.v-dialog--active .v-overlay__content, .v-dialog .v-overlay__content',
  );
  await expect(dialog.last()).toHaveCSS('opacity', '1');
  await check('stand elsewhere');
});

test('measures, charts and panels of the forecast hold to it', async ({ planner }) => {
  const { page, origin } = planner;
  const check = checks(page);
  const place = `${origin}/w/1/forecast?from=2026-04&to=2027-03`;
  await page.goto(`${place}&measures=units,shareOfMarket,revenue&levels=1&chart=stack&by=product`);
  await expect(page.getByRole('button', { name: 'Show as table' })).toBeVisible();
  await page.getByRole('button', { name: /^Measure/ }).click();
  await expect(page.getByRole('checkbox', { name: 'Share of units' })).toBeVisible();
  await check('measures and parts');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Show as table' }).click();
  await page.getByRole('button', { name: /^Views/ }).click();
  await expect(page.getByLabel('Name of the view')).toBeVisible();
  await check('parts as a table, and views');
  await page.goto(`${place}&chart=multiples&panel=loose`);
  await expect(page.getByRole('complementary', { name: 'Sold without a forecast' })).toBeVisible();
  await check('small charts, and what is not forecast');
  await page.goto(`${place}&chart=funnel`);
  await expect(page.getByRole('region', { name: 'Funnels' })).toBeVisible();
  await check('funnels');
});

test('subscriptions, new lines and a driver’s history hold to it', async ({ planner }) => {
  const { page, origin } = planner;
  const check = checks(page);
  const place = `${origin}/w/1/forecast?from=2026-04&to=2027-03`;
  await page.goto(`${place}&chart=subscriptions`);
  for (const view of ['Cohorts', 'Cohort revenue', 'Sources', 'Worth', 'Curve']) {
    await page.getByRole('button', { name: view, exact: true }).click();
    await check(`subscriptions, ${view}`);
  }
  await page.goto(`${origin}/w/1/actuals?view=subscribers`);
  for (const view of ['Percent kept', 'Churn by age']) {
    await page.getByRole('button', { name: view, exact: true }).click();
    await check(`subscribers, ${view}`);
  }
  await page.goto(`${place}&chart=funnel`);
  await page.getByRole('button', { name: 'Add forecast lines', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Add 0 forecast lines' })).toBeVisible();
  await check('new streams');
  await page.goto(`${origin}/w/1/drivers?driver=discount&from=2026-10&to=2027-09`);
  await page.getByRole('button', { name: 'History of values' }).click();
  await expect(page.getByRole('complementary', { name: /^History of / })).toContainText(
    'Current values',
  );
  await check('states of a driver');
});

test('panels, forms and letters of targets hold to it', async ({ planner }) => {
  const { page, origin } = planner;
  const check = checks(page);
  const place = `${origin}/w/1/targets?from=2026-04&to=2027-03`;
  await page.goto(place);
  const act = async (row: string, action: string): Promise<void> => {
    await (await planner.cell(row, 'Target')).click({ button: 'right' });
    await page.getByRole('menuitem').filter({ hasText: action }).click();
  };
  await act('North', 'Divide North');
  const mix = page.getByRole('complementary', { name: 'Divide North' });
  await mix.getByRole('button', { name: 'Last year', exact: true }).click();
  await expect(mix.getByRole('row', { name: /^Together/ })).toBeVisible();
  await check('dividing');
  for (const [row, action, heading] of [
    ['North', 'Is it possible?', 'Is it possible?'],
    ['North', 'Why North is', 'Gap of North'],
    ['North', 'Months of North', 'Months of North'],
    ['Rosa Velden', 'Deal plan', 'Deal plan of Rosa Velden'],
    ['Rosa Velden', 'Rosa Velden leaves', 'Rosa Velden leaves'],
  ] as const) {
    await act(row, action);
    await expect(page.getByRole('complementary', { name: heading })).toBeVisible();
    await check(heading);
  }
  await act('Rosa Velden', 'Edit Rosa Velden');
  await expect(page.getByRole('dialog', { name: 'Rosa Velden' })).toBeVisible();
  await check('a person');
  await page.keyboard.press('Escape');
  await act('Rosa Velden', 'Move some of Rosa Velden');
  await expect(page.getByRole('dialog')).toBeVisible();
  await check('some of a target moved');
  await page.keyboard.press('Escape');
  await (await planner.inMenu(/^Add objective/)).click();
  await expect(page.getByRole('dialog')).toBeVisible();
  await check('an objective');
  await page.goto(`${place}&view=letters`);
  await expect(page.getByRole('article').first()).toBeVisible();
  await check('letters');
});
