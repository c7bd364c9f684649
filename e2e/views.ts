import { expect, type Page } from '@playwright/test';
import type { World } from './world.js';

/** Each main view, in a state in which all of it shows: its name, and how one comes there. */
export const VIEWS: [name: string, open: (page: Page, world: World) => Promise<void>][] = [
  [
    'Today',
    async (page, world) =>
      void (await page.goto(`${world.desk}/today`), await expect(page.locator('.today-row').first()).toBeVisible()),
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
      await expect(page.locator('.sent-glance b').first()).toBeVisible();
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
    'a round under way',
    async (page, world) => {
      await page.goto(`${world.desk}/rounds`);
      await page.getByRole('link', { name: 'Quieter cafés, this month' }).click();
      await expect(page.getByRole('group', { name: 'Replied' })).toBeVisible();
    },
  ],
  [
    'a round that is prepared',
    async (page, world) => {
      const people = ['Ada Quill', 'Bram Oost'].map((name) => ({
        name,
        address: `${name.slice(0, 3)}@prepared.example`,
      }));
      const recipients = people.map((one) => ({ ...one, cells: [''] }));
      const response = await page.request.post(`${world.desk}/api/rounds`, {
        data: { name: 'Prepared', draftId: null, personIds: [], columns: ['Seats'], recipients, zone: 'UTC' },
      });
      const { id } = (await response.json()) as { id: number };
      await page.goto(`${world.desk}/rounds/${id}`);
      await page.getByRole('textbox', { name: 'Subject' }).fill('All {{seats}} seats');
      await page.getByRole('button', { name: 'Compare another wording' }).click();
      await expect(page.getByText('a placeholder cannot be filled')).toBeVisible();
    },
  ],
  [
    'the summary',
    async (page, world) =>
      void (
        await page.goto(`${world.desk}/summary`),
        await expect(page.getByRole('region', { name: 'Contact next' }).getByRole('listitem').first()).toBeVisible(),
        await expect(page.getByRole('button', { name: 'Email it to me now' })).toBeVisible()
      ),
  ],
  [
    'a message with a reply',
    async (page, world) => {
      await page.goto(`${world.desk}/sent?words=Hana%20revised`);
      await page.locator('.sent-link').first().click();
      await expect(page.getByRole('region', { name: 'Replies' }).getByRole('article').first()).toBeVisible();
      await expect(page.getByLabel('Private note')).toBeVisible();
    },
  ],
  [
    'reminder and follow-ups, while writing',
    async (page, world) => {
      await page.goto(`${world.desk}/write`);
      for (const name of ['Remind me', 'Automatic follow-ups']) await page.getByRole('switch', { name }).click();
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
    'check-up',
    async (page, world) => {
      await page.goto(`${world.desk}/settings/check-up`);
      await page.getByRole('button', { name: 'Check now' }).click();
      await expect(page.getByText('This browser reaches the public address.')).toBeVisible({ timeout: 30_000 });
      await expect(page.getByText('The database is whole.')).toBeVisible({ timeout: 30_000 });
    },
  ],
  [
    'earlier mail',
    async (page, world) => {
      await page.goto(`${world.desk}/settings/earlier-mail`);
      await expect(page.getByRole('button', { name: 'Choose files' })).toBeVisible();
    },
  ],
  [
    'backups',
    async (page, world) => {
      await page.goto(`${world.desk}/settings/backups`);
      await expect(page.getByRole('button', { name: 'Choose passphrase' })).toBeVisible();
    },
  ],
  [
    'replies and receipts',
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
      await page.getByText('By reader').click();
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
        await expect(page.getByText('Largest file:')).toBeVisible()
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
    'importing people',
    async (page, world) => {
      await page.goto(`${world.desk}/people`);
      await page.getByRole('button', { name: 'Import people' }).click();
      await expect(page.getByText('Press to choose a file')).toBeVisible();
    },
  ],
  [
    'Companies',
    async (page, world) =>
      void (
        await page.goto(`${world.desk}/people?as=companies`),
        await expect(page.locator('.people-name').first()).toBeVisible()
      ),
  ],
  [
    'Notifications',
    async (page, world) => {
      await page.goto(`${world.desk}/settings/notifications`);
      await page.getByRole('switch', { name: 'No notifications at night' }).click();
      await expect(page.getByLabel('Quiet from')).toBeVisible();
    },
  ],
  [
    'a message',
    async (page, world) => {
      await page.goto(`${world.desk}/sent`);
      await page.getByRole('link', { name: 'Panels for the reading room' }).first().click();
      await expect(page.getByLabel('Links and files in the message').getByRole('listitem').first()).toBeVisible();
      await page.getByRole('button', { name: 'Show the chart' }).click();
      await expect(page.locator('.chart-box svg')).toBeVisible();
    },
  ],
  [
    'what a search finds',
    async (page, world) => {
      await page.goto(`${world.desk}/reports`);
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
      await page.keyboard.press('f');
      await page.getByRole('combobox', { name: 'Search everything' }).fill('marit');
      await expect(page.getByRole('listbox')).toBeAttached();
      await expect(page.locator('.ant-select-item-option').filter({ hasText: 'Panels' }).first()).toBeVisible();
    },
  ],
  [
    'Keys',
    async (page, world) => {
      await page.goto(`${world.desk}/reports`);
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
      await page.keyboard.press('?');
      await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
    },
  ],
  [
    'Write',
    async (page, world) => {
      await page.goto(`${world.desk}/drafts`);
      await page.getByRole('link', { name: 'Practice rooms: a first sketch' }).click();
      await expect(page.getByRole('textbox', { name: 'Message' })).toBeVisible();
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
      void (
        await page.goto(`${world.desk}/outbox`),
        await expect(page.locator('.delivery-outbox li').first()).toBeVisible()
      ),
  ],
  [
    'a row of People that is being edited',
    async (page, world) => {
      await page.goto(`${world.desk}/people`);
      await page
        .getByRole('button', { name: /^Edit / })
        .first()
        .click();
      await expect(page.getByRole('combobox', { name: 'Tags' })).toBeEnabled();
    },
  ],
  [
    'a template that is offered while its name is typed',
    async (page, world) => {
      await page.goto(`${world.desk}/write`);
      await page.getByRole('textbox', { name: 'Message' }).click();
      await page.keyboard.type('first em');
      await page.keyboard.press('ArrowDown');
      await expect(page.getByRole('option', { name: /^First email/ })).toHaveAttribute('aria-selected', 'true');
    },
  ],
  [
    'Templates',
    async (page, world) => {
      await page.goto(`${world.desk}/templates`);
      await page.getByRole('button', { name: 'First email', exact: true }).click();
      await expect(page.getByRole('textbox', { name: 'Template' })).toBeVisible();
    },
  ],
  [
    'a person',
    async (page, world) => {
      await page.goto(`${world.desk}/sent`);
      await page.getByRole('link', { name: 'Panels for the reading room' }).first().click();
      await page.getByRole('region', { name: 'Recipients' }).getByRole('link', { name: 'Marit Oakes' }).click();
      await expect(page.getByRole('button', { name: 'Erase everything' })).toBeVisible();
    },
  ],
  [
    'What counts',
    async (page, world) => {
      await page.goto(`${world.desk}/settings/counting`);
      await expect(page.getByRole('button', { name: 'Apply the rules to past activity' })).toBeVisible();
    },
  ],
  [
    'Settings',
    async (page, world) =>
      void (await page.goto(`${world.desk}/settings`), await expect(page.getByLabel('Your name')).toBeVisible()),
  ],
];
