import { expect, type Browser, type Locator, type Page } from '@playwright/test';
import type { MessagePage, MessageSummary } from '@kiraku/core/contract';
import { rowsWith, signedIn, test, type World } from '../world.js';

test.use({ file: import.meta.filename });

type Unopened = Awaited<ReturnType<typeof withoutSign>>[number];

/**
 * Messages of which nothing is known, the oldest first, each with its first recipient: only those whose subject a
 * recipient has once, so that a mailbox shows which is meant.
 */
async function withoutSign(page: Page, world: World) {
  const pairs = (messages: MessageSummary[]) =>
    messages.map(({ id, subject, recipients }) => ({ id, subject, ...recipients[0]! }));
  const sent = async (query: string) => pairs(await messagesOf(page, world, query));
  const all = await sent('');
  const isOnce = ({ subject, address }: { subject: string; address: string }) =>
    all.filter((one) => one.subject === subject && one.address === address).length === 1;
  return (await sent('&show=no-sign')).filter(isOnce);
}

/** All messages of a list, the oldest first. */
async function messagesOf(page: Page, world: World, query: string): Promise<MessageSummary[]> {
  const messages: MessageSummary[] = [];
  for (let cursor: string | null = ''; cursor !== null;) {
    const response = await page.request.get(
      `${world.desk}/api/messages?sort=sent&direction=asc${query}${cursor && `&cursor=${cursor}`}`,
    );
    const next = (await response.json()) as MessagePage;
    messages.push(...next.messages);
    cursor = next.nextCursor;
  }
  return messages;
}

/** Opens a message as its recipient does, in a browser of its own. */
async function openedBy(browser: Browser, world: World, { subject, address }: Unopened): Promise<void> {
  const recipient = await (await browser.newContext()).newPage();
  await recipient.goto(`${world.outside}/mailboxes/${encodeURIComponent(address)}?program=laptop`);
  await recipient.getByRole('link', { name: subject }).click();
}

/** Lets the server respond to requests of one kind, and keeps its responses from the page until they are let go. */
async function heldBack(page: Page, url: string): Promise<() => void> {
  let letGo = () => {};
  const freed = new Promise<void>((resolve) => (letGo = resolve));
  await page.route(url, async (route) => {
    const response = await route.fetch();
    await freed;
    await route.fulfill({ response });
  });
  return letGo;
}

/** The story’s busiest message, in a list. */
function panelsRow(page: Page): Locator {
  const rows = rowsWith(page, 'Marit Oakes');
  return rows.locator('a.sent-link', { hasText: 'Panels for the reading room' });
}

test('the list’s sentence narrows it, its address says so, and a view is kept under a name', async ({
  world,
  page,
}) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  const sentence = page.locator('#list-sentence');
  await expect(sentence).toContainText('none left out');
  await page.getByRole('button', { name: /^What is shown/ }).click();
  await page.getByRole('menuitem', { name: 'messages read but not replied to' }).click();
  await expect(page).toHaveURL(/show=not-replied/);
  await expect(sentence).toContainText(/\d+ of \d+ messages\./);
  await page.getByRole('button', { name: /^Sorted by/ }).click();
  await page.getByRole('menuitem', { name: 'opens', exact: true }).click();
  await expect(page).toHaveURL(/sort=opens/);
  await expect(page.getByRole('main').getByRole('listitem').first()).toContainText('Panels for the reading room');

  // What one fills in is loaded when it is opened.
  await page.getByRole('button', { name: /^What else/ }).click();
  await page.getByText('Only with a private note').click();
  await expect(page).toHaveURL(/noted=true/);
  await expect(page.getByRole('checkbox', { name: 'Only with a private note' })).toBeChecked();
  await page.getByText('Only with a private note').click();
  await expect(page).not.toHaveURL(/noted/);
  await page.keyboard.press('Escape');

  await page.getByRole('button', { name: 'Saved views' }).click();
  await page.getByRole('menuitem', { name: /^Save this view/ }).click();
  await page.getByLabel('Name of the view').fill('Waiting for me');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Waiting for me' })).toBeVisible();
  await page.getByRole('button', { name: 'Clear filters' }).click();
  await expect(sentence).toContainText('none left out');
  await page.getByRole('button', { name: 'Saved views' }).click();
  await page.getByRole('menuitem', { name: 'Waiting for me' }).click();
  await expect(page).toHaveURL(/show=not-replied&sort=opens/);
  await page.reload();
  await expect(page.getByRole('button', { name: 'What is shown: messages read but not replied to' })).toBeVisible();
});

