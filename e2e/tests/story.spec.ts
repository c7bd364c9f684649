import { expect } from '@playwright/test';
import { DEMO_PASSPHRASE } from '@kiraku/demo/passwords';
import { Secret, TOTP } from 'otpauth';
import { rowsWith, signedIn, test } from '../world.js';

// As most people have it: with what moves.
test.use({ file: import.meta.filename, contextOptions: { reducedMotion: 'no-preference' } });

const TARGET = 'https://tallowreed.example/felt/24/data?colour=moss&m=40';

test('a message is written, sent, opened and followed, and the desk is notified within a second', async ({
  world,
  page,
  browser,
}) => {
  await page.goto(world.desk);
  await page.getByLabel('Passphrase').fill('not this one');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByText('This is not the passphrase')).toBeVisible();
  await page.getByLabel('Passphrase').fill('felt and reed');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: /^Contact next/ })).toBeVisible();

  await page.getByRole('banner').getByRole('button', { name: 'Write' }).click();
  await page.getByLabel('To', { exact: true }).fill('Ada Quill <ada@quillworks.example>');
  await page.keyboard.press('Enter');
  await page.getByLabel('Subject').fill('Felt for the print shop');
  await page.getByRole('textbox', { name: 'Message' }).click();
  await page.keyboard.type('Dear Ada,');
  await page.keyboard.press('Enter');
  await page.keyboard.type('please look at ');
  await page.keyboard.press('Control+b');
  await page.keyboard.type('this');
  await page.keyboard.press('Control+b');
  await page.keyboard.type(': ');
  await page.getByRole('button', { name: 'Link', exact: true }).click();
  await page.getByLabel('Address', { exact: true }).fill(TARGET);
  await page.getByLabel('Link text').fill('the data sheet');
  await page.getByRole('button', { name: 'Add link' }).click();
  await expect(page.getByText('Link clicks')).toBeVisible();
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await page.getByRole('button', { name: 'Send', exact: true }).click();

  const row = rowsWith(page, 'Felt for the print shop');
  await expect(row).toContainText('No sign of reading yet');
  // A look within two seconds of sending would be a machine’s.
  await page.waitForTimeout(2100);

  const recipient = await (await browser.newContext()).newPage();
  await recipient.goto(world.outside);
  await recipient.getByRole('link', { name: 'ada@quillworks.example' }).click();
  await recipient.getByLabel('Phone').check();
  await recipient.getByRole('button', { name: 'Use' }).click();
  await recipient.getByRole('link', { name: 'Felt for the print shop' }).click();
  const message = recipient.frameLocator('iframe');
  await expect(message.getByText('Dear Ada,')).toBeVisible();
  await expect(message.locator('b, strong')).toHaveText('this');

  await expect(row).toContainText('Opened once, just now');
  await expect(page.getByText('Ada Quill opened “Felt for the print shop”')).toBeVisible();
  await expect(
    page.getByRole('region', { name: 'The last hour' }).getByRole('link', { name: /Ada Quill opened/ }),
  ).toBeVisible();
  await expect(
    page
      .getByRole('listitem')
      .filter({ has: page.locator('.sent-link') })
      .first(),
  ).toContainText('Felt for the print shop');

  const [target] = await Promise.all([
    recipient.waitForEvent('popup'),
    message.getByRole('link', { name: 'the data sheet' }).click(),
  ]);
  await expect(target.getByText(TARGET)).toBeVisible();
  await expect(row).toContainText('clicked “the data sheet”');

  await row.getByRole('link').click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText(
    'Opened once, just now; clicked “the data sheet”',
  );
  await expect(page.getByLabel('Links and files in the message').getByText('clicked once')).toBeVisible();
  // One line for the sitting, and its events below it.
  const sitting = page.locator('.sittings-sitting');
  const history = sitting.locator('.sittings-events li');
  await expect(sitting).toHaveCount(1);
  await expect(sitting).toContainText(/Ada Quill opened it and clicked “the data sheet”.*phone/);
  await expect(history).toHaveCount(2);
  await expect(history.first()).toContainText('Clicked “the data sheet”');
  await expect(history.last()).toContainText('Opened the message');

  await world.killServer();
  await expect(page.getByText('Not connected')).toBeVisible();
  await world.startServer();
  await expect(page.getByText('Not connected')).toBeHidden({ timeout: 15_000 });
  await page.reload();
  await expect(history).toHaveCount(2);
  await expect(page.getByLabel('Links and files in the message').getByText('clicked once')).toBeVisible();

  // Another open while the first page stays open: notified over the connection that came back.
  await recipient.goto(`${world.outside}/mailboxes/ada%40quillworks.example?program=desktop`);
  await recipient.getByRole('link', { name: 'Felt for the print shop' }).click();
  await expect(history).toHaveCount(3);
  await expect(history.first()).toContainText('Thunderbird');
});

