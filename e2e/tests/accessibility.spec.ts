import { createRequire } from 'node:module';
import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import type axe from 'axe-core';
import { signedIn, test, type World } from '../world.js';

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

const VIEWS: [name: string, open: (page: Page, world: World) => Promise<void>][] = [
  [
    'Today',
    async (page, world) =>
      void (await page.goto(`${world.desk}/today`), await expect(page.locator('.proposal').first()).toBeVisible()),
  ],
  [
    'Sent as a table',
    async (page, world) =>
      void (
        await page.goto(`${world.desk}/sent?as=table&words=felt`),
        await expect(page.getByRole('columnheader', { name: 'Opens' })).toBeVisible()
      ),
  ],
  [
    'Sent',
    async (page, world) =>
      void (await page.goto(`${world.desk}/sent`), await expect(page.locator('.sent-link').first()).toBeVisible()),
  ],
  [
    'a row on which one rests',
    async (page, world) => {
      await page.goto(`${world.desk}/sent`);
      await page.locator('.sent-link').first().hover();
      await expect(page.locator('.glance b').first()).toBeVisible();
    },
  ],
  [
    'Follow-ups',
    async (page, world) =>
      void (
        await page.goto(`${world.desk}/followups`),
        await expect(page.getByRole('region', { name: 'Due' }).getByRole('listitem').first()).toBeVisible()
      ),
  ],
  [
    'Reports',
    async (page, world) =>
      void (
        await page.goto(`${world.desk}/reports`),
        await expect(page.getByRole('list', { name: 'Weeks' }).getByRole('listitem').first()).toBeVisible()
      ),
  ],
  [
    'an answered letter',
    async (page, world) => {
      await page.goto(`${world.desk}/sent?words=Hana%20revised`);
      await page.locator('.sent-link').first().click();
      await expect(page.getByRole('region', { name: 'Answers' }).getByRole('article').first()).toBeVisible();
      await expect(page.getByRole('region', { name: 'Follow-ups' })).toBeVisible();
    },
  ],
  [
    'what comes back, while writing',
    async (page, world) => {
      await page.goto(`${world.desk}/write`);
      for (const name of ['Remind me', 'Write again by itself']) await page.getByRole('switch', { name }).click();
      await expect(page.getByLabel('Working days')).toBeVisible();
    },
  ],
  [
    'sign-in',
    async (page, world) => {
      await page.goto(`${world.desk}/settings/sign-in`);
      await expect(page.getByText('This browser, signed in')).toBeVisible();
    },
  ],
  [
    'how answers come',
    async (page, world) => {
      await page.goto(`${world.desk}/settings/mailbox`);
      await page.getByRole('radio').first().check();
      await expect(page.getByLabel('Mailbox server')).toBeVisible();
    },
  ],
  [
    'Files',
    async (page, world) =>
      void (await page.goto(`${world.desk}/files`), await expect(page.getByText('Quieter rooms.pptx')).toBeVisible()),
  ],
  [
    'a file that was read',
    async (page, world) => {
      await page.goto(`${world.desk}/files`);
      await page.getByRole('link', { name: 'Panels for the reading room.pdf', exact: true }).click();
      await expect(page.getByRole('list', { name: 'Readings, newest first' })).toBeVisible();
    },
  ],
  [
    'who read which page of a file',
    async (page, world) => {
      await page.goto(`${world.desk}/files`);
      await page.getByRole('link', { name: 'Panels for the reading room.pdf', exact: true }).click();
      await page.getByText('Who read which').click();
      await expect(page.getByRole('img', { name: /Marit Oakes/ }).first()).toBeVisible();
    },
  ],
  [
    'files while writing',
    async (page, world) => {
      await page.goto(`${world.desk}/write`);
      await page.getByRole('button', { name: 'Attach' }).click();
      await page.getByRole('button', { name: 'Quieter rooms.pptx' }).click();
      await expect(page.getByRole('group', { name: 'Quieter rooms.pptx' })).toBeVisible();
      await expect(page.getByText('From this computer …')).toBeHidden();
      // Until what can be pressed now has its colour.
      await page.waitForTimeout(500);
    },
  ],
  [
    'settings of files',
    async (page, world) =>
      void (
        await page.goto(`${world.desk}/settings/files`),
        await expect(page.getByText('A file may have up to')).toBeVisible()
      ),
  ],
  [
    'a file as its recipient sees it',
    async (page, world) => {
      await page.goto(world.fileLinks('marit@lindqvist.example')[0]!);
      await expect(page.locator('.textLayer').first()).toContainText('Panels for the reading room');
    },
  ],
  [
    'People',
    async (page, world) =>
      void (await page.goto(`${world.desk}/people`), await expect(page.locator('.people-name').first()).toBeVisible()),
  ],
  [
    'bringing people in',
    async (page, world) => {
      await page.goto(`${world.desk}/people`);
      await page.getByRole('button', { name: 'Bring people in' }).click();
      await expect(page.getByText('Press to choose a file')).toBeVisible();
    },
  ],
  [
    'Firms',
    async (page, world) =>
      void (
        await page.goto(`${world.desk}/people?as=firms`),
        await expect(page.locator('.people-name').first()).toBeVisible()
      ),
  ],
  [
    'Notices',
    async (page, world) => {
      await page.goto(`${world.desk}/settings/notices`);
      await page.getByRole('switch', { name: 'Tell me nothing at night' }).click();
      await expect(page.getByLabel('Quiet from')).toBeVisible();
    },
  ],
  [
    'a message',
    async (page, world) => {
      await page.goto(`${world.desk}/sent`);
      await page.getByRole('link', { name: 'Panels for the reading room' }).first().click();
      await expect(page.getByLabel('Links and files of the letter').getByRole('listitem').first()).toBeVisible();
      await expect(page.locator('.chart svg')).toBeVisible();
    },
  ],
  [
    'Write',
    async (page, world) => {
      await page.goto(`${world.desk}/drafts`);
      await page.getByRole('link', { name: 'Practice rooms: a first sketch' }).click();
      await expect(page.getByRole('textbox', { name: 'Letter' })).toBeVisible();
    },
  ],
  [
    'Drafts',
    async (page, world) =>
      void (await page.goto(`${world.desk}/drafts`), await expect(page.getByText('Practice rooms')).toBeVisible()),
  ],
  [
    'Outbox',
    async (page, world) =>
      void (await page.goto(`${world.desk}/outbox`), await expect(page.locator('.outbox li').first()).toBeVisible()),
  ],
  [
    'Templates',
    async (page, world) => {
      await page.goto(`${world.desk}/templates`);
      await page.getByRole('button', { name: 'First letter' }).click();
      await expect(page.getByRole('textbox', { name: 'Template' })).toBeVisible();
    },
  ],
  [
    'a person',
    async (page, world) => {
      await page.goto(`${world.desk}/sent`);
      await page.getByRole('link', { name: 'Panels for the reading room' }).first().click();
      await page.getByRole('region', { name: 'Recipients' }).getByRole('link', { name: 'Marit Oakes' }).click();
      await expect(page.getByRole('button', { name: 'Erase it all' })).toBeVisible();
    },
  ],
  [
    'What counts',
    async (page, world) => {
      await page.goto(`${world.desk}/settings/counting`);
      await expect(page.getByRole('button', { name: 'Judge everything again' })).toBeVisible();
    },
  ],
  [
    'Settings',
    async (page, world) =>
      void (await page.goto(`${world.desk}/settings`), await expect(page.getByLabel('Your name')).toBeVisible()),
  ],
];

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
  for (const [, open] of VIEWS) {
    await open(page, world);
    const overflow = await page.evaluate(
      () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
    );
    expect(overflow).toBe(0);
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