test('what is searched is found as it is typed, and shows where it stands', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  // As fast as the list follows: nothing that is typed is lost meanwhile.
  await page.getByLabel('Search').pressSequentially('vacuumed', { delay: 190 });
  await expect(page.getByLabel('Search')).toHaveValue('vacuumed');
  await expect(page).toHaveURL(/words=vacuumed&sort=relevance/);
  await expect(page.getByRole('main').getByRole('listitem').first().locator('mark')).toHaveText('vacuumed,');
  await page.getByLabel('Search').fill('nothing is called like this');
  await expect(page.getByRole('heading', { name: 'No messages match' })).toBeVisible();
});

test('a message that is not loaded comes to the top when it is opened, and how many there are stays right', async ({
  world,
  page,
  browser,
}) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  const sentence = page.locator('#list-sentence');
  await expect(sentence).toContainText('none left out');
  const before = await sentence.textContent();
  const [oldest] = await withoutSign(page, world);
  const { subject } = oldest!;
  const row = rowsWith(page, subject);
  await openedBy(browser, world, oldest!);
  await expect(row.first()).toContainText('Opened once, just now');
  // The server's word on how many there are comes a moment after the row.
  await page.waitForTimeout(1000);
  expect(await sentence.textContent()).toBe(before);
});

test('a list that is being read while one of its rows changes shows the change', async ({ world, page, browser }) => {
  await signedIn(page, world);
  const [oldest] = await withoutSign(page, world);
  const { subject, name } = oldest!;
  await page.goto(`${world.desk}/drafts`);
  await expect(page.getByRole('heading', { name: 'Drafts' })).toBeVisible();

  // Read now, and held back until the page knows of the change.
  const letGo = await heldBack(page, '**/api/messages?*');
  const asked = page.waitForRequest('**/api/messages?*');
  await page.getByRole('link', { name: 'Sent', exact: true }).click();
  await asked;
  await page.waitForTimeout(500);
  await openedBy(browser, world, oldest!);
  const lastHour = page.getByRole('region', { name: 'The last hour' });
  await expect(lastHour.getByRole('link', { name: `${name} opened “${subject}”` })).toBeVisible();
  letGo();
  await expect(rowsWith(page, name, 'Opened once, just now')).toBeVisible();
});

test('a last hour that is being read while something happens shows it', async ({ world, page, browser }) => {
  await signedIn(page, world);
  const [oldest] = await withoutSign(page, world);
  const { subject, name } = oldest!;
  // Read now, and held back until the page knows of the change.
  const letGo = await heldBack(page, '**/api/events/recent');
  const asked = page.waitForRequest('**/api/events/recent');
  const live = page.waitForResponse('**/api/live*');
  await page.goto(`${world.desk}/drafts`);
  await Promise.all([asked, live]);
  await page.waitForTimeout(500);
  await openedBy(browser, world, oldest!);
  await expect(page.getByRole('region', { name: /^Notifications/ }).getByRole('link', { name: subject })).toBeVisible();
  letGo();
  const lastHour = page.getByRole('region', { name: 'The last hour' });
  await expect(lastHour.getByRole('link', { name: `${name} opened “${subject}”` })).toBeVisible();
});

