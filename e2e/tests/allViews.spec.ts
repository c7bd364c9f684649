import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect, type Page } from '@playwright/test';
import type axe from 'axe-core';
import { VIEWS } from '../views.js';
import { signedIn, test } from '../world.js';

test.use({ file: import.meta.filename });

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** Where the texts of all views are written, each width by itself, to be read from beginning to end. */
const OUT = new URL('../../.test/', import.meta.url);
const { words } = JSON.parse(readFileSync(new URL('../../scripts/vocabulary.json', import.meta.url), 'utf8')) as {
  words: Record<string, string>;
};
const OLD_WORDS = Object.entries(words).map(([pattern, now]) => ({
  pattern: new RegExp(`\\b(?:${pattern})\\b`, 'i'),
  now,
}));

/** What surrounds the views: pages without a session, and what recipients see. */
const PUBLIC_VIEWS: typeof VIEWS = [
  [
    'signing in',
    async (page, world) => {
      await page.goto(`${world.desk}/sign-in`);
      await expect(page.getByLabel('Passphrase')).toBeVisible();
    },
  ],
  [
    'opted out',
    async (page, world) => {
      await page.goto(world.optOutLink('edda@mossmortar.example'));
      await expect(page.getByText('You have opted out')).toBeVisible();
    },
  ],
];

const EVERYTHING = { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'] };
/** All that another light changes of a page. */
const CONTRAST = { runOnly: ['color-contrast', 'link-in-text-block'] };
const LIGHTS = [
  ['light', EVERYTHING],
  ['dark', CONTRAST],
] as const;

/** Violations of WCAG 2.2 A and AA, a line each. */
async function violations(page: Page, rules: object = EVERYTHING): Promise<string[]> {
  // What is still fading in has the colours of neither before nor after; what turns for ever is not waited for.
  await page.evaluate(() =>
    Promise.all(
      document
        .getAnimations()
        .filter(({ effect }) => effect?.getComputedTiming().endTime !== Infinity)
        .map(({ finished }) => finished.catch(() => undefined)),
    ),
  );
  // Run as an expression: the page’s own policy lets no foreign script in. Half a megabyte, and the same for all lights.
  if (!(await page.evaluate('Boolean(window.axe)'))) await page.evaluate(AXE);
  const results = (await page.evaluate(
    `axe.run({ ...${JSON.stringify(rules)}, resultTypes: ['violations'] })`,
  )) as axe.AxeResults;
  return results.violations.flatMap((rule) =>
    rule.nodes.map((node) => `${rule.id}: ${node.html.slice(0, 160)} ${node.failureSummary}`),
  );
}

/** Goes over to a light, and waits until the page has. */
async function lit(page: Page, colorScheme: 'light' | 'dark'): Promise<void> {
  await page.emulateMedia({ colorScheme });
  await page.waitForFunction((light) => {
    const { colorScheme } = getComputedStyle(document.documentElement);
    return colorScheme === 'normal' || colorScheme.includes(light);
  }, colorScheme);
  await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))));
}

/** All text that somebody sees or has read out: what is rendered, and what names, describes or stands in for things. */
async function textsOf(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const texts: string[] = [document.title];
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    for (let node = walker.nextNode(); node; node = walker.nextNode())
      if (node.parentElement?.checkVisibility() && !node.parentElement.closest('script, style'))
        texts.push(node.nodeValue ?? '');
    for (const element of document.querySelectorAll('[aria-label], [placeholder], [title], [alt], [aria-description]'))
      for (const name of ['aria-label', 'placeholder', 'title', 'alt', 'aria-description'])
        texts.push(element.getAttribute(name) ?? '');
    return [...new Set(texts.map((text) => text.replace(/\s+/g, ' ').trim()).filter((text) => /\p{L}/u.test(text)))];
  });
}

/** The texts of a page that has all it waits for: two looks at it say the same. */
async function finalTexts(page: Page): Promise<string[]> {
  await expect(page.locator('.ant-skeleton')).toHaveCount(0);
  let texts = await textsOf(page);
  const isFinal = async () => {
    const before = texts;
    texts = await textsOf(page);
    return texts.join('\n') === before.join('\n');
  };
  await expect.poll(isFinal, { intervals: [150] }).toBe(true);
  return texts;
}

/** The words that were replaced, where they stand. */
function oldWordsIn(texts: readonly string[]): string[] {
  return texts.flatMap((text) =>
    OLD_WORDS.filter(({ pattern }) => pattern.test(text)).map(({ now }) => `“${text}”, now “${now}”`),
  );
}

/** As wide as a window, and as narrow as a phone. */
const WIDTHS = [1280, 390];

test('no view violates, forbids itself, runs over its side, or speaks in old words, wide and narrow', async ({
  world,
  page,
}) => {
  // Some forty views, each looked at in two widths and two lights.
  test.slow();
  const complaints: string[] = [];
  page.on('console', (message) => message.type() === 'error' && complaints.push(message.text()));
  page.on('pageerror', (error) => complaints.push(error.message));
  const lines = new Map(WIDTHS.map((width) => [width, [] as string[]]));

  const look = async (name: string, width: number) => {
    const at = `${name}, ${width} pixels wide`;
    const texts = await finalTexts(page);
    lines.get(width)!.push(`\n# ${name}`, ...texts);
    expect.soft(texts.length, `${at}: texts`).toBeGreaterThan(1);
    expect.soft(oldWordsIn(texts), `${at}: words that were replaced`).toEqual([]);
    const overflow = await page.evaluate(
      () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
    );
    expect.soft(overflow, `${at}: pixels over the side`).toBe(0);
    for (const [light, rules] of LIGHTS) {
      await lit(page, light);
      expect.soft(await violations(page, rules), `${at}: violations in ${light}`).toEqual([]);
    }
  };
  const visit = async ([name, open]: (typeof VIEWS)[number]) => {
    for (const width of WIDTHS) {
      await page.setViewportSize({ width, height: 800 });
      await lit(page, 'light');
      if (width === WIDTHS[0]) await open(page, world);
      await look(name, width);
    }
    expect.soft(complaints.splice(0), `${name}: what its policy forbids`).toEqual([]);
  };

  for (const view of PUBLIC_VIEWS) await visit(view);
  await signedIn(page, world);
  for (const view of VIEWS) await visit(view);
  mkdirSync(OUT, { recursive: true });
  for (const [width, texts] of lines) writeFileSync(new URL(`words-${width}.txt`, OUT), `${texts.join('\n').trim()}\n`);
});

test('writing has no violation where there is no template yet', async ({ world, page }) => {
  await signedIn(page, world);
  await page.route('**/api/templates', (route) => route.fulfill({ json: [] }));
  await page.goto(`${world.desk}/write`);
  await expect(page.getByRole('link', { name: 'write one' })).toBeVisible();
  expect(await violations(page)).toEqual([]);
});

test('set-up has no violation', async ({ emptyWorld, page }) => {
  await page.route('**/api/session', (route) =>
    route.fulfill({ json: { setUp: false, signedIn: false, setUpStep: null, account: null, publicUrl: '' } }),
  );
  await page.goto(`${emptyWorld.desk}/set-up`);
  await expect(page.getByLabel('Your name')).toBeVisible();
  expect(await violations(page)).toEqual([]);
});

test('the recipient’s page has no violation', async ({ world, page }) => {
  await page.goto(`${world.outside}/mailboxes/marit%40lindqvist.example`);
  await page.getByRole('link', { name: 'Panels for the reading room' }).first().click();
  expect(await violations(page)).toEqual([]);
});
