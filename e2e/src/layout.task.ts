import { Desk, expect, test } from './ondwell.ts';

test('a table is found as one laid it out, on another machine too', async ({
  planner,
  browser,
  origin,
}) => {
  const { page } = planner;
  const address = `${origin}/w/1/forecast?from=2026-10&to=2027-03`;
  await page.goto(address);
  const width = async (desk: Desk): Promise<number> =>
    (await (await desk.cell('Revenue', 'Nov')).boundingBox())?.width ?? 0;
  const before = await width(planner);
  // The edge of a heading is dragged.
  const heading = page.getByRole('columnheader', { name: /Nov$/ });
  const box = await heading.boundingBox();
  if (!box) throw new Error('the heading is not in sight');
  await page.mouse.move(box.x + box.width - 3, box.y + 10);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width + 57, box.y + 10, { steps: 4 });
  const kept = page.waitForResponse((answer) => answer.url().endsWith('/session/layout'));
  await page.mouse.up();
  await kept;
  expect(Math.abs((await width(planner)) - before - 60)).toBeLessThan(3);

  // A row that is folded away is found by its name, and stays open.
  await (await planner.cell('Web shop', 'Nov')).click();
  const again = page.waitForResponse((answer) => answer.url().endsWith('/session/layout'));
  await page.keyboard.press('Control+f');
  await page.getByLabel('Find a row').fill('rill glass');
  await page.keyboard.press('Escape');
  const active = page.locator('.plan-grid .field');
  await expect(active).toHaveAccessibleName(/^Rill glass carafe, Nov/);
  expect((await again).status()).toBe(204);

  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const elsewhere = new Desk(await context.newPage(), origin);
  await elsewhere.enter('planner@ondwell.example', 'plan the year');
  await elsewhere.page.goto(address);
  await expect(
    elsewhere.page.getByRole('rowheader', { name: /Rill glass carafe/ }).first(),
  ).toBeVisible();
  expect(Math.abs((await width(elsewhere)) - before - 60)).toBeLessThan(3);
  // Pressed twice, the edge gives the width back that the numbers need.
  const edge = await elsewhere.page.getByRole('columnheader', { name: /Nov$/ }).boundingBox();
  if (!edge) throw new Error('the heading is not in sight');
  await elsewhere.page.mouse.dblclick(edge.x + edge.width - 3, edge.y + 10);
  await expect.poll(() => width(elsewhere)).toBeLessThan(before + 3);
  await context.close();
});
