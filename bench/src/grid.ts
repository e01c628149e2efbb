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
await page.getByLabel('E-mail address').fill(setting('BENCH_EMAIL'));
await page.getByLabel('Password').fill(setting('BENCH_PASSWORD'));
await page.getByRole('button', { name: 'Sign in' }).click();
await page.waitForURL(/\/w\/\d+\//);
// The tour of the first visit is not what is measured.
await page.getByRole('button', { name: 'Skip' }).click();
await page.goto(`${origin}${setting('BENCH_PLACE')}`);
await page.getByRole('button', { name: 'Forecast lines', exact: true }).click();
await page.locator('.plan-grid .figure').first().waitFor();

/** Frame times, in milliseconds, while the grid scrolls down and to the right. */
const frames = await page.evaluate(async () => {
  const grid = document.querySelector('.plan-grid');
  const times: number[] = [];
  let before = performance.now();
  for (let step = 0; step < 240; step += 1) {
    grid?.scrollBy(step % 4 === 0 ? 23 : 0, 84);
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

/** From Enter until the cell shows what was typed, and until all numbers rest on it, in milliseconds. */
const shown: number[] = [];
const computed: number[] = [];
await page.evaluate(() => document.querySelector('.plan-grid')?.scrollTo(0, 0));
for (let edit = 0; edit < 20; edit += 1) {
  const cell = page.locator(`[data-row="${8 + (edit % 6)}"][data-column="2"]`);
  await cell.click();
  await page.keyboard.type(String(1000 + edit * 7));
  const place = (await cell.getAttribute('data-cell')) ?? '';
  const [first = NaN, last = NaN] = await page.evaluate(
    async ([key, text]) => {
      const field = document.querySelector('.field-place .field');
      const total = document.querySelector('[data-row="0"][data-column="2"] .figure');
      const before = total?.textContent;
      const start = performance.now();
      const enter = { key: 'Enter', code: 'Enter', bubbles: true };
      field?.dispatchEvent(new KeyboardEvent('keydown', enter));
      let typed = NaN;
      for (;;) {
        await new Promise(requestAnimationFrame);
        const now = performance.now() - start;
        const figure = document.querySelector(`[data-cell="${key}"] .figure`)?.textContent;
        if (Number.isNaN(typed) && figure?.replace(/\D/g, '') === text) typed = now;
        if (total?.textContent !== before) return [typed, now];
        if (now > 5000) return [typed, NaN];
      }
    },
    [place, String(1000 + edit * 7)] as const,
  );
  shown.push(first);
  computed.push(last);
}
for (const [times, what] of [
  [shown, 'what was typed is painted'],
  [computed, 'the total above it is painted'],
] as const) {
  times.sort((a, b) => a - b);
  say(
    `typing: ${what} after ${at(times, 0.5).toFixed(0)} ms (median), ${at(times, 0.95).toFixed(0)} ms (95th percentile)`,
  );
}
await browser.close();
