import { readFile, writeFile } from 'node:fs/promises';
import { expect, type Page } from '@playwright/test';
import { signedIn, test } from '../world.js';

test.use({ file: import.meta.filename });

async function addressed(page: Page, address: string): Promise<void> {
  await page.getByLabel('To', { exact: true }).fill(address);
  await page.keyboard.press('Enter');
}

test('a first message from a template, its link renamed by the check, is sent later and then sent now', async ({
  world,
  page,
}) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/write`);
  await addressed(page, 'Marit Oakes <marit@lindqvist.example>');
  await page.getByRole('button', { name: 'Start from a template' }).click();
  await page.getByRole('button', { name: 'First email' }).click();
  await expect(page.getByLabel('Subject')).toHaveValue('Quieter rooms for Lindqvist Library Trust');
  const message = page.getByRole('textbox', { name: 'Message' });
  await expect(message).toContainText('Dear Marit,');

  const advice = page.getByRole('region', { name: 'Before you send' });
  await advice.getByRole('button', { name: 'Name it “felt, 24: data”' }).click();
  await expect(advice).toBeHidden();
  await page.getByRole('switch', { name: 'Tell recipients about tracking' }).click();
  await page.getByPlaceholder('A private note; it is never sent').fill('Met at the fair');

  await page.getByRole('button', { name: 'Preview' }).click();
  const shown = page.getByRole('dialog');
  await expect(shown.frameLocator('iframe').getByRole('link', { name: 'felt, 24: data' })).toBeVisible();
  await expect(shown.frameLocator('iframe').getByRole('link', { name: 'Opt out' })).toBeVisible();
  await shown.getByRole('tab', { name: 'Source' }).click();
  await expect(shown.getByText('Content-Type: multipart/alternative')).toBeVisible();
  await page.keyboard.press('Escape');

  await page.getByRole('button', { name: 'Send later' }).click();
  await page.getByRole('button', { name: 'Schedule' }).click();
  await page.getByRole('listitem').filter({ hasText: 'Quieter rooms for Lindqvist' }).getByRole('link').click();
  await page.getByRole('button', { name: 'Send now' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('No sign of reading yet');
  await expect(page.getByText('From the template “First email”. It tells recipients about tracking.')).toBeVisible();
  await expect(page.getByPlaceholder('A private note; it is never sent')).toHaveValue('Met at the fair');

  const recipient = await page.context().newPage();
  await recipient.goto(`${world.outside}/mailboxes/marit%40lindqvist.example`);
  await recipient.getByRole('link', { name: 'Quieter rooms for Lindqvist Library Trust' }).click();
  const mail = recipient.frameLocator('iframe');
  await expect(mail.getByRole('link', { name: 'felt, 24: data' })).toBeVisible();
  const [declining] = await Promise.all([
    recipient.waitForEvent('popup'),
    mail.getByRole('link', { name: 'Opt out' }).click(),
  ]);
  await declining.getByRole('button', { name: 'Opt out' }).click();
  await expect(declining.getByText(/^You have opted out/)).toBeVisible();
  await page.goto(`${world.desk}/write`);
  await addressed(page, 'marit@lindqvist.example');
  await expect(page.getByText('gets it without tracking')).toBeVisible();
});

test('a template stands in a folder, carries a file, and is inserted by typing its name', async ({
  world,
  page,
}, info) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/templates`);
  await page.getByRole('button', { name: 'New template' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Price list for architects');
  await page.getByLabel('Subject').fill('Prices for {{company|you}}');
  await page.getByRole('textbox', { name: 'Template' }).fill('Dear {{first name|all}}, here are our prices.');
  await page.getByRole('button', { name: 'Attach' }).click();
  const file = info.outputPath('Prices.txt');
  await writeFile(file, 'Felt: 40 a metre');
  await page.locator('input[type=file]').last().setInputFiles(file);
  await expect(page.getByRole('list', { name: 'Attached files' })).toContainText('Prices.txt');
  await page.getByRole('button', { name: 'Save' }).click();
  const row = (folder: string) => page.getByRole('region', { name: folder, exact: true }).getByRole('listitem');
  const prices = row('Not in a folder').filter({ hasText: 'Price list' });
  await expect(prices).toContainText('1 file.');

  await prices.dragTo(page.getByRole('region', { name: 'Follow-ups', exact: true }));
  await expect(page.getByText('Moved to Follow-ups')).toBeVisible();
  await expect(row('Follow-ups').filter({ hasText: 'Price list' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(prices).toBeVisible();

  await page.goto(`${world.desk}/write`);
  await addressed(page, 'Dov Pell <dov@pellsons.example>');
  const message = page.getByRole('textbox', { name: 'Message' });
  await message.click();
  await page.keyboard.type('price arch');
  const offered = page.getByRole('option', { name: /^Price list for architects/ });
  await expect(offered).toHaveAttribute('aria-selected', 'false');
  // Enter and Tab do what they always do as long as nothing is marked.
  await page.keyboard.press('Enter');
  await expect(offered).toBeHidden();
  await expect(message).toContainText('price arch');
  await page.keyboard.type('price arch');
  await page.keyboard.press('Escape');
  await expect(offered).toBeHidden();
  await page.keyboard.press('Backspace');
  await page.keyboard.press('ArrowDown');
  await expect(offered).toHaveAttribute('aria-selected', 'true');
  // Whoever hears the page hears which one.
  expect(await message.getAttribute('aria-activedescendant')).toBe(await offered.getAttribute('id'));
  await page.keyboard.press('Enter');
  await expect(message).not.toHaveAttribute('aria-activedescendant');
  await expect(message).toContainText('Dear Dov, here are our prices.');
  await expect(page.getByLabel('Subject')).toHaveValue('Prices for Pell & Sons Architects');
  await expect(page.getByRole('list', { name: 'Attached files' })).toContainText('Prices.txt');
});

test('a message is saved as a mail file, opened again by dropping it, and goes on in its conversation', async ({
  world,
  page,
}, testInfo) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/write`);
  await addressed(page, 'otto@files.example');
  await page.getByLabel('Subject').fill('Größe und Maß');
  await page.getByRole('textbox', { name: 'Message' }).fill('Dear Otto, see below.');
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await page.getByRole('listitem').filter({ hasText: 'Größe und Maß' }).getByRole('link').click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('No sign of reading yet');
  await page.getByRole('region', { name: 'Actions' }).getByRole('button', { name: 'More' }).click();
  const [saved] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Save as .eml file' }).click(),
  ]);
  const file = testInfo.outputPath('mail.eml');
  await saved.saveAs(file);
  const raw = await readFile(file, 'utf8');
  expect(raw).toContain('otto@files.example');
  expect(raw).not.toMatch(/\/i\/[\w-]{22}\.gif/);

  await page.goto(`${world.desk}/write`);
  const dropped = await page.evaluateHandle((text) => {
    const transfer = new DataTransfer();
    transfer.items.add(new File([text], 'mail.eml', { type: 'message/rfc822' }));
    return transfer;
  }, raw);
  await page.getByRole('region', { name: 'Message' }).dispatchEvent('drop', { dataTransfer: dropped });
  await expect(page.getByLabel('Subject')).toHaveValue('Größe und Maß');
  await expect(page.getByRole('textbox', { name: 'Message' })).toContainText('Dear Otto, see below.');

  const broken = testInfo.outputPath('broken.eml');
  await writeFile(broken, '');
  await page.getByLabel('Mail file').setInputFiles(broken);
  await expect(page.getByText('This is not an email.')).toBeVisible();

  await page.goto(`${world.desk}/sent`);
  await page.getByRole('listitem').filter({ hasText: 'Größe und Maß' }).getByRole('link').click();
  await page.getByRole('button', { name: 'Reply' }).click();
  await expect(page.getByLabel('Subject')).toHaveValue('Re: Größe und Maß');
  await expect(page.getByRole('textbox', { name: 'Message' }).locator('blockquote')).toContainText('Dear Otto');
});

test('a failed copy is mended in the outbox and leaves', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/outbox`);
  const row = page.getByRole('listitem').filter({ hasText: 'Jonas Ek' });
  await expect(row).toContainText('550 5.1.1');
  await row.getByLabel('Address to send it to').fill('ek@ekdaughters.example');
  await row.getByRole('button', { name: 'Send this copy again' }).click();
  await expect(row).toBeHidden();
  await page.goto(`${world.outside}/mailboxes/ek%40ekdaughters.example`);
  await expect(page.getByRole('link', { name: 'Following up on your question' })).toBeVisible();
});

test('a picture is put in, pasted words are cleaned, and a message repeats', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/write`);
  await addressed(page, 'uma@pictures.example');
  await page.getByLabel('Subject').fill('How it looks');
  const message = page.getByRole('textbox', { name: 'Message' });
  await message.click();
  await page.evaluate(() => {
    const clipboardData = new DataTransfer();
    const office = '<style>p{color:red}</style><p class="MsoNormal" style="mso-x:1"><b>Bold</b><o:p></o:p> words</p>';
    clipboardData.setData('text/html', office);
    document.activeElement!.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }),
    );
  });
  await expect(message.locator('strong')).toHaveText('Bold');
  expect(await message.innerHTML()).not.toMatch(/Mso|style=|o:p/);

  const png = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==';
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Picture', exact: true }).click(),
  ]);
  await chooser.setFiles({ name: 'wall.png', mimeType: 'image/png', buffer: Buffer.from(png, 'base64') });
  await expect(message.getByRole('img', { name: 'wall' })).toBeVisible();

  await page.getByRole('button', { name: 'Send later' }).click();
  await page.getByLabel('How often').click();
  await page.getByText(/^Monthly, on the last/).click();
  await expect(page.getByText(/^Sent .*; .*; .*; .* …$/)).toBeVisible();
  await page.getByRole('button', { name: 'Schedule' }).click();
  await page.getByRole('listitem').filter({ hasText: 'How it looks' }).getByRole('link').click();
  await expect(page.getByText(/^And again .*; .*; .* …$/)).toBeVisible();
  await expect(page.frameLocator('iframe').getByRole('img', { name: 'wall' })).toBeVisible();
});

test('a password for a mail program is made, shown once, and revoked', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/settings`);
  await page.getByLabel('Name of the app').fill('My phone');
  await page.getByRole('button', { name: 'Create app password' }).click();
  await expect(page.locator('code').filter({ hasText: /^([a-z2-9]{6}-){3}[a-z2-9]{6}$/ })).toBeVisible();
  await page.reload();
  const list = page.getByRole('list', { name: 'App passwords' });
  await expect(list).toContainText('My phone never used');
  await expect(page.locator('code')).toHaveCount(0);
  await page.getByRole('button', { name: 'Revoke My phone' }).click();
  await expect(list).not.toContainText('My phone');
});

