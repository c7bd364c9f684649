import { expect, test } from '@playwright/test';
import { BROWSER_ARGS, LEAN_CHROMIUM } from '../browsers.js';
import { hasRealPeers, OWNER, RealPeers } from '../realPeers.js';
import { PASSWORD, USER } from '../../server/test/incoming/dovecot.js';

test.use({
  // As the DNS would; the authority is one that no browser knows.
  launchOptions: {
    executablePath: LEAN_CHROMIUM,
    args: [...BROWSER_ARGS, '--host-resolver-rules=MAP *.reed.example 127.0.0.1'],
  },
  ignoreHTTPSErrors: true,
});
test.skip(!hasRealPeers, 'Postfix and Dovecot must be started by root');

let peers: RealPeers;
test.beforeAll(async () => void (peers = await RealPeers.start()));
test.afterAll(() => peers.stop());

test('on an empty folder, with servers that are not ours: from the first start to the first open and the first reply', async ({
  page,
  context,
}) => {
  const next = () => page.getByRole('button', { name: 'Next' }).click();
  const step = (number: number) => expect(page.getByText(`Step ${number} of 6`)).toBeVisible();
  const address = () => /(http:\S+set-up#\S+)/.exec(peers.printed)?.[1];
  await expect.poll(address).toBeDefined();
  await page.goto(address()!);
  await page.getByLabel('Your name').fill('Ines Valdaro');
  await page.getByLabel('Your email address').fill(OWNER);
  await page.getByLabel('Choose a passphrase').fill('felt and reed');
  await page.getByRole('button', { name: 'Start' }).click();
  // Postfix takes the test message, and Dovecot has it.
  await step(1);
  await page.getByLabel('Outgoing mail server').fill('127.0.0.1');
  await page.getByLabel('Port').fill(String(peers.smtpPort));
  await page.getByLabel('Connection').click();
  await page.getByText('Not encrypted').click();
  await page.getByRole('button', { name: 'Send a test message to myself' }).click();
  await expect(page.getByText(`It works: a test message was sent to ${OWNER}.`)).toBeVisible();
  await expect.poll(() => peers.dovecot.delivered().length).toBe(1);
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await next();
  // The public address has a certificate of the authority, and the machine and the browser reach it by its name.
  await step(2);
  await expect(page.getByText('This browser reaches the public address.')).toBeVisible();
  await expect(page.getByText(`${peers.publicUrl} can be reached.`)).toBeVisible();
  expect(peers.signed).toBe(1);
  await next();
  // The mailbox is opened, and its folders found.
  await step(3);
  await page
    .getByRole('radio', { name: /mailbox/i })
    .first()
    .check();
  await page.getByLabel('Mailbox server').fill('127.0.0.1');
  await page.getByLabel('Port').fill(String(peers.dovecot.port));
  await page.getByLabel('Connection').click();
  await page.getByText('Not encrypted').click();
  await page.getByLabel('User name').fill(USER);
  await page.getByLabel('Password').fill(PASSWORD);
  await page.getByRole('button', { name: 'Test' }).click();
  await expect(page.getByText(/It works: the inbox has 1 message\./)).toBeVisible();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await next();
  await step(4);
  await next();
  await step(5);
  await next();
  await step(6);
  await page.getByRole('button', { name: `Send a message to ${OWNER}` }).click();
  await expect(page.getByText(/^It has left/)).toBeVisible();
  await expect.poll(() => peers.dovecot.delivered().length).toBe(2);
  const mail = peers.dovecot.delivered()[0]!.replace(/=\r?\n/g, '');
  const image = new RegExp(`${peers.publicUrl}/i/[\\w-]{22}\\.gif`).exec(mail)![0];
  const phone = await context.newPage();
  expect((await phone.goto(image))!.status()).toBe(200);
  await expect(page.getByText(/^Ines Valdaro opened “My first message with Kiraku”/)).toBeVisible();
  await page.getByRole('button', { name: 'Finish' }).click();
  // And a reply, which comes to the mailbox.
  const id = /^Message-ID: (<.*>)/im.exec(mail)![1];
  peers.dovecot.deliver(
    `Return-Path: <marit@lindqvist.example>\r\nFrom: Marit <marit@lindqvist.example>\r\nTo: ${OWNER}\r\n` +
      `Subject: Re: My first message with Kiraku\r\nMessage-ID: <r1@lindqvist.example>\r\nIn-Reply-To: ${id}\r\n\r\nIt arrived.\r\n`,
  );
  await page.goto(`${peers.desk}/sent`);
  await page.getByRole('link', { name: 'My first message with Kiraku' }).first().click();
  await expect(page.getByText('It arrived.').first()).toBeVisible();
  // A mail app on the road finds submission by the same name, under the same certificate.
  await page.goto(`${peers.desk}/settings/check-up`);
  await page.getByRole('button', { name: 'Check now' }).click();
  await expect(page.getByText(/Mail apps reach it as track\.reed\.example, on port \d+ and port \d+\./)).toBeVisible();
});
