import { expect, type Browser, type Page } from '@playwright/test';
import { rowsWith, signedIn, test, type World } from '../world.js';

test.use({ file: import.meta.filename });

const DAY = 86_400_000;

/** A message to somebody that only this test knows, with what the margin is asked for before. */
async function send(
  page: Page,
  world: World,
  name: string,
  subject: string,
  before?: () => Promise<void>,
): Promise<void> {
  const address = `${name.toLowerCase().replace(' ', '.')}@quillworks.example`;
  await page.goto(`${world.desk}/write?to=${address}&name=${encodeURIComponent(name)}`);
  await page.getByLabel('Subject').fill(subject);
  await page.getByRole('textbox', { name: 'Message' }).click();
  await page.keyboard.type('Dear reader, what do you think?');
  await before?.();
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(rowsWith(page, subject).first()).toBeVisible();
}

/** The page on which its recipient has the message open. */
async function asRecipient(browser: Browser, world: World, name: string, subject: string): Promise<Page> {
  const recipient = await (await browser.newContext()).newPage();
  const address = `${name.toLowerCase().replace(' ', '.')}@quillworks.example`;
  await recipient.goto(`${world.outside}/mailboxes/${encodeURIComponent(address)}`);
  await recipient.getByRole('link', { name: subject, exact: true }).first().click();
  await recipient.frameLocator('iframe').getByText('Dear', { exact: false }).first().waitFor();
  return recipient;
}

/** Does something with the mail that is open, until the stand-in says that it was done. */
async function act(recipient: Page, button: string): Promise<void> {
  const place = recipient.url();
  await expect(async () => {
    if (recipient.url() !== place) await recipient.goto(place);
    await recipient.waitForLoadState();
    await recipient.getByRole('button', { name: button, exact: true }).click({ timeout: 5000 });
    await expect(recipient.getByText('It was delivered')).toBeVisible({ timeout: 8000 });
  }).toPass({ timeout: 60_000 });
}

const open = (page: Page, subject: string) => rowsWith(page, subject).getByRole('link').first().click();

test('a reminder comes back when no reply has come, and rests when one does', async ({ world, page, browser }) => {
  const [name, subject] = ['Ravi Stone', 'A reminder that comes back'];
  await signedIn(page, world);
  await send(page, world, name, subject, async () => {
    await page.getByRole('switch', { name: 'Remind me' }).click();
    await page.getByRole('combobox', { name: 'When' }).fill('in 3 days');
    await expect(page.getByText(/Sent now, that is/)).toBeVisible();
    await page.getByLabel('Note for the reminder').fill('Offer a sample');
  });
  // It is opened, and not replied to.
  await page.waitForTimeout(2100);
  const recipient = await asRecipient(browser, world, name, subject);
  await expect(rowsWith(page, subject)).toContainText('Opened once');
  await page.goto(`${world.desk}/followups`);
  const waiting = page.getByRole('region', { name: 'Waiting' });
  await expect(waiting.getByRole('listitem').filter({ hasText: subject })).toContainText('if there is no reply');

  await page.goto(`${world.desk}/today`);
  await expect(page.getByRole('heading', { name: /^Contact next/ })).toBeVisible();
  // What the page loads later is here before the server stops.
  await page.waitForFunction(() =>
    performance.getEntriesByType('resource').some(({ name }) => /\/Due-[^/]*\.js$/.test(name)),
  );
  await world.later(4 * DAY);
  const due = page.getByRole('region', { name: 'Due' }).getByRole('listitem').filter({ hasText: subject });
  await expect(due).toContainText('Offer a sample');
  await due.getByRole('button', { name: 'Reply', exact: true }).click();
  await expect(page.getByLabel('Subject')).toHaveValue(`Re: ${subject}`);
  await page.getByRole('button', { name: 'Send', exact: true }).click();

  // The reply is to the message, and settles what waited for it.
  await recipient.getByLabel('Reply').fill('Yes, please send me a sample.');
  await act(recipient, 'Reply');
  await expect(page.getByText(`${name} replied to “${subject}”`).first()).toBeVisible();
  await page.goto(`${world.desk}/followups`);
  await expect(
    page.getByRole('region', { name: 'Done in' }).getByRole('listitem').filter({ hasText: subject }),
  ).toContainText('Replied');
  await expect(page.getByRole('region', { name: 'Due' }).getByText(subject)).toHaveCount(0);

  await page.goto(`${world.desk}/sent?words=${encodeURIComponent('comes back')}`);
  await rowsWith(page, 'Replied after').getByRole('link').first().click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Replied after');
  const reply = page.getByRole('article', { name: `${name} replied` });
  await expect(reply.getByText('Yes, please send me a sample.')).toBeVisible();
  await reply.getByRole('button', { name: 'Show the whole message' }).click();
  await expect(reply.frameLocator('iframe').getByText('Yes, please send me a sample.')).toBeVisible();
});