test('nobody becomes a recipient who was not chosen', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/write`);
  const to = page.getByLabel('To', { exact: true });
  const chips = page.locator('.write-chip');
  const suggestion = (name: string) => page.locator('.ant-select-item-option').filter({ hasText: name });

  await to.pressSequentially('otto@chosen.example,');
  await expect(chips).toHaveText(['otto@chosen.example']);
  // Of what is suggested while nothing is typed, nobody is marked.
  await expect(suggestion('@').first()).toBeVisible();
  await expect(page.locator('.ant-select-item-option-active')).toHaveCount(0);
  await page.keyboard.press('Tab');
  await expect(to).not.toBeFocused();
  await expect(chips).toHaveText(['otto@chosen.example']);

  // A half-typed name is no address; leaving the field says so, and adds nobody.
  await to.pressSequentially('marit');
  await expect(suggestion('Marit Oakes')).toBeVisible();
  await page.keyboard.press('Tab');
  await expect(page.getByRole('alert')).toContainText('is not an email address');
  await expect(chips).toHaveText(['otto@chosen.example']);
  await page.keyboard.press('Escape');
  await expect(chips).toHaveText(['otto@chosen.example']);

  // Gone to by an arrow, it is meant.
  await to.fill('marit');
  await expect(suggestion('Marit Oakes')).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Tab');
  await expect(chips).toHaveText(['otto@chosen.example', /.+/]);
});

test('a missing attachment is missed only where no file travels along', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/write`);
  await page.getByLabel('Subject').fill('The proposal');
  await page.getByRole('textbox', { name: 'Message' }).fill('Dear Otto, the proposal is attached.');
  const advice = page.getByText('and nothing is attached');
  await expect(advice).toBeVisible();
  await page.getByRole('button', { name: 'Attach' }).click();
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'From this computer' }).click(),
  ]);
  await chooser.setFiles({ name: 'proposal.txt', mimeType: 'text/plain', buffer: Buffer.from('Felt, 24 mm') });
  await expect(advice).toBeHidden();
});
