import nodemailer, { type SendMailOptions } from 'nodemailer';
import type { SMTPServerOptions } from 'smtp-server';
import type { MessagePage, RefusedMail } from '@kiraku/core/contract';
import { SubmissionSettings } from '@kiraku/server/submission/submission.settings';
import { AccountService } from '@kiraku/server/settings/account.service';
import { ACCOUNT, APP_PASSWORD, Desk, MailServer } from '../harness.js';

const INES = 'ines@tallowreed.example';
const MARIT = 'marit@lindqvist.example';
const MAIL = `From: Ines <${INES}>\r\nTo: ${MARIT}\r\nSubject: Felt\r\nContent-Type: text/html\r\n\r\n<p>Dear</p>\r\n`;

/** What a mail server was told beside the addresses. */
type DsnParameters = Record<string, unknown>;

let mail: MailServer;
let desk: Desk;
let ofMail: DsnParameters;
let ofRecipient: DsnParameters;

/** Starts with a mail server that offers what is said, and refuses some. */
async function start(offers: SMTPServerOptions = {}, refuses?: (address: string) => Error | undefined): Promise<void> {
  mail = await MailServer.start({
    onMailFrom: ({ args }, _session, callback) => {
      ofMail = (args as DsnParameters) || {};
      callback();
    },
    onRcptTo: ({ address, args }, _session, callback) => {
      ofRecipient = (args as DsnParameters) || {};
      callback(refuses?.(address));
    },
    ...offers,
  });
  desk = await Desk.start(mail.port);
}
afterEach(async () => {
  await desk.stop();
  await mail.stop();
});

async function submit(envelope: object, more: SendMailOptions = {}, raw: string | Buffer = MAIL): Promise<void> {
  const transport = nodemailer.createTransport({
    host: '127.0.0.1',
    port: desk.config.submissionPort,
    requireTLS: true,
    tls: { rejectUnauthorized: false },
    auth: { user: INES, pass: APP_PASSWORD },
  });
  try {
    await transport.sendMail({ envelope: { from: INES, to: MARIT, ...envelope } as never, raw, ...more });
  } finally {
    transport.close();
  }
}

const newest = async () => (await desk.json<MessagePage>('GET', '/api/messages?limit=1')).messages[0]!.id;
const left = async () => desk.sent(await newest());

test('an address that is allowed besides leaves as itself, and so does what must not be answered', async () => {
  await start();
  desk.get(SubmissionSettings).setAddresses(['sales@tallowreed.example']);
  await submit({ from: 'sales@tallowreed.example' });
  await left();
  await submit({ from: 'sales+felt@tallowreed.example' });
  await left();
  await submit({ from: '' });
  await left();
  expect(mail.received.map(({ from }) => from)).toEqual([
    'sales@tallowreed.example',
    'sales+felt@tallowreed.example',
    '',
  ]);
});

describe('what is asked of delivery reports', () => {
  const dsn = { ret: 'FULL', envid: 'a+b=1', notify: ['FAILURE', 'DELAY'], orcpt: `rfc822;first+${MARIT}` };

  test('goes on to a mail server that can', async () => {
    await start();
    await submit({}, { dsn } as never);
    await left();
    expect(ofMail).toMatchObject({ RET: 'FULL', ENVID: 'a+b=1' });
    expect(ofRecipient).toEqual({ NOTIFY: 'FAILURE,DELAY', ORCPT: `rfc822;first+${MARIT}` });
  });

  test('comes before what is asked here by itself', async () => {
    await start();
    const writing = await desk.json<object>('GET', '/api/settings/writing');
    await desk.json('PUT', '/api/settings/writing', { ...writing, requestDsn: true });
    await submit({}, { dsn: { notify: ['NEVER'] } } as never);
    await left();
    expect(ofRecipient).toMatchObject({ NOTIFY: 'NEVER' });
    await submit({});
    await left();
    expect(ofMail).toMatchObject({ RET: 'HDRS', ENVID: expect.stringMatching(/@/) });
    expect(ofRecipient).toEqual({ NOTIFY: 'SUCCESS,FAILURE,DELAY', ORCPT: `rfc822;${MARIT}` });
  });

  test('is left out where the mail server cannot', async () => {
    await start({ hideDSN: true });
    await submit({}, { dsn } as never);
    expect((await left()).summary.state).toBe('sent');
    expect([ofMail['RET'], ofRecipient['NOTIFY']]).toEqual([undefined, undefined]);
  });
});

