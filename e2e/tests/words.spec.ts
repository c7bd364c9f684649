import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { VIEWS } from '../views.js';
import { signedIn, test } from '../world.js';

test.use({ file: import.meta.filename });

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

for (const width of [1280, 390]) {
  test(`at ${width} pixels no view has a word that was replaced`, async ({ world, page }) => {
    await page.setViewportSize({ width, height: 800 });
    const lines: string[] = [];
    const found: string[] = [];
    const read = async ([name, open]: (typeof VIEWS)[number]) => {
      await open(page, world);
      const texts = await textsOf(page);
      expect(texts.length, name).toBeGreaterThan(1);
      lines.push(`\n# ${name}`, ...texts);
      for (const text of texts)
        for (const { pattern, now } of OLD_WORDS)
          if (pattern.test(text)) found.push(`${name}: “${text}”, now “${now}”`);
    };
    for (const view of PUBLIC_VIEWS) await read(view);
    await signedIn(page, world);
    for (const view of VIEWS) await read(view);
    mkdirSync(OUT, { recursive: true });
    writeFileSync(new URL(`words-${width}.txt`, OUT), `${lines.join('\n').trim()}\n`);
    expect(found).toEqual([]);
  });
}
