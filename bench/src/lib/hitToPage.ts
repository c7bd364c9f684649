import { chromium } from '@playwright/test';
import { imagePath } from '@kiraku/core/tracking';
import type { Config } from '@kiraku/server/environment/config';
import { quantile, report } from './report.js';
import { subjectOf } from './seed.js';

export const CHROMIUM = process.env['CHROMIUM'] || '/usr/bin/chromium';

export const BROWSER_ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

const SAMPLES = 100;
const BACKGROUND_MS = 5;
const AGENT = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0';

/**
 * Reports what the first page costs, and the time from a hit at the public site to its mark on the open page while 200
 * other hits a second come in.
 *
 * @param session the value of the desk's cookie
 * @param imageTokens of messages that the list shows first, and others, as they were seeded
 */
export async function reportHitToPage(config: Config, session: string, imageTokens: readonly string[]): Promise<void> {
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: BROWSER_ARGS });
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  await context.addCookies([{ name: 'kiraku_session', value: session, url: `http://127.0.0.1:${config.port}` }]);
  const page = await context.newPage();
  let scriptBytes = 0;
  page.on('response', async (response) => {
    if (!response.url().endsWith('.js')) return;
    const sizes = await response.request().sizes();
    scriptBytes += sizes.responseBodySize;
  });
  const began = performance.now();
  await page.goto(`http://127.0.0.1:${config.port}/sent`);
  await page.locator('.sent-link').first().waitFor();
  report('first_page_interactive', performance.now() - began, 'ms (bar: 1500)');
  await page.waitForLoadState('networkidle').catch(() => undefined);
  report('sent_script', scriptBytes / 1000, 'KB compressed');

  // The page writes down when each row first shows another count than it had.
  await page.evaluate(() => {
    const seen: Record<string, number> = {};
    Object.assign(window, { seen });
    const counts = () =>
      [...document.querySelectorAll('.sent-row')].map((row): [string, string] => [
        row.querySelector('.sent-link')?.textContent ?? '',
        /Opened (once|twice|\d+ times)/.exec(row.textContent ?? '')?.[1] ?? '',
      ]);
    const before = new Map(counts());
    new MutationObserver(() => {
      for (const [subject, count] of counts())
        if (count !== (before.get(subject) ?? '')) seen[subject] ??= performance.timeOrigin + performance.now();
    }).observe(document.body, { subtree: true, childList: true, characterData: true });
  });

  let number = 0;
  const background = setInterval(() => {
    number += 1;
    void hit(
      config,
      imageTokens[SAMPLES + (number % (imageTokens.length - SAMPLES))]!,
      `${AGENT} Background/${number % 50}`,
    );
  }, BACKGROUND_MS);
  await pause(2000);
  const sentAt: number[] = [];
  for (let n = 0; n < SAMPLES; n += 1) {
    sentAt.push(performance.timeOrigin + performance.now());
    await hit(config, imageTokens[n]!, AGENT);
    await pause(100);
  }
  await pause(1000);
  clearInterval(background);
  const seen = await page.evaluate(() => (window as unknown as { seen: Record<string, number> }).seen);
  const delays = sentAt
    .flatMap((at, n) => (seen[subjectOf(n + 1)] ?? NaN) - at)
    .filter((delay) => !Number.isNaN(delay));
  report('hit_to_page_told', delays.length, `of ${SAMPLES}`);
  report('hit_to_page_p50', quantile(delays, 0.5), 'ms (bar: 80)');
  report('hit_to_page_p99', quantile(delays, 0.99), 'ms (bar: 200)');
  await browser.close();
}

async function hit(config: Config, token: string, userAgent: string): Promise<void> {
  const response = await fetch(config.publicUrl + imagePath(token), { headers: { 'user-agent': userAgent } });
  await response.arrayBuffer();
}

function pause(ms: number): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, ms));
}