describe('an address beyond ASCII', () => {
  const BEYOND = 'märit@lindqvist.example';

  test('is announced where the mail server offers it', async () => {
    await start();
    await submit({ to: BEYOND });
    expect((await left()).summary.state).toBe('sent');
    expect(ofMail['SMTPUTF8']).toBe(true);
    expect(mail.received[0]!.to).toEqual([BEYOND]);
  });

  test('fails in clear words where it does not', async () => {
    const refusal = Object.assign(new Error('5.1.3 Bad address'), { responseCode: 553 });
    await start({ hideSMTPUTF8: true } as SMTPServerOptions, (address) =>
      /[^ -~]/.test(address) ? refusal : undefined,
    );
    await submit({ to: BEYOND });
    const { copies } = await left();
    expect(copies[0]).toMatchObject({
      state: 'failed',
      lastError: expect.stringMatching(/addresses like this .*5\.1\.3/),
    });
    expect(ofMail['SMTPUTF8']).toBeUndefined();
  });
});

test('a local part within quotation marks is an address like others', async () => {
  await start();
  const quoted = '"marit..oakes"@lindqvist.example';
  await submit({ to: [quoted, MARIT] });
  const { copies } = await left();
  expect(copies.map(({ lastError }) => lastError)).toEqual([null, null]);
  expect(mail.received.map(({ to }) => to[0]).sort()).toEqual([quoted, MARIT].sort());
});

test('what is refused is shown with its reason and its original, once for each time', async () => {
  await start();
  await expect(submit({}, {}, MAIL.replace('Subject', 'X-Kiraku-Track: perhaps\r\nSubject'))).rejects.toThrow(/554/);
  await expect(submit({ from: 'boss@elsewhere.example' })).rejects.toThrow(/553/);
  const refused = await desk.json<RefusedMail[]>('GET', '/api/refused-mails?way=submission');
  expect(refused).toMatchObject([
    { fromAddress: 'boss@elsewhere.example', hasOriginal: false, problem: expect.stringMatching(/Allow/) },
    { fromAddress: INES, toAddress: MARIT, subject: 'Felt', hasOriginal: true },
  ]);
  const original = await desk.call('GET', `/api/refused-mails/${refused[1]!.id}/original.eml`);
  expect(await original.text()).toContain('X-Kiraku-Track: perhaps');
  expect((await desk.call('GET', `/api/refused-mails/${refused[0]!.id}/original.eml`)).status).toBe(404);
  expect((await desk.call('DELETE', '/api/refused-mails/999')).status).toBe(404);
});

describe('a large mail to many', () => {
  const FILE = Buffer.alloc(2 * 2 ** 20, 'a large plan ');
  const people = Array.from({ length: 20 }, (_, n) => `person${n}@lindqvist.example`);
  const large = () => {
    const lines = FILE.toString('base64').replace(/.{76}/g, '$&\r\n');
    return Buffer.from(
      `From: Ines <${INES}>\r\nTo: ${people.join(', ')}\r\nSubject: Large\r\nMIME-Version: 1.0\r\n` +
        `Content-Type: multipart/mixed; boundary=b\r\n\r\n--b\r\nContent-Type: text/html\r\n\r\n<p>Dear</p>\r\n--b\r\n` +
        `Content-Type: application/pdf\r\nContent-Disposition: attachment; filename=plan.pdf\r\n` +
        `Content-Transfer-Encoding: base64\r\n\r\n${lines}\r\n--b--\r\n`,
    );
  };

  test('is kept once for all of them, leaves whole to each, and also when one of them is erased meanwhile', async () => {
    await start();
    const account = desk.get(AccountService);
    // Nobody takes it yet.
    account.save({ ...ACCOUNT, smtpPort: 9 });
    await submit({ to: people }, {}, large());
    const id = await newest();
    const [waiting, bytes] = desk.sqlite.prepare('select count(*), sum(length(raw)) from outbox').raw().get() as [
      number,
      number,
    ];
    expect([waiting, bytes < 100_000]).toEqual([20, true]);
    const [person] = await desk.json<{ id: number }[]>('GET', '/api/people?words=person7');
    expect((await desk.call('DELETE', `/api/people/${person!.id}`)).status).toBeLessThan(300);
    // Nothing of it is remembered besides.
    await desk.close();
    await desk.open();
    desk.get(AccountService).save({ ...ACCOUNT, smtpPort: mail.port });
    desk.clock.advance(60 * 60_000);
    for (const copy of (await desk.detail(id)).copies)
      if (copy.state === 'queued') await desk.call('POST', `/api/outbox/${copy.id}/retry`, {});
    await desk.until(id, ({ copies }) => copies.every(({ state }) => state !== 'queued'), 110_000);
    expect(mail.received).toHaveLength(19);
    for (const { parsed } of mail.received) expect(parsed.attachments[0]!.content.equals(FILE)).toBe(true);
    expect(new Set(mail.received.map(({ raw }) => /\/i\/[\w-]{22}/.exec(raw.toString('latin1'))![0])).size).toBe(19);
  }, 240_000);
});