test('three people each get a copy of their own', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/write`);
  await page.getByRole('button', { name: 'Cc, Bcc' }).click();
  await page.getByLabel('To', { exact: true }).fill('one@copies.example');
  await page.keyboard.press('Enter');
  await page.getByLabel('Cc', { exact: true }).fill('two@copies.example');
  await page.keyboard.press('Enter');
  await page.getByLabel('Bcc', { exact: true }).fill('gone@copies.example');
  await page.keyboard.press('Enter');
  await page.getByLabel('Subject').fill('To three');
  await page.getByRole('textbox', { name: 'Message' }).fill('Hello');
  await expect(page.getByText('each get their own copy')).toBeVisible();
  await page.getByRole('textbox', { name: 'Message' }).press('Control+Enter');

  const row = rowsWith(page, 'To three');
  await expect(row).toContainText('gone@copies.example: 550 5.1.1 No mailbox by this name here');
  await row.getByRole('link').click();
  const who = page.getByRole('region', { name: 'Recipients' }).getByRole('listitem');
  await expect(who).toHaveCount(3);
  await expect(who.filter({ hasText: 'gone@copies.example' })).toContainText('Could not be delivered');
});

test('an address that is none is explained where it stands, and left to be mended', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/write`);
  await page.getByLabel('To', { exact: true }).fill('marit@lindqvist');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('“lindqvist” is not a mail domain');
  await page.keyboard.type('.example');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toBeHidden();
  await expect(page.getByText('marit@lindqvist.example gets a copy')).toBeHidden();
  await expect(page.getByText('Marit gets a copy with its own image')).toBeVisible();
});

test('advice before sending is followed in one press, and a single link is left alone', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/write`);
  await page.getByLabel('To', { exact: true }).fill('ida@checks.example');
  await page.keyboard.press('Enter');
  await page.getByLabel('Subject').fill('With advice');
  await page.getByRole('textbox', { name: 'Message' }).click();
  await page.keyboard.type('Dear Ida, see https://tallowreed.example/felt/24-mm/data and ');
  const advice = page.getByRole('region', { name: 'Before you send' });
  await expect(advice).toContainText('Its text is a web address');
  await advice.getByRole('button', { name: 'Name it “felt, 24 mm: data”' }).click();
  await expect(advice).toBeHidden();
  await expect(
    page.getByRole('textbox', { name: 'Message' }).getByRole('link', { name: 'felt, 24 mm: data' }),
  ).toBeVisible();
  await page.getByRole('switch', { name: 'Track the link felt, 24 mm: data' }).click();
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await page.reload();
  await expect(page.getByRole('switch', { name: 'Track the link felt, 24 mm: data' })).not.toBeChecked();
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await rowsWith(page, 'With advice').getByRole('link').click();
  await expect(page.getByLabel('Links and files in the message').getByText('not tracked')).toBeVisible();
});

test('a message is recalled as it was, sent later by other clocks, and then sent now', async ({ world, page }) => {
  await signedIn(page, world, 60);
  await page.goto(`${world.desk}/write`);
  await page.getByLabel('To', { exact: true }).fill('kei@later.example');
  await page.keyboard.press('Enter');
  await page.getByLabel('Subject').fill('No hurry');
  await page.getByRole('textbox', { name: 'Message' }).fill('Dear Kei, there is time.');
  await page.getByRole('switch', { name: 'Opens' }).click();
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await page.getByRole('button', { name: 'Undo send' }).click();
  await expect(page.getByLabel('Subject')).toHaveValue('No hurry');
  await expect(page.getByRole('switch', { name: 'Opens' })).not.toBeChecked();

  await page.getByRole('button', { name: 'Send later' }).click();
  await page.getByLabel('Time zone').fill('Asia/Tokyo');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/^That is .* here\.$/)).toBeVisible();
  await page.getByRole('button', { name: 'Schedule' }).click();
  const row = rowsWith(page, 'No hurry');
  await expect(row).toContainText('Scheduled for ');
  await page.reload();
  await row.getByRole('link').click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Scheduled for ');
  await page.getByRole('button', { name: 'Send now' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('No sign of reading yet');
  await expect(page.getByText('Opens are not tracked.')).toBeVisible();
});

test('a draft survives a reload, is not overwritten by another window, and comes back after it was deleted', async ({
  world,
  page,
  context,
}) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/write`);
  await page.getByLabel('Subject').fill('Half a message');
  await page.getByRole('textbox', { name: 'Message' }).fill('Dear nobody');
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await page.reload();
  await expect(page.getByLabel('Subject')).toHaveValue('Half a message');
  await expect(page.getByRole('textbox', { name: 'Message' })).toHaveText('Dear nobody');

  const other = await context.newPage();
  await other.goto(page.url());
  await other.getByLabel('Subject').fill('Half a message, elsewhere');
  await expect(other.getByText(/^Saved/)).toBeVisible();
  await page.getByLabel('Subject').fill('Half a message, here');
  await expect(page.getByText('This draft was saved in another window meanwhile')).toBeVisible();
  await page.getByRole('button', { name: 'Save mine as a new draft' }).click();
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await other.goto(`${world.desk}/drafts`);
  await expect(other.getByRole('link', { name: 'Half a message, elsewhere' })).toBeVisible();
  await expect(other.getByRole('link', { name: 'Half a message, here' })).toBeVisible();

  await page.getByRole('region', { name: 'Message' }).getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(other.getByRole('link', { name: 'Half a message, here' })).toBeHidden();
  await page.getByRole('button', { name: 'Restore' }).click();
  await expect(page.getByLabel('Subject')).toHaveValue('Half a message, here');
  await expect(other.getByRole('link', { name: 'Half a message, here' })).toBeVisible();
});

