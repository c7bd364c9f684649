import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { defineConfig } from '@playwright/test';
import { BROWSER_ARGS, LEAN_CHROMIUM } from './browsers.js';

// Made by the first process of a run; its workers read this, too, and inherit it.
process.env['KIRAKU_STORIES'] ??= mkdtempSync(join(tmpdir(), 'kiraku-stories-'));

export default defineConfig({
  testDir: './tests',
  outputDir: '../test-results',
  globalTeardown: './removeStories.ts',
  // Each file has a world of its own, in which its tests take turns; two are open side by side. A third would only make
  // each wait longer for the processors of a small machine.
  workers: 2,
  // A machine may be many times slower than another; what takes long is measured in the benchmarks.
  timeout: 240_000,
  expect: { timeout: 45_000 },
  // In a fresh world. What fails once and then passes is named as unsteady, to be mended.
  retries: 1,
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    // What goes by way of one cannot be held back by a test; the tests of what it does let it in.
    serviceWorkers: 'block',
    screenshot: 'only-on-failure',
    // What moves is drawn sixty times a second, which takes a quarter of the time; the whole story is gone through with it.
    contextOptions: { reducedMotion: 'reduce' },
    launchOptions: { executablePath: LEAN_CHROMIUM, args: BROWSER_ARGS },
  },
});
