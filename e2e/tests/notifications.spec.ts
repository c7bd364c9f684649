import { expect, type Browser, type Page } from '@playwright/test';
import { BLANK_CONTENT } from '@kiraku/core/message';
import { BROWSER_ARGS, CHROMIUM } from '../browsers.js';
import { rowsWith, signedIn, test, type World } from '../world.js';

test.use({
  file: import.meta.filename,
  serviceWorkers: 'allow',
  launchOptions: { executablePath: CHROMIUM, args: BROWSER_ARGS },
});

/** Sends a message by the desk's own address, to somebody in the world outside. */
async function sent(page: Page, world: World, address: string, subject: string): Promise<void> {
  const content = { ...BLANK_CONTENT, recipients: [{ kind: 'to', name: '', address }], subject, html: '<p>Hello</p>' };
  const draft = await (await page.request.post(`${world.desk}/api/drafts`, { data: content })).json();
  await page.request.post(`${world.desk}/api/drafts/${draft.id}/send`, { data: { revision: draft.revision } });
  const mailbox = `${world.outside}/mailboxes/${encodeURIComponent(address)}`;
  await expect.poll(async () => (await page.request.get(mailbox)).text()).toContain(subject);
  // An open within two seconds of sending would be a machine’s.
  await page.waitForTimeout(2100);
}

/** The recipient, with a window of their own. */
async function opened(browser: Browser, world: World, address: string, subject: string): Promise<void> {
  const context = await browser.newContext();
  const page = await context.newPage();
  await page.goto(`${world.outside}/mailboxes/${encodeURIComponent(address)}?program=phone`);
  await page.getByRole('link', { name: subject }).first().click();
  await expect(page.frameLocator('iframe').getByText('Hello')).toBeVisible();
  await context.close();
}

/** What a window knows of whether somebody looks at it. */
async function lookedAt(page: Page, looked: boolean): Promise<void> {
  await page.evaluate((is) => {
    document.hasFocus = () => is;
    window.dispatchEvent(new Event(is ? 'focus' : 'blur'));
  }, looked);
}

test('an open notifies at once, and desk, band, list and Today agree', async ({ world, page, browser }) => {
  await signedIn(page, world);
  await sent(page, world, 'ada@agree.example', 'They agree');
  await page.goto(`${world.desk}/sent`);
  const today = await page.context().newPage();
  await today.goto(`${world.desk}/today`);
  await expect(today.getByRole('heading', { name: /^Contact next/ })).toBeVisible();
  await opened(browser, world, 'ada@agree.example', 'They agree');
  const notification = page.getByRole('region', { name: /^Notifications/ });
  await expect(notification.getByRole('link', { name: 'ada@agree.example opened “They agree”' })).toBeVisible();
  await expect(rowsWith(page, 'They agree')).toContainText('Opened once, just now');
  await expect(
    page.getByRole('region', { name: 'The last hour' }).getByRole('link', { name: /They agree/ }),
  ).toBeVisible();
  await expect(
    page
      .getByRole('listitem')
      .filter({ has: page.locator('.sent-link') })
      .first(),
  ).toContainText('They agree');
  await expect(today.getByText('They agree').first()).toBeVisible();
  await today.close();
});

test('quiet is quiet, and what came meanwhile is listed once when it ends', async ({ world, page, browser }) => {
  await signedIn(page, world);
  await sent(page, world, 'bea@quiet.example', 'In quiet');
  await page.goto(`${world.desk}/sent`);
  await page.getByRole('button', { name: 'Mute for 1 hour' }).click();
  await expect(page.getByRole('button', { name: /^Muted until/ })).toBeVisible();
  await opened(browser, world, 'bea@quiet.example', 'In quiet');
  await expect(rowsWith(page, 'In quiet')).toContainText('Opened once, just now');
  const notifications = page.getByRole('region', { name: /^Notifications/ });
  await expect(notifications.getByRole('link', { name: /In quiet/ })).toHaveCount(0);
  await page.getByRole('button', { name: /^Muted until/ }).click();
  await expect(notifications.getByText('While you were away')).toBeVisible();
  await expect(notifications.getByRole('link', { name: /opened “In quiet”/ })).toBeVisible();
  // It was reported as seen before it is asked for again.
  await page.waitForTimeout(1500);
  await page.reload();
  await expect(rowsWith(page, 'In quiet')).toBeVisible();
  await expect(notifications.getByText('While you were away')).toBeHidden();
});