test('messages that were to follow do not, once there is a reply', async ({ world, page, browser }) => {
  const [name, subject] = ['Mila Frost', 'Two messages that follow'];
  await signedIn(page, world);
  await send(page, world, name, subject, async () => {
    await page.getByRole('switch', { name: 'Automatic follow-ups' }).click();
    await page.getByRole('button', { name: 'Add another' }).click();
    await expect(page.getByRole('listitem', { name: /^Follow-up \d/ })).toHaveCount(2);
  });
  await open(page, subject);
  const followups = page.getByRole('region', { name: 'Follow-ups' });
  await expect(followups.getByText(/will be sent .*09:30/)).toHaveCount(1);
  await followups.getByRole('button', { name: 'Show “A gentle reminder”' }).first().click();
  await expect(page.frameLocator('iframe[title^="The message as it would"]').getByText('Dear Mila')).toBeVisible();
  await page.keyboard.press('Escape');

  await world.later(12 * DAY);
  await expect(followups.getByText('was sent')).toHaveCount(1);
  const recipient = await asRecipient(browser, world, name, `Re: ${subject}`);
  await act(recipient, 'Reply');
  await expect(followups.getByText('Replied: no more messages are sent')).toBeVisible();
  await expect(followups.getByText('is not sent')).toHaveCount(1);
});

test('a receipt that is declined, and an automatic reply', async ({ world, page, browser }) => {
  const [name, subject] = ['Odin Marsh', 'With a receipt'];
  await signedIn(page, world);
  await send(page, world, name, subject, async () => {
    await page.getByRole('switch', { name: 'Read receipt' }).click();
    await page.getByRole('switch', { name: 'Delivery receipt' }).click();
  });
  await open(page, subject);
  const who = page.getByRole('region', { name: 'Recipients' });
  await expect(who).toContainText('Delivered to their mailbox');
  await expect(who).toContainText('You asked for a read receipt; none yet');
  const recipient = await asRecipient(browser, world, name, subject);
  await act(recipient, 'Decline');
  await expect(who).toContainText('They declined to send a read receipt');
  await recipient.goBack();
  await act(recipient, 'Out of office');
  await expect(page.getByRole('article', { name: `${name} replied automatically` })).toBeVisible();
  await expect(page.getByRole('heading', { level: 1 })).not.toContainText('Replied');
});

test('what is sent back is mended, and sent again', async ({ world, page, browser }) => {
  const [name, subject] = ['Ursa Flint', 'To the wrong address'];
  await signedIn(page, world);
  await send(page, world, name, subject);
  await open(page, subject);
  const recipient = await asRecipient(browser, world, name, subject);
  await act(recipient, 'No such mailbox');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('There is no such address');
  await page.getByLabel('Address to send it to').fill('ursa.f@quillworks.example');
  await page.getByRole('button', { name: 'Send this copy again' }).click();
  await expect(page.getByRole('heading', { level: 1 })).not.toContainText('Could not be delivered');
  // It leaves a moment after it was asked to.
  const mailbox = `${world.outside}/mailboxes/ursa.f%40quillworks.example`;
  await expect.poll(async () => (await fetch(mailbox)).text()).toContain(subject);
});

test('reminders are set on several at once, snoozed, changed and done, with undo', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  await page.getByRole('button', { name: 'Select' }).click();
  const boxes = page.getByRole('listitem').getByRole('checkbox');
  await boxes.nth(0).check();
  await boxes.nth(1).check();
  await page.getByRole('button', { name: 'Remind me' }).click();
  await page.getByRole('combobox', { name: 'When' }).fill('next century');
  await expect(page.getByRole('button', { name: 'Set reminder' })).toBeDisabled();
  await page.getByRole('combobox', { name: 'When' }).fill('tomorrow at 14:30');
  await page.getByLabel('Note for the reminder').fill('Two at once');
  await page.getByRole('button', { name: 'Set reminder' }).click();
  await expect(page.getByText(/2 reminders for .*14:30/)).toBeVisible();

  await page.goto(`${world.desk}/followups`);
  const waiting = page.getByRole('region', { name: 'Waiting' });
  const both = waiting.getByRole('listitem').filter({ hasText: 'Two at once' });
  await expect(both).toHaveCount(2);
  await both.first().getByRole('button', { name: /^Done/ }).click();
  await expect(both).toHaveCount(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(both).toHaveCount(2);
  await both
    .first()
    .getByRole('button', { name: /^Later/ })
    .click();
  await page.getByRole('menuitem', { name: 'Change …' }).click();
  await waiting.getByLabel('Note for the reminder').fill('Changed');
  await waiting.getByRole('button', { name: 'Save' }).click();
  await expect(both).toHaveCount(1);
  // What is shown stands in the address.
  await page.getByRole('button', { name: /What is shown/ }).click();
  await page.getByRole('menuitem', { name: 'due reminders' }).click();
  await expect(page).toHaveURL(/show=due/);
  await expect(waiting).toHaveCount(0);
});
