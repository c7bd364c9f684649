import { chromium, type Page } from '@playwright/test';
import { benchFolder } from './lib/folder.js';
import { BROWSER_ARGS, CHROMIUM } from './lib/hitToPage.js';
import { seedLarge } from './lib/large.js';
import { startServer, stopServer } from './lib/processes.js';
import { report } from './lib/report.js';
import { openSession } from './lib/session.js';

/*
 * How long the page takes to show that it was pressed, with 100,000 messages: from the event to the next paint, as the
 * browser measures it (W3C Event Timing), in steps of 8 ms. What a server must be asked for may come later.
 */
const MESSAGES = Number(process.env['BENCH_MESSAGES'] ?? 100_000);
const EVENTS = Number(process.env['BENCH_EVENTS'] ?? 200_000);
const TIMES = 5;
const SETTLE_MS = 700;

interface Press {
  name: string;
  path: string;
  press(page: Page): Promise<void>;
}

const PRESSES: Press[] = [
  { name: 'menu', path: '/today', press: (page) => page.getByRole('link', { name: 'Sent', exact: true }).click() },
  {
    name: 'quick_choice',
    path: '/sent',
    press: (page) => page.getByRole('link', { name: /^Replied/ }).click(),
  },
  { name: 'open_message', path: '/sent', press: (page) => page.locator('.sent-link').nth(2).click() },
  { name: 'sentence', path: '/sent', press: (page) => page.getByRole('button', { name: /^What is shown/ }).click() },
  { name: 'as_table', path: '/sent', press: (page) => page.getByText('Table', { exact: true }).click() },
  { name: 'search_key', path: '/sent', press: (page) => page.keyboard.press('f') },
  { name: 'typing_search', path: '/sent', press: async (page) => page.getByLabel('Search').first().press('m') },
  {
    name: 'edit_person',
    path: '/people',
    press: (page) =>
      page
        .getByRole('button', { name: /^Edit / })
        .first()
        .click(),
  },
  { name: 'write', path: '/sent', press: (page) => page.getByRole('button', { name: 'Write' }).first().click() },
  {
    name: 'typing_message',
    path: '/write',
    press: (page) => page.getByRole('textbox', { name: 'Message' }).press('a'),
  },
];

const { config, remove } = benchFolder(4895);
seedLarge(config, MESSAGES, EVENTS);
const session = await openSession(config);
const server = await startServer(config);
const browser = await chromium.launch({ executablePath: CHROMIUM, args: BROWSER_ARGS });
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
await context.addCookies([{ name: 'kiraku_session', value: session, url: `http://127.0.0.1:${config.port}` }]);
const page = await context.newPage();
for (const { name, path, press } of PRESSES) {
  const longest: number[] = [];
  for (let time = 0; time < TIMES; time += 1) {
    await page.goto(`http://127.0.0.1:${config.port}${path}`);
    await page.waitForLoadState('networkidle').catch(() => undefined);
    await listen(page);
    await press(page);
    await page.waitForTimeout(SETTLE_MS);
    longest.push(await page.evaluate(() => Math.max(0, ...(window as unknown as { shown: number[] }).shown)));
  }
  longest.sort((a, b) => a - b);
  report(`press_${name}`, longest[Math.floor(TIMES / 2)]!, `ms, the median of ${TIMES} (bar: 100)`);
  report(`press_${name}_worst`, longest.at(-1)!, 'ms');
}
await browser.close();
await stopServer(server);
remove();

/** Has the page write down how long after each event it painted next. */
async function listen(shown: Page): Promise<void> {
  await shown.evaluate(() => {
    const durations: number[] = [];
    Object.assign(window, { shown: durations });
    new PerformanceObserver((list) => durations.push(...list.getEntries().map(({ duration }) => duration))).observe({
      type: 'event',
      durationThreshold: 16,
    } as PerformanceObserverInit);
  });
}