test('with images blocked a click is taken for what it proves', async ({ world, page, browser }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  const recipient = await (await browser.newContext()).newPage();
  await recipient.goto(`${world.outside}/mailboxes/ben%40mirefield.example?program=blocked`);
  await recipient.getByRole('link', { name: 'Sound in the waiting room' }).click();
  await Promise.all([
    recipient.waitForEvent('popup'),
    recipient.frameLocator('iframe').getByRole('link', { name: 'a small thing' }).click(),
  ]);
  const row = rowsWith(page, 'Ben Okoro', 'Sound in the waiting room');
  await expect(row).toContainText('Read, images blocked: clicked');
});

test('the list is gone through by keyboard alone', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  const links = page.locator('.sent-link');
  await links.first().focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await expect(links.nth(2)).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/sent\/\d+$/);
  await expect(page.getByRole('article', { name: 'Message' })).toBeVisible();
});

test('the first start leads through set-up, step by step, to the first open seen', async ({ emptyWorld, page }) => {
  const step = (number: number) => expect(page.getByText(`Step ${number} of 6`)).toBeVisible();
  const next = () => page.getByRole('button', { name: 'Next' }).click();
  await page.goto(emptyWorld.desk);
  await expect(page).toHaveURL(/set-up/);
  const address = () => /(http:\S+set-up#\S+)/.exec(emptyWorld.printed)?.[1];
  await expect.poll(address).toBeDefined();
  await page.goto(address()!);
  await page.getByLabel('Your name').fill('Ines Valdaro');
  await page.getByLabel('Your email address').fill('ines@tallowreed.example');
  const passphrase = page.getByLabel('Choose a passphrase');
  await passphrase.fill('valdaro1');
  await page.getByRole('button', { name: 'Start' }).click();
  await expect(page.getByText(/is easy to guess/)).toBeVisible();
  await passphrase.fill('felt and reed');
  await page.getByRole('button', { name: 'Start' }).click();
  // Outgoing mail: looked for, tried, and not lost where one goes on without saving.
  await step(1);
  await page.getByRole('button', { name: 'Find my mail server' }).click();
  await expect(page.getByText(/Nothing found: this domain announces no server/)).toBeVisible({ timeout: 15_000 });
  await page.getByLabel('Outgoing mail server').fill('127.0.0.1');
  await page.getByLabel('Port').fill(emptyWorld.smtpPort);
  await page.getByLabel('Connection').click();
  await page.getByText('Not encrypted').click();
  await next();
  await expect(page.getByText(/is not saved/)).toBeVisible();
  await page.getByRole('button', { name: 'Send a test message to myself' }).click();
  await expect(page.getByText('It works: a test message was sent to ines@tallowreed.example.')).toBeVisible();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await next();
  // The public address, as the machine and the browser see it.
  await step(2);
  await expect(page.getByText('This browser reaches the public address.')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/can be reached from this machine alone/)).toBeVisible();
  await next();
  // Later, and then on from where it was left.
  await step(3);
  await page.getByRole('button', { name: 'Go on later' }).click();
  await expect(page.getByRole('heading', { name: 'Nobody is waiting for you' })).toBeVisible();
  await page.getByRole('link', { name: 'Go on with it' }).click();
  await step(3);
  await next();
  await step(4);
  await next();
  await step(5);
  await page.getByLabel('Passphrase', { exact: true }).fill('quilted lamp over harbour');
  await page.getByRole('button', { name: 'Choose passphrase' }).click();
  await expect(page.getByText('Chosen. A backup is being made.')).toBeVisible();
  await next();
  await step(6);
  await page.getByRole('button', { name: 'Send a message to ines@tallowreed.example' }).click();
  await expect(page.getByText(/^It has left/)).toBeVisible({ timeout: 20_000 });
  const phone = await page.context().newPage();
  await phone.goto(`${emptyWorld.outside}/mailboxes/ines%40tallowreed.example`);
  await phone.getByRole('link', { name: 'My first message with Kiraku' }).first().click();
  await expect(page.getByText(/^Ines Valdaro opened “My first message with Kiraku”/)).toBeVisible({ timeout: 15_000 });
  await page.getByRole('button', { name: 'Finish' }).click();
  await expect(page.getByRole('link', { name: 'My first message with Kiraku' }).first()).toBeVisible();
  await expect(page.getByText('Set-up is not finished.')).toBeHidden();
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Drafts' }).click();
  await expect(page.getByRole('heading', { name: 'No drafts' })).toBeVisible();
  // The backup that was made meanwhile.
  await page.goto(`${emptyWorld.desk}/settings/backups`);
  await expect(page.getByLabel('Backups that are kept').getByRole('listitem')).toHaveCount(1);
  await page.goto(`${emptyWorld.desk}/settings/sign-in`);
  await expect(page.getByText('This browser, signed in just now')).toBeVisible();
  await page.getByLabel('Current passphrase').fill('felt and reed');
  await page.getByLabel('New passphrase').fill('reed and felt by moonlight');
  await page.getByRole('button', { name: 'Change passphrase' }).click();
  await expect(page.getByText('Changed.')).toBeVisible();
  await page.getByRole('button', { name: 'Sign out everywhere' }).click();
  await page.getByRole('textbox', { name: 'Passphrase', exact: true }).fill('reed and felt by moonlight');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page).not.toHaveURL(/sign-in\?/);
});

