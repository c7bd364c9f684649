import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: './tests',
  outputDir: '../test-results',
  // One world for all tests of a file: they take turns in it.
  workers: 1,
  // A machine may be many times slower than another; what takes long is measured in the benchmarks.
  timeout: 240_000,
  expect: { timeout: 45_000 },
  // In a fresh world. What fails once and then passes is named as unsteady, to be mended.
  retries: 1,
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: process.env['CHROMIUM'] || '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
      ],
    },
  },
});
