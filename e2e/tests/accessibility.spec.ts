import { createRequire } from 'node:module';
import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import type axe from 'axe-core';
import { VIEWS } from '../views.js';
import { signedIn, test } from '../world.js';

test.use({ file: import.meta.filename });

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** Violations of WCAG 2.2 A and AA, a line each. */
async function violations(page: Page): Promise<string[]> {
  // What is still fading in has the colours of neither before nor after; what turns for ever is not waited for.
  await page.evaluate(() =>
    Promise.all(
      document
        .getAnimations()
        .filter(({ effect }) => effect?.getComputedTiming().endTime !== Infinity)
        .map(({ finished }) => finished.catch(() => undefined)),
    ),
  );
  // Run as an expression: the page’s own policy lets no foreign script in.
  await page.evaluate(AXE);
  const results = (await page.evaluate(
    `axe.run({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'] })`,
  )) as axe.AxeResults;
  return results.violations.flatMap((rule) =>
    rule.nodes.map((node) => `${rule.id}: ${node.html.slice(0, 160)} ${node.failureSummary}`),
  );
}

for (const colorScheme of ['light', 'dark'] as const) {
  test.describe(`in ${colorScheme}`, () => {
    test.use({ colorScheme });

    test('no view has a violation', async ({ world, page }) => {
      await signedIn(page, world);
      for (const [name, open] of VIEWS) {
        await open(page, world);
        expect(await violations(page), name).toEqual([]);
      }
    });

    test('sign-in has no violation', async ({ world, page }) => {
      await page.goto(world.desk);
      await expect(page.getByLabel('Passphrase')).toBeVisible();
      expect(await violations(page)).toEqual([]);
    });
  });
}

test('writing has no violation where there is no template yet', async ({ world, page }) => {
  await signedIn(page, world);
  await page.route('**/api/templates', (route) => route.fulfill({ json: [] }));
  await page.goto(`${world.desk}/write`);
  await expect(page.getByRole('link', { name: 'write one' })).toBeVisible();
  expect(await violations(page)).toEqual([]);
});

test('set-up has no violation', async ({ emptyWorld, page }) => {
  await page.route('**/api/session', (route) =>
    route.fulfill({ json: { setUp: false, signedIn: false, account: null, publicUrl: '' } }),
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

test('at a phone’s width nothing runs over the side, and all can be reached', async ({ world, page }) => {
  await page.setViewportSize({ width: 390, height: 800 });
  await signedIn(page, world);
  for (const [name, open] of VIEWS) {
    await open(page, world);
    const overflow = await page.evaluate(
      () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
    );
    expect(overflow, name).toBe(0);
    expect(await violations(page)).toEqual([]);
  }
});

test('the page runs nothing that its policy forbids', async ({ world, page }) => {
  const complaints: string[] = [];
  page.on('console', (message) => message.type() === 'error' && complaints.push(message.text()));
  page.on('pageerror', (error) => complaints.push(error.message));
  await signedIn(page, world);
  for (const [, open] of VIEWS) await open(page, world);
  expect(complaints).toEqual([]);
});