test('codes from the phone are set up, asked for, and turned off', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/settings/sign-in`);
  await page.getByLabel('Your passphrase, once more').fill(DEMO_PASSPHRASE);
  await page.getByRole('button', { name: 'Set up' }).click();
  await expect(page.getByAltText('The secret, for the camera of your phone')).toBeVisible();
  const secret = Secret.fromBase32((await page.locator('.session-secret').textContent())!);
  const code = (steps: number) => new TOTP({ secret }).generate({ timestamp: Date.now() + steps * 30_000 });
  await page.getByLabel('The code that it shows now').fill(code(0));
  await page.getByRole('button', { name: 'Ask for codes from now on' }).click();
  await expect(page.getByLabel('Recovery codes').getByRole('listitem')).toHaveCount(10);
  await page.getByRole('button', { name: 'I have kept them' }).click();
  await expect(page.getByText('10 recovery codes are left.')).toBeVisible();
  await page.request.delete(`${world.desk}/api/session`);
  await page.goto(`${world.desk}/today`);
  await page.getByRole('textbox', { name: 'Passphrase', exact: true }).fill(DEMO_PASSPHRASE);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByLabel('Code').fill(code(1));
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
  await page.goto(`${world.desk}/settings/sign-in`);
  await page.getByLabel('Your passphrase, once more').fill(DEMO_PASSPHRASE);
  await page.getByRole('button', { name: 'Turn off' }).click();
  await expect(page.getByRole('button', { name: 'Set up' })).toBeVisible();
});

test('a passkey is added, signs in, and is removed', async ({ world, page }) => {
  await signedIn(page, world);
  const desk = world.desk.replace('127.0.0.1', 'localhost');
  const device = await page.context().newCDPSession(page);
  await device.send('WebAuthn.enable');
  await device.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      ...{ protocol: 'ctap2', transport: 'internal', automaticPresenceSimulation: true },
      ...{ hasResidentKey: true, hasUserVerification: true, isUserVerified: true },
    },
  });
  await page.goto(`${desk}/sign-in?to=/settings/sign-in`);
  await page.getByLabel('Passphrase').fill('felt and reed');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  const passkeys = page.getByRole('region', { name: 'Passkeys' });
  await passkeys.getByLabel('Your passphrase, once more').fill('felt and reed');
  await passkeys.getByRole('button', { name: 'Add a passkey' }).click();
  await passkeys.getByLabel('What to call it').fill('My laptop');
  await passkeys.getByRole('button', { name: 'Make the passkey' }).click();
  await expect(passkeys.getByText('My laptop at localhost, not used yet')).toBeVisible();
  await page.request.delete(`${desk}/api/session`);
  await page.goto(`${desk}/sign-in?to=/settings/sign-in`);
  await page.getByRole('button', { name: 'Sign in with a passkey' }).click();
  await expect(passkeys.getByText(/My laptop at localhost, last used \d/)).toBeVisible();
  await passkeys.getByRole('button', { name: 'Remove the passkey My laptop' }).click();
  await expect(passkeys.getByText('My laptop')).toBeHidden();
});
