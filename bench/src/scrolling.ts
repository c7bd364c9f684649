import { chromium, type Page } from '@playwright/test';
import { benchFolder } from './lib/folder.js';
import { BROWSER_ARGS, CHROMIUM } from './lib/hitToPage.js';
import { seedLarge } from './lib/large.js';
import { startServer, stopServer } from './lib/processes.js';
import { quantile, report } from './lib/report.js';
import { openSession } from './lib/session.js';

/* The sent list of 100,000 messages under the wheel: whether rows stay blank, and how long the page is held up. */
const MESSAGES = Number(process.env['BENCH_MESSAGES'] ?? 100_000);
const EVENTS = Number(process.env['BENCH_EVENTS'] ?? 200_000);
const STEPS = 250;
const STEP_PX = 700;
const SCROLL_STEP_MS = 40;

const { config, remove } = benchFolder(4885);
seedLarge(config, MESSAGES, EVENTS);
const session = await openSession(config);
const server = await startServer(config);
const browser = await chromium.launch({ executablePath: CHROMIUM, args: BROWSER_ARGS });
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
await context.addCookies([{ name: 'kiraku_session', value: session, url: `http://127.0.0.1:${config.port}` }]);
const page = await context.newPage();

for (const form of ['trails', 'table'] as const) {
  await page.goto(`http://127.0.0.1:${config.port}/sent${form === 'table' ? '?as=table' : ''}`);
  await page
    .locator(form === 'table' ? 'tbody tr' : '.sent-link')
    .nth(3)
    .waitFor();
  const { blanks, long, frames, rows } = await scrolled(page);
  report(`scrolling_${form}_rows`, rows, 'rows gone past');
  report(`scrolling_${form}_blank`, blanks, `of ${STEPS} looks at a blank window (bar: 0)`);
  report(`scrolling_${form}_longest_task`, Math.max(0, ...long), 'ms (bar: 200)');
  report(`scrolling_${form}_frame_p99`, quantile(frames, 0.99), 'ms');
}
await browser.close();
await stopServer(server);
remove();

/** Turns the wheel, and looks after each turn whether there are rows in the middle of the window. */
async function scrolled(shown: Page) {
  await shown.evaluate(() => {
    const seen = { long: [] as number[], frames: [] as number[] };
    Object.assign(window, { seen });
    new PerformanceObserver((list) => seen.long.push(...list.getEntries().map(({ duration }) => duration))).observe({
      type: 'longtask',
    });
    let last = performance.now();
    const frame = (now: number) => {
      seen.frames.push(now - last);
      last = now;
      requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
  });
  let blanks = 0;
  await shown.mouse.move(640, 500);
  for (let n = 0; n < STEPS; n += 1) {
    await shown.mouse.wheel(0, STEP_PX);
    await new Promise((resolve) => setTimeout(resolve, SCROLL_STEP_MS));
    const isRow = await shown.evaluate(() => {
      const found = document.elementFromPoint(400, 500);
      return found?.closest('.sent-row, tr, .sent-end') !== null;
    });
    if (!isRow) blanks += 1;
  }
  return shown.evaluate((blank) => {
    const { seen } = window as unknown as { seen: { long: number[]; frames: number[] } };
    const last = [...document.querySelectorAll('[aria-posinset], [aria-rowindex]')].at(-1);
    const rows = Number(last?.getAttribute('aria-posinset') ?? last?.getAttribute('aria-rowindex') ?? 0);
    return { ...seen, blanks: blank, rows };
  }, blanks);
}