test('what happens before the page can listen to it is shown once it can', async ({ world, page, browser }) => {
  await signedIn(page, world);
  const [oldest] = await withoutSign(page, world);
  let listen = () => {};
  const listening = new Promise<void>((resolve) => (listen = resolve));
  await page.route('**/api/live*', async (route) => {
    await listening;
    await route.continue();
  });
  const asked = page.waitForRequest('**/api/live*');
  await page.goto(`${world.desk}/sent`);
  await expect(page.locator('#list-sentence')).toContainText('none left out');
  await Promise.all([asked, openedBy(browser, world, oldest!)]);
  const opened = async () => (await messagesOf(page, world, '&show=no-sign')).every(({ id }) => id !== oldest!.id);
  await expect.poll(opened).toBe(true);
  listen();
  const row = rowsWith(page, oldest!.name, oldest!.subject);
  await expect(row.first()).toContainText('Opened once, just now');
});

test('several messages are archived, and restored in one press', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  const sentence = page.locator('#list-sentence');
  await expect(sentence).toContainText(/\d+ messages/);
  const count = Number(/(\d+) messages/.exec((await sentence.textContent())!)![1]);
  const subject = await page.getByRole('main').getByRole('listitem').first().getByRole('link').textContent();
  await page.getByRole('button', { name: 'Select' }).click();
  // What was acted on meanwhile may stand above it now.
  await page
    .getByRole('checkbox', { name: `Select “${subject}”` })
    .first()
    .check();
  await page.getByRole('button', { name: 'Archive' }).click();
  await expect(sentence).toContainText(`${count - 1} messages`);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(sentence).toContainText(`${count} messages`);
});

test('as a table, a press on a column’s head sorts it, and columns are chosen', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  await page.getByText('Table', { exact: true }).click();
  await page.getByRole('columnheader', { name: 'Clicks' }).getByRole('button').click();
  await expect(page).toHaveURL(/sort=clicks.*as=table/);
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('checkbox', { name: 'Status' }).check();
  await expect(page.getByRole('columnheader', { name: 'Status' })).toBeVisible();
});

test('Today proposes who is reading, within a moment, and lets them be resolved', async ({ world, page, browser }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/today`);
  await expect(page.getByRole('heading', { name: /^Contact next/ })).toBeVisible();
  await expect(page.locator('.today-row').first()).toBeVisible();
  const proposed = (await page.locator('.today-row').allTextContents()).join();
  const someone = (await withoutSign(page, world)).find((one) => !proposed.includes(one.name))!;
  const { name } = someone;
  const mine = page.locator('.today-row').filter({ hasText: name });
  await expect(mine).toHaveCount(0);
  await openedBy(browser, world, someone);
  await expect(mine).toContainText('Reading it right now');
  await mine.getByRole('button', { name: `Done: ${name}` }).click();
  await expect(mine).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(mine).toBeVisible();
  await mine.getByRole('button', { name: `Reply to ${name}` }).click();
  await expect(page).toHaveURL(/\/write\/\d+/);
});

test('resting on a row shows the essentials, and the keyboard writes on and snoozes', async ({ world, page }) => {
  await signedIn(page, world);
  // Found by its words: what other tests sent may have pushed it out of sight.
  await page.goto(`${world.desk}/sent?words=reading%20room`);
  const row = panelsRow(page);
  await row.hover();
  await expect(page.locator('.sent-glance')).toContainText(/Marit Oakes: \d opens, 3 clicks/);
  await expect(page.locator('.sent-glance')).toContainText('“the proposal” clicked 2 times');
  // Beside the list, however far it is scrolled.
  await page.mouse.move(4, 400);
  await expect(page.locator('.sent-glance')).toBeHidden();
  await row.focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowUp');
  await expect(page.locator('.sent-glance')).toBeVisible();
  await page.keyboard.press('l');
  await expect(page.getByText('Marit Oakes is hidden until tomorrow morning')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await row.focus();
  await page.keyboard.press('r');
  await expect(page).toHaveURL(/\/write\/\d+$/);
});

test('the chart narrows the history, by dragging and without, and the history by the activity', async ({
  world,
  page,
}) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent?words=reading%20room`);
  await panelsRow(page).click();
  const history = page.getByRole('region', { name: 'Activity' }).getByRole('listitem');
  await page.getByRole('button', { name: 'Show the chart' }).click();
  await expect(page.locator('.chart-box svg')).toBeVisible();
  await expect(history.first()).toBeVisible();
  const all = await history.count();
  const box = (await page.locator('.chart-box svg').boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.8, box.y + 20);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width - 2, box.y + 20, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByText(/^Between .* and /)).toBeVisible();
  await expect.poll(() => history.count()).toBeLessThan(all);
  await expect(history.first()).toBeVisible();
  await page.getByRole('button', { name: 'Activity of all time' }).click();
  await expect(history).toHaveCount(all);
  await page.getByRole('button', { name: 'Zoom in' }).press('Enter');
  await page.getByRole('button', { name: 'Activity in this time only' }).press('Enter');
  await expect.poll(() => history.count()).toBeLessThan(all);
  await page.getByRole('button', { name: 'Activity of all time' }).press('Enter');
  await page.getByLabel('What is shown', { exact: true }).click();
  await page.getByTitle('clicks', { exact: true }).click();
  await expect(history).toHaveCount(3);
});

