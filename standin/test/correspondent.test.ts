import { mkdtemp, readdir, rm } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { simpleParser, type ParsedMail } from 'mailparser';
import nodemailer, { type SendMailOptions } from 'nodemailer';
import { SMTPServer } from 'smtp-server';
import { startStandin, type Standin } from '@kiraku/standin/standin';

const INES = 'ines@tallowreed.example';
const MARIT = 'marit@lindqvist.example';

let folder: string;
let desk: SMTPServer;
let standin: Standin;
let brought: { from: string; to: string[]; raw: string; mail: ParsedMail }[];

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'standin-test-'));
  brought = [];
  desk = new SMTPServer({
    lmtp: true,
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    closeTimeout: 200,
    onData: (stream, { envelope }, callback) => {
      const chunks: Buffer[] = [];
      stream.on('data', (chunk: Buffer) => chunks.push(chunk));
      stream.on('end', async () => {
        const raw = Buffer.concat(chunks);
        const from = envelope.mailFrom ? envelope.mailFrom.address : '';
        const to = envelope.rcptTo.map(({ address }) => address);
        brought.push({ from, to, raw: raw.toString(), mail: await simpleParser(raw) });
        callback();
      });
    },
  });
  await new Promise<void>((resolve) => desk.listen(0, '127.0.0.1', resolve));
  const { port } = desk.server.address() as AddressInfo;
  standin = await startStandin({ dataDir: folder, port: 0, smtpPort: 0, lmtpPort: port });
});
afterEach(async () => {
  await standin.close();
  await new Promise<void>((resolve) => desk.close(resolve));
  await rm(folder, { recursive: true });
});

async function send(options: SendMailOptions = {}): Promise<string> {
  const transport = nodemailer.createTransport({ host: '127.0.0.1', port: standin.smtpPort, ignoreTLS: true });
  await transport.sendMail({
    from: `Ines <${INES}>`,
    to: MARIT,
    subject: 'Felt',
    html: '<p>Hello <img src="http://x.example/i.gif"></p>',
    messageId: '<1@tallowreed.example>',
    ...options,
  });
  transport.close();
  const [file] = await readdir(join(folder, 'standin/mail', MARIT));
  return `/mailboxes/${encodeURIComponent(MARIT)}/${file}`;
}

const press = (path: string, form: Record<string, string> = {}) =>
  fetch(`http://127.0.0.1:${standin.port}${path}`, { method: 'POST', body: new URLSearchParams(form) });

test('a reply follows its mail, with or without what it quotes', async () => {
  const path = await send();
  expect((await press(`${path}/actions/reply`, { text: 'Yes & <no>', quotes: 'on' })).status).toBe(200);
  await press(`${path}/actions/reply`, { text: 'Short' });
  expect(brought.map(({ from, to }) => [from, to])).toEqual(Array(2).fill([MARIT, [INES]]));
  const [quoting, short] = brought.map(({ mail }) => mail);
  expect(quoting).toMatchObject({ subject: 'Re: Felt', inReplyTo: '<1@tallowreed.example>' });
  expect(String(quoting!.html)).toContain('i.gif');
  expect(quoting!.text).toContain('Yes & <no>');
  expect(String(short!.html)).not.toContain('i.gif');
});

test('a program answers by itself, and says so', async () => {
  await press(`${await send()}/actions/away`);
  expect(brought[0]!.mail.headers.get('auto-submitted')).toBe('auto-replied');
});

test('a receipt is sent or declined where one was asked for, and only there', async () => {
  const path = await send();
  expect((await press(`${path}/actions/receipt`, { disposition: 'displayed' })).status).toBe(422);
  expect(brought).toEqual([]);
  await rm(join(folder, 'standin/mail', MARIT), { recursive: true });
  const asked = await send({ headers: { 'Disposition-Notification-To': INES } });
  for (const disposition of ['displayed', 'denied']) await press(`${asked}/actions/receipt`, { disposition });
  expect((await press(`${asked}/actions/receipt`, { disposition: 'pondered' })).status).toBe(422);
  expect(brought.map(({ raw }) => /^Disposition: .*; (\w+)/m.exec(raw)?.[1])).toEqual(['displayed', 'denied']);
});

test('its mail server sends it back, and only says that it takes longer', async () => {
  const path = await send();
  await press(`${path}/actions/bounce`, { bounce: 'delayed' });
  await press(`${path}/actions/bounce`, { bounce: 'full' });
  expect(brought.map(({ from, raw }) => [from, /^Status: (.*)\r$/m.exec(raw)?.[1]])).toEqual([
    ['', '4.2.1'],
    ['', '5.2.2'],
  ]);
  // What was sent back never lay there.
  expect((await press(`${path}/actions/bounce`, { bounce: 'full' })).status).toBe(404);
});

test('who asks to be told of the delivery is told', async () => {
  await send({ dsn: { id: '1', return: 'headers', notify: ['success'], recipient: MARIT } });
  for (let n = 0; n < 100 && brought.length === 0; n += 1) await new Promise((resolve) => setTimeout(resolve, 20));
  expect(brought[0]!.raw).toMatch(/^Action: delivered/m);
});

test('it is forwarded to somebody of the made-up world, and to nobody else', async () => {
  const path = await send();
  await press(`${path}/forward`, { to: 'colleague@lindqvist.example' });
  expect(await readdir(join(folder, 'standin/mail/colleague@lindqvist.example'))).toHaveLength(1);
  expect((await press(`${path}/forward`, { to: '../etc@x.example' })).status).toBe(422);
  expect((await press(`${path}/forward`, { to: 'a@elsewhere.org' })).status).toBe(422);
});

test('where the desk is away, the page says so', async () => {
  const path = await send();
  await new Promise<void>((resolve) => desk.close(resolve));
  const response = await press(`${path}/actions/reply`, { text: 'x' });
  expect(await response.text()).toContain('could not be reached');
});
