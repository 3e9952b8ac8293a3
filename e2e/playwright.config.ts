import { defineConfig } from '@playwright/test';
import { LAUNCH } from './support/browser';

/** End to end against the running whole, which `./test` starts on a port and data folder of its own. */
const url = process.env['JUNCTA_E2E_URL'];
if (!url) throw new Error('JUNCTA_E2E_URL is not set: run the end-to-end tests through ./test');

export default defineConfig({
  testDir: '.',
  testMatch: '*.e2e.ts',
  outputDir: '../.test/e2e-results',
  // One at a time: all work on one house, whose clock and processes some of them touch.
  workers: 1,
  fullyParallel: false,
  retries: 0,
  forbidOnly: process.env['CI'] === 'true',
  // Generous: a busy machine may be slow, and a state that is never reached is a fault at any speed.
  timeout: 120_000,
  expect: { timeout: 25_000 },
  reporter: [['line'], ['./support/failure-reporter.ts'], ['json', { outputFile: '../.test/e2e.json' }]],
  use: {
    // A key that never comes is a fault too, and is told while the page is still there to be looked at.
    actionTimeout: 60_000,
    baseURL: url,
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/Lisbon',
    // Only where they are asked for: keeping every change of every page takes an eighth of the time, and of what composing needs.
    trace:
      process.env['JUNCTA_TEST_TRACE'] === 'yes'
        ? { mode: 'retain-on-failure', screenshots: false, snapshots: true, sources: true }
        : 'off',
    permissions: ['clipboard-read', 'clipboard-write'],
    launchOptions: LAUNCH,
  },
});
