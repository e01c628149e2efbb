import { defineConfig } from '@playwright/test';

/** Whole tasks in Debian's Chromium, each on a server and a clone of the sample of its own. */
export default defineConfig({
  testDir: './src',
  testMatch: '*.task.ts',
  outputDir: '../test-results',
  workers: 2,
  // No task needs another: a long file does not keep one of the two busy while the other waits.
  fullyParallel: true,
  // A machine that others use too stands still for many seconds at times; nothing is measured here.
  timeout: 300_000,
  expect: { timeout: 60_000 },
  forbidOnly: true,
  reporter: 'list',
  use: {
    viewport: { width: 1280, height: 800 },
    actionTimeout: 60_000,
    locale: 'en-IE',
    contextOptions: { reducedMotion: 'reduce' },
    permissions: ['clipboard-read', 'clipboard-write'],
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
