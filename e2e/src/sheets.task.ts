import type { Locator } from '@playwright/test';
import ExcelJS from 'exceljs';
import { handedOut } from './handed-out.ts';
import { Desk, expect, test } from './ondwell.ts';

test('a budget round with two contributors, from handing out to agreed', async ({
  planner,
  browser,
}) => {
  const { page, origin } = planner;
  const PASSWORD = 'numbers for north';
  const people = [
    { name: 'Ada Korven', email: 'ada@ondwell.example', region: 'North' },
    { name: 'Bo Lindqvar', email: 'bo@ondwell.example', region: 'Coast' },
  ] as const;
  for (const { name, email } of people) {
    await planner.letIn({ name, email, password: PASSWORD }, 'contributor');
  }

  // The planner makes a sheet for each of them, and hands it out.
  await page.goto(`${origin}/w/1/budget?from=2026-04&to=2027-03`);
  await page.getByRole('button', { name: 'More actions' }).click();
  await page.getByRole('menuitem', { name: 'Budget sheets' }).click();
  const dialog = page.getByRole('dialog');
  for (const { name, region } of people) {
    await page.getByRole('button', { name: 'Add sheet' }).click();
    await expect(dialog.getByLabel('Name')).toBeFocused();
    await page.keyboard.type(`Sheet ${region}`);
    // Without a person it is refused at the field.
    await dialog.getByRole('button', { name: 'Add', exact: true }).click();
    await expect(dialog).toContainText('choose who fills it in');
    await planner.choose(dialog.getByLabel('For'), `${name}, contributor`);
    const scope = dialog.getByRole('combobox', { name: /^Sales of/ });
    await scope.fill(region);
    await page.getByRole('option', { name: `Region: ${region}`, exact: true }).click();
    await page.keyboard.press('Tab');
    await planner.choose(dialog.getByLabel('Lines by'), 'Channel');
    await dialog.getByLabel('Due').fill('2026-10-09');
    await dialog.getByRole('button', { name: 'Add', exact: true }).click();
    await expect(page.getByRole('heading', { level: 1 })).toContainText(`Sheet ${region}:`);
    await page.getByRole('button', { name: 'Hand out' }).click();
    await expect(page.getByText(/handed out; closed/)).toBeVisible();
    await page.getByRole('button', { name: 'More actions' }).click();
    await page.getByRole('menuitem', { name: 'All sheets' }).click();
  }
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('2 budget sheets, 2 late');

  const desks: Desk[] = [];
  for (const { email, region } of people) {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const desk = new Desk(await context.newPage(), origin);
    await desk.enter(email, PASSWORD);
    await desk.page.goto(origin);
    // Who has one sheet is in it at once, and sees nothing else.
    await expect(desk.page.getByRole('heading', { level: 1 })).toContainText(`Sheet ${region}:`);
    desks.push(desk);
  }
  const [ada, bo] = desks as [Desk, Desk];
  const row = (desk: Desk, name: string): Locator =>
    desk.page.locator('[data-grid="sheet"]').getByRole('rowheader', { name });
  const act = async (desk: Desk, name: string, action: string): Promise<void> => {
    await row(desk, name).click({ button: 'right' });
    await desk.page.getByRole('menuitem', { name: action, exact: true }).click();
  };

  // Ada locks what is signed, says why, and types over the total.
  const signed = await (await ada.cell('Web shop', 'Plan')).innerText();
  await act(ada, 'Web shop', 'Lock Web shop');
  await expect(row(ada, 'Web shop locked')).toBeVisible();
  await act(ada, 'Web shop', 'Comment on Web shop');
  await ada.page.keyboard.type('Signed in September');
  await ada.page.keyboard.press('Enter');
  await expect(await ada.cell('Web shop', 'Comment')).toHaveText('Signed in September');
  await ada.type(await ada.cell('Total', 'Plan'), '8000');
  await expect(await ada.cell('Total', 'Plan')).toHaveText('8,000');
  await expect(await ada.cell('Web shop', 'Plan')).toHaveText(signed);
  await ada.type(await ada.cell('Total', 'Plan'), '100');
  await expect(ada.page.getByRole('alert')).toContainText('What is locked goes beyond the total');
  await ada.page.getByRole('button', { name: 'Hand in' }).click();
  await expect(ada.page.getByText(/handed in; closed/)).toBeVisible();
  await expect(ada.page.getByRole('button', { name: 'Hand in' })).toBeHidden();

  // Bo types a line, takes it back, types another, and cannot open Ada's sheet.
  const before = await (await bo.cell('Web shop', 'Plan')).innerText();
  await bo.type(await bo.cell('Web shop', 'Plan'), '+10%');
  await expect(await bo.cell('Web shop', 'Plan')).not.toHaveText(before);
  await bo.page.keyboard.press('Control+z');
  await expect(await bo.cell('Web shop', 'Plan')).toHaveText(before);
  await bo.page.goto(ada.page.url().replace(/\/sheets.*/, `/sheets/${await adasSheet()}`));
  await expect(bo.page.getByRole('alert')).toContainText('This sheet is not handed out to you');
  await bo.page.goto(origin);
  await bo.page.getByRole('button', { name: 'Hand in' }).click();
  await expect(bo.page.getByText(/handed in; closed/)).toBeVisible();

  // The planner sees who is where, agrees the one and asks about the other.
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('2 budget sheets, 2 handed in');
  await page.getByRole('link', { name: 'Sheet Coast' }).click();
  await page.getByRole('button', { name: 'Agree' }).click();
  await expect(page.getByText(/agreed; closed/)).toBeVisible();
  await page.getByRole('button', { name: 'More actions' }).click();
  await page.getByRole('menuitem', { name: 'All sheets' }).click();
  await page.getByRole('link', { name: 'Sheet North' }).click();
  await page.getByRole('button', { name: 'Send back' }).click();
  await page.keyboard.type('Is the fair in it?');
  await page.keyboard.press('Enter');
  await expect(
    ada.page.getByText(/Sent back by Mara Ellingsen.*Is the fair in it\?/),
  ).toBeVisible();
  await ada.type(await ada.cell('Trade partners', 'Plan'), '+=100');
  await expect(await ada.cell('Total', 'Plan')).toHaveText('8,100');
  await ada.page.getByRole('button', { name: 'Hand in' }).click();
  await page.getByRole('button', { name: 'Agree' }).click();
  await page.getByRole('button', { name: 'More actions' }).click();
  await page.getByRole('menuitem', { name: 'Steps so far' }).click();
  await expect(dialog.getByRole('row')).toHaveText([
    /State/,
    /draft.*Mara/,
    /handed out.*Mara/,
    /handed in.*Ada/,
    /sent back.*Is the fair in it/,
    /handed in.*Ada/,
    /agreed.*Mara/,
  ]);
  await dialog.getByRole('button', { name: 'Close' }).click();

  // What they filled in is the version's: North in Budget is the sheet's total.
  await page.goto(`${origin}/w/1/budget?from=2026-04&to=2027-03&rows=region&grain=year`);
  await expect(await planner.cell('North', 'FY 2027')).toHaveText('8,100');

  async function adasSheet(): Promise<string> {
    return page.evaluate(async () => {
      const answer = await fetch('/api/workspaces/1/sheets');
      const sheets = (await answer.json()) as { id: string; title: string }[];
      return sheets.find(({ title }) => title === 'Sheet North')?.id ?? '';
    });
  }
});

