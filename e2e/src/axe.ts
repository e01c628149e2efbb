/** WCAG 2.2 AA, held by axe to what is on the screen: all of it by day, what colours decide by night. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from '@playwright/test';
import { expect } from './ondwell.ts';

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
const LEVELS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];
/** The rules that a theme can break; whatever else is on the screen is the same by night. */
const RULES_OF_COLOUR = ['color-contrast', 'link-in-text-block'];

interface Axe {
  run(options: object): Promise<{
    violations: { id: string; help: string; nodes: { html: string; failureSummary: string }[] }[];
  }>;
}

/** What of the rules is broken on the screen, in words. */
async function broken(page: Page, type: 'tag' | 'rule', values: readonly string[]) {
  // What is still unfolding or fading in is smaller and paler than it will be.
  await page.evaluate(async () => {
    // What follows the theme is drawn in the next frames.
    for (let frame = 0; frame < 2; frame += 1) await new Promise(requestAnimationFrame);
    await Promise.all(
      document.getAnimations().map(({ finished }) => finished.catch(() => undefined)),
    );
  });
  const { violations } = await page.evaluate(
    (runOnly) =>
      (globalThis as unknown as { axe: Axe }).axe.run({ runOnly, resultTypes: ['violations'] }),
    { type, values: [...values] },
  );
  return violations.map(({ id, help, nodes: [first] }) =>
    [id, help, first?.html, first?.failureSummary].join(': '),
  );
}

/** Holds what is on the screen to WCAG 2.2 AA, by day and by night. */
export function checks(page: Page): (where: string) => Promise<void> {
  const dressed = page.locator('html');
  return async (where) => {
    await page.evaluate(AXE);
    expect(await broken(page, 'tag', LEVELS), where).toEqual([]);
    await page.emulateMedia({ colorScheme: 'dark' });
    await expect(dressed).toHaveAttribute('data-theme', 'dark');
    expect(await broken(page, 'rule', RULES_OF_COLOUR), `${where}, by night`).toEqual([]);
    await page.emulateMedia({ colorScheme: 'light' });
    await expect(dressed).toHaveAttribute('data-theme', 'light');
  };
}