test('a window that nobody looks at counts in its title, and the desktop notifies', async ({
  world,
  page,
  browser,
}) => {
  await signedIn(page, world);
  await page.context().grantPermissions(['notifications'], { origin: world.desk });
  await sent(page, world, 'cai@behind.example', 'Behind windows');
  await page.goto(`${world.desk}/sent`);
  await expect(rowsWith(page, 'Behind windows')).toBeVisible();
  await page.evaluate(() => navigator.serviceWorker.ready);
  await lookedAt(page, false);
  await opened(browser, world, 'cai@behind.example', 'Behind windows');
  await expect(page).toHaveTitle('(1) Sent – Kiraku');
  const notified = () =>
    page.evaluate(async () => {
      const worker = await navigator.serviceWorker.ready;
      return (await worker.getNotifications()).map(({ title }) => title);
    });
  await expect.poll(notified).toEqual(['cai@behind.example opened “Behind windows”']);
  await lookedAt(page, true);
  await expect(page).toHaveTitle('Sent – Kiraku');
});

test('after a break of the connection nothing is lost and nothing notifies twice', async ({ world, page, browser }) => {
  await signedIn(page, world);
  await sent(page, world, 'dov@asleep.example', 'Asleep');
  await page.goto(`${world.desk}/sent`);
  await expect(rowsWith(page, 'Asleep')).toBeVisible();
  await world.killServer();
  await expect(page.getByText('Not connected')).toBeVisible();
  await page.context().setOffline(true);
  await world.startServer();
  await opened(browser, world, 'dov@asleep.example', 'Asleep');
  await page.context().setOffline(false);
  await expect(rowsWith(page, 'Asleep')).toContainText('Opened once, just now');
  const notifications = page.getByRole('region', { name: /^Notifications/ });
  await expect(notifications.getByRole('link', { name: /opened “Asleep”/ })).toHaveCount(1);
});

test('by the keyboard alone, from the notification to the reply', async ({ world, page, browser }) => {
  await signedIn(page, world);
  await sent(page, world, 'eli@keyboard.example', 'By keyboard');
  await page.goto(`${world.desk}/sent`);
  await expect(rowsWith(page, 'By keyboard')).toBeVisible();
  await opened(browser, world, 'eli@keyboard.example', 'By keyboard');
  await expect(page.getByRole('link', { name: /opened “By keyboard”/ }).last()).toBeVisible();
  await page.keyboard.press('F8');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Opened once');
  const write = page.getByRole('button', { name: 'Reply' });
  await expect(async () => {
    await page.keyboard.press('Tab');
    await expect(write).toBeFocused({ timeout: 50 });
  }).toPass({ intervals: [10] });
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/write\/\d+$/);
  const message = page.getByRole('textbox', { name: 'Message' });
  await expect(message).toBeVisible();
  await expect(async () => {
    await page.keyboard.press('Tab');
    await expect(message).toBeFocused({ timeout: 50 });
  }).toPass({ intervals: [10] });
  await page.keyboard.type('Shall we talk on Thursday?');
  const send = page.getByRole('button', { name: 'Send', exact: true });
  await expect(async () => {
    await page.keyboard.press('Shift+Tab');
    await expect(send).toBeFocused({ timeout: 50 });
  }).toPass({ intervals: [10] });
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Sent', level: 1 })).toBeVisible();
  await expect(rowsWith(page, 'Re: By keyboard')).toBeVisible();
});

test('what notifies is set in a table, and stays set', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/settings/notifications`);
  const cell = page.getByRole('checkbox', { name: 'A link is clicked: Email' });
  await cell.check();
  await page.getByRole('switch', { name: 'No notifications at night' }).click();
  await expect(page.getByLabel('Quiet from')).toHaveValue('20:00');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Saved.')).toBeVisible();
  await page.reload();
  await expect(cell).toBeChecked();
  await expect(page.getByLabel('Quiet until')).toHaveValue('07:30');
  await page.getByRole('switch', { name: 'No notifications at night' }).click();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Saved.')).toBeVisible();

  // The phone of the story, by its push service.
  await page.getByRole('button', { name: 'Test' }).click();
  await page.goto(`${world.outside}/phone`);
  await expect(page.getByText('Notifications work on this device')).toBeVisible();
});