test('whoever reads all has every number of a sheet explained', async ({ planner }) => {
  const { page, origin } = planner;
  const id = await handedOut(planner, 'All', 'Mara Ellingsen');
  await page.goto(`${origin}/w/1/sheets/${id}?unit=1`);
  for (const column of ['Plan', 'Last year', 'Last 12', 'Forecast']) {
    await planner.explain(await planner.cell('Web shop', column));
    const shown = await planner.figure('Web shop', column);
    await expect.poll(async () => Math.round(await planner.traced())).toBe(shown);
  }
  await planner.explain(await planner.cell('Web shop', 'Change'));
  await expect(planner.trace).toContainText('Last year');
  await planner.explain(await planner.cell('Total', 'Target'));
  await expect(planner.trace).toContainText('26,500,000');
});

test('a workbook filled in elsewhere comes back over what a colleague changed', async ({
  planner,
  colleague,
}) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/sheets?unit=1`);
  await page.getByRole('button', { name: 'Add sheet' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('Channels');
  await planner.choose(dialog.getByLabel('For'), 'Mara Ellingsen, owner');
  await planner.choose(dialog.getByLabel('Lines by'), 'Channel');
  await dialog.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(planner.heading).toContainText('Channels:');

  // Saved, and two of its lines changed with another program.
  const [saved] = await Promise.all([
    page.waitForEvent('download'),
    planner.inMenu('Save as workbook to fill in').then((entry) => entry.click()),
  ]);
  const book = new ExcelJS.Workbook();
  await book.xlsx.readFile(await saved.path());
  const [table] = book.worksheets;
  if (!table) throw new Error('The workbook has no sheet');
  table.eachRow((row) => {
    const name = row.getCell(2).value;
    if (name === 'Web shop') row.getCell(3).value = 5_000_000.25;
    if (name === 'Trade partners') row.getCell(3).value = 3_000_000;
  });
  const bytes = Buffer.from(await book.xlsx.writeBuffer());

  // Meanwhile a colleague types into one of the two.
  await colleague.page.goto(page.url());
  await colleague.type(await colleague.cell('Trade partners', 'Plan'), '2500000');
  await expect(await planner.cell('Trade partners', 'Plan')).toHaveText('2,500,000');

  await (await planner.inMenu('Import a filled-in file')).click();
  const pick = async (name: string, buffer: Buffer): Promise<void> => {
    const type = 'application/octet-stream';
    await dialog.getByLabel('Filled-in file').setInputFiles({ name, mimeType: type, buffer });
  };
  await pick('other.csv', Buffer.from('who,what\nCarafes,12\n'));
  await expect(dialog.getByRole('alert')).toContainText('saved from here');
  await pick('channels.xlsx', bytes);
  await expect(dialog.getByRole('status')).toContainText('1 changed; 1 changed here too');
  await expect(dialog.getByRole('row', { name: /^Trade partners/ })).toContainText('2,500,000.00');
  await expect(dialog.getByRole('row', { name: /^Trade partners/ })).toContainText('3,000,000.00');
  await expect(dialog.getByRole('button', { name: 'Import 1 number' })).toBeVisible();
  await dialog.getByLabel('Prefer the file’s values to those that changed here since').check();
  await dialog.getByRole('button', { name: 'Import 2 numbers' }).click();
  await expect(await planner.cell('Web shop', 'Plan')).toHaveText('5,000,000');
  await expect(await planner.cell('Trade partners', 'Plan')).toHaveText('3,000,000');
  // One act, one undo.
  await page.keyboard.press('Control+z');
  await expect(await planner.cell('Trade partners', 'Plan')).toHaveText('2,500,000');
  await expect(await planner.cell('Web shop', 'Plan')).not.toHaveText('5,000,000');
});

test('a budget goes out by month, is filled in elsewhere, and comes back', async ({ planner }) => {
  const { page, origin } = planner;
  await page.goto(`${origin}/w/1/budget?from=2026-04&to=2027-03&rows=channel&unit=1`);
  const cell = await planner.cell('Web shop', 'Nov');
  const before = await cell.innerText();
  const [saved] = await Promise.all([
    page.waitForEvent('download'),
    planner.inMenu('Save as workbook to fill in').then((entry) => entry.click()),
  ]);
  const book = new ExcelJS.Workbook();
  await book.xlsx.readFile(await saved.path());
  const [table] = book.worksheets;
  if (!table) throw new Error('The workbook has no sheet');
  const heads = table.getRow(4).values as string[];
  table.eachRow((row) => {
    if (row.getCell(2).value === 'Web shop') row.getCell(heads.indexOf('2026-11')).value = 654_321;
  });
  await (await planner.inMenu('Import a filled-in file')).click();
  const dialog = page.getByRole('dialog');
  await dialog.locator('input[type=file]').setInputFiles({
    name: 'budget.xlsx',
    mimeType: 'application/octet-stream',
    buffer: Buffer.from(await book.xlsx.writeBuffer()),
  });
  await expect(dialog.getByRole('row', { name: /^Web shop, 2026-11/ })).toContainText('654,321.00');
  await dialog.getByRole('button', { name: 'Import 1 number' }).click();
  await expect(cell).toHaveText('654,321');
  await page.keyboard.press('Control+z');
  await expect(cell).toHaveText(before);
});

test('a sheet is filled in by finger, on a tablet', async ({ planner, browser }) => {
  const { origin } = planner;
  await handedOut(planner, 'Sheet North', 'Ivo Tarnow');
  const context = await browser.newContext({
    ...{ viewport: { width: 1024, height: 768 }, hasTouch: true, isMobile: true },
  });
  const desk = new Desk(await context.newPage(), origin);
  await desk.enter('seller@ondwell.example', 'sell in stores');
  await desk.page.goto(origin);
  await expect(desk.page.getByRole('heading', { level: 1 })).toContainText('Sheet North:');
  const cell = desk.page
    .locator('[data-grid="sheet"]')
    .getByRole('row', { name: 'Web shop' })
    .getByRole('gridcell')
    .first();
  await cell.tap();
  await desk.page.keyboard.type('500');
  await desk.page.keyboard.press('Enter');
  await expect(cell).toHaveText('500');
  // A finger that stays where it is opens the menu, as the right button does.
  const box = await cell.boundingBox();
  const touch = await context.newCDPSession(desk.page);
  const at = { x: (box?.x ?? 0) + 20, y: (box?.y ?? 0) + 8 };
  await touch.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [at] });
  await expect(desk.page.getByRole('menuitem', { name: 'Lock Web shop' })).toBeVisible();
  await touch.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await desk.page.getByRole('menuitem', { name: 'Lock Web shop' }).tap();
  await expect(desk.page.getByRole('row', { name: /Web shop.*locked/i })).toBeVisible();
  await context.close();
});