test('on a phone’s width nothing stands beside the page', async ({ world, page }) => {
  await page.setViewportSize({ width: 375, height: 740 });
  await signedIn(page, world);
  for (const path of ['/today', '/sent', '/sent/34', '/people', '/people/3', '/settings/notifications']) {
    await page.goto(world.desk + path);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await page.waitForTimeout(500);
    const over = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
    expect([path, over]).toEqual([path, 0]);
  }
});

test('a message’s page goes on paper without what is pressed', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent?words=reading%20room`);
  await panelsRow(page).click();
  await expect(page.getByRole('region', { name: 'Activity' }).getByRole('listitem').first()).toBeVisible();
  await page.emulateMedia({ media: 'print' });
  for (const hidden of ['Reply', 'Show the chart', 'Facts'])
    await expect(page.getByRole('button', { name: hidden }).first()).toBeHidden();
  await expect(page.getByRole('banner')).toBeHidden();
  await expect(page.locator('#notifications')).toHaveCSS('display', 'none');
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  await expect(page.frameLocator('.message-body iframe').getByText('thank you for walking me through')).toBeVisible();
  const pdf = await page.pdf({ format: 'A4' });
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
  // All of it: the message and its activity.
  expect(pdf.length).toBeGreaterThan(20_000);
});

test('a message and what was written on are one conversation, summed up', async ({ world, page }) => {
  await signedIn(page, world);
  // Found by its words: the list draws only what is in its window.
  await page.goto(`${world.desk}/sent?words=price%20for%2040`);
  await rowsWith(page, 'Rafe Linden').locator('a.sent-link', { hasText: 'Price for 40 m²' }).click();
  await expect(page.getByText('Whole conversation')).toBeHidden();
  // A reminder that has just become due offers it as well.
  await page.getByRole('region', { name: 'Actions' }).getByRole('button', { name: 'Reply' }).click();
  await page.getByRole('textbox', { name: 'Message' }).click();
  await page.keyboard.type('One more thing.');
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await page.locator('a.sent-link', { hasText: 'Re: Price for 40 m²' }).first().click();
  await page.getByText('Whole conversation').click();
  const messages = page.getByRole('region', { name: 'Conversation' }).getByRole('listitem');
  await expect(messages).toHaveCount(2);
  await expect(messages.first()).toContainText('Came back');
  // What happened to the first one stands in the history of both.
  await expect(page.getByRole('region', { name: 'Activity' }).getByRole('listitem').first()).toContainText(
    'Price for 40 m²',
  );
  await messages.first().getByRole('link').click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Came back');
});
