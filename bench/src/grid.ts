/**
 * The plan grid in the real browser: an edit until it is painted, and frames while it scrolls, on
 * 2,000 rows by 60 months. Started by `npm run bench`, which serves a workspace of that size.
 */
import { chromium } from '@playwright/test';
import { say } from './report.ts';

function setting(name: string): string {
  const value = process.env[name];
  if (!value) throw new Error(`${name} is not set; run it by npm run bench`);
  return value;
}
const browser = await chromium.launch({
  executablePath: setting('BENCH_CHROMIUM'),
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const origin = setting('BENCH_ORIGIN');
await page.goto(origin);
await page.fill('#email', setting('BENCH_EMAIL'));
await page.fill('#password', setting('BENCH_PASSWORD'));
await page.click('button[type=submit]');
await page.waitForURL(/\/w\/\d+\//);
await page.goto(`${origin}${setting('BENCH_PLACE')}`);
await page.getByRole('button', { name: 'Streams', exact: true }).click();
await page.locator('.rgCol .rgCell .figure').first().waitFor();

/** Frame times, in milliseconds, while the grid scrolls down and to the right. */
const frames = await page.evaluate(async () => {
  const down = document.querySelector('revogr-viewport-scroll.rgCol .vertical-inner');
  const right = document.querySelector('revogr-viewport-scroll.rgCol');
  const times: number[] = [];
  let before = performance.now();
  for (let step = 0; step < 240; step += 1) {
    down?.scrollBy(0, 84);
    if (step % 4 === 0) right?.scrollBy(23, 0);
    await new Promise(requestAnimationFrame);
    const now = performance.now();
    times.push(now - before);
    before = now;
  }
  return times.sort((a, b) => a - b);
});
const at = (list: readonly number[], part: number): number =>
  list[Math.min(list.length - 1, Math.floor(list.length * part))] ?? NaN;
say(
  `scrolling, ${setting('BENCH_ROWS')} rows x 60 months: a frame takes ${at(frames, 0.5).toFixed(1)} ms (median), ${at(frames, 0.95).toFixed(1)} ms (95th percentile)`,
);

/** From Enter until the cell shows the new number, in milliseconds. */
const edits: number[] = [];
await page.evaluate(() => {
  document.querySelector('revogr-viewport-scroll.rgCol .vertical-inner')?.scrollTo(0, 0);
  document.querySelector('revogr-viewport-scroll.rgCol')?.scrollTo(0, 0);
});
for (let edit = 0; edit < 15; edit += 1) {
  const cell = page.locator(
    `revogr-viewport-scroll.rgCol .content-wrapper .rgCell[data-rgrow="${8 + (edit % 6)}"][data-rgcol="2"]`,
  );
  await cell.click();
  await page.keyboard.press('Enter');
  const input = page.locator('revogr-edit input');
  await input.waitFor();
  await input.fill(String(1000 + edit * 7));
  const place = (await cell.getAttribute('data-cell')) ?? '';
  edits.push(
    await page.evaluate(
      async ([key, text]) => {
        const field = document.querySelector('revogr-edit input');
        const start = performance.now();
        const enter = { key: 'Enter', code: 'Enter', bubbles: true };
        field?.dispatchEvent(new KeyboardEvent('keydown', enter));
        for (;;) {
          await new Promise(requestAnimationFrame);
          const shown = document.querySelector(`[data-cell="${key}"] .figure`)?.textContent;
          if (shown?.replace(/\D/g, '') === text) return performance.now() - start;
          if (performance.now() - start > 5000) return NaN;
        }
      },
      [place, String(1000 + edit * 7)] as const,
    ),
  );
}
edits.sort((a, b) => a - b);
say(
  `typing: an edit is painted after ${at(edits, 0.5).toFixed(0)} ms (median), ${at(edits, 0.95).toFixed(0)} ms (95th percentile)`,
);
await browser.close();
