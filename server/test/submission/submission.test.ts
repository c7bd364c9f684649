import { mkdtempSync, rmSync } from 'node:fs';
import { connect, type AddressInfo, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import nodemailer from 'nodemailer';
import type { ListTotals, MessagePage, MessageSummary } from '@kiraku/core/contract';
import { SECOND } from '@kiraku/core/time';
import { readOrMakeIdentity } from '@kiraku/server/submission/certificate';
import { TlsFirstServer } from '@kiraku/server/submission/tlsFirstServer';
import { APP_PASSWORD, trackingUrlsOf, desk, mail, useDesk } from '../harness.js';
import { until } from '../until.js';

const INES = 'ines@tallowreed.example';
const MARIT = 'marit@lindqvist.example';

useDesk('all');
beforeEach(() => {
  mail.received.length = 0;
});

const client = (change: object = {}) =>
  nodemailer.createTransport({
    host: '127.0.0.1',
    port: desk.config.submissionPort,
    requireTLS: true,
    tls: { rejectUnauthorized: false },
    auth: { user: INES, pass: APP_PASSWORD },
    ...change,
  });

const html = (link: string) => `<html><body><p>See <a href="${link}">the felt</a>.</p></body></html>`;
const raw = (...lines: string[]) => Buffer.from(lines.join('\r\n'), 'latin1');
const simple = (...fields: string[]) =>
  raw(
    `From: Ines Valdaro <${INES}>`,
    `To: Marit Oakes <${MARIT}>`,
    ...fields,
    'Content-Type: text/html; charset=utf-8',
    '',
    html('https://tallowreed.example/felt?a=1&amp;b=2'),
    '',
  );

async function submit(content: Buffer, to: string | string[] = MARIT, from = INES): Promise<void> {
  const transport = client();
  try {
    await transport.sendMail({ envelope: { from, to }, raw: content });
  } finally {
    transport.close();
  }
}

const total = async () => (await desk.json<ListTotals>('GET', '/api/messages/list/totals')).total;

/** The newest message of the list, once it has left. */
async function newest(): Promise<MessageSummary> {
  const { messages } = await desk.json<MessagePage>('GET', '/api/messages?limit=1');
  return (await desk.sent(messages[0]!.id)).summary;
}

test('a mail submitted is instrumented, counted and listed like one that was written here', async () => {
  await submit(
    simple('Subject: Felt', 'Message-ID: <mine@tallowreed.example>', 'Date: Tue, 24 Nov 2026 10:00:00 +0100'),
  );
  const { id, ...summary } = await newest();
  expect(summary).toMatchObject({ subject: 'Felt', origin: 'submitted', state: 'sent', untrackedReason: null });
  const received = mail.to(MARIT);
  expect(received.parsed.messageId).toBe('<mine@tallowreed.example>');
  const { image, links } = trackingUrlsOf(received);
  desk.clock.advance(10 * SECOND);
  await desk.visit(image!);
  expect((await desk.visit(links[0]!)).headers.get('location')).toBe('https://tallowreed.example/felt?a=1&b=2');
  const detail = await desk.detail(id);
  expect(detail.summary.tally).toMatchObject({ opens: 1, clicks: 1 });
  expect(detail.links).toMatchObject([{ text: 'the felt', clicks: 1 }]);
});

test('each envelope recipient gets a copy of their own; Bcc is named nowhere, and what is missing is added', async () => {
  const to = [MARIT, 'jun@lindqvist.example', 'hidden@lindqvist.example'];
  await submit(
    simple('Cc: jun@lindqvist.example', 'Bcc: hidden@lindqvist.example,', '\thim@x.example', 'Subject: Three'),
    to,
  );
  const { recipients } = await newest();
  expect(recipients).toEqual([
    { kind: 'to', name: 'Marit Oakes', address: MARIT },
    { kind: 'cc', name: '', address: 'jun@lindqvist.example' },
    { kind: 'bcc', name: '', address: 'hidden@lindqvist.example' },
  ]);
  const mails = to.map((address) => mail.to(address));
  expect(new Set(mails.map((one) => trackingUrlsOf(one).image)).size).toBe(3);
  expect(new Set(mails.map((one) => one.parsed.messageId)).size).toBe(1);
  for (const one of mails) {
    expect(one.raw.toString()).not.toMatch(/^bcc:|hidden@|him@x/im);
    expect(one.parsed.messageId).toMatch(/@tallowreed\.example>$/);
    expect(one.parsed.date).toBeInstanceOf(Date);
  }
});

test.each<[value: string, opens: boolean, links: boolean]>([
  ['all', true, true],
  ['opens', true, false],
  ['links', false, true],
  ['none', false, false],
])('X-Kiraku-Track: %s is obeyed, and does not leave', async (value, opens, links) => {
  await submit(simple(`X-Kiraku-Track: ${value}`, 'Subject: Wish'));
  expect(await newest()).toMatchObject({ trackOpens: opens, trackClicks: links, untrackedReason: null });
  const received = mail.to(MARIT);
  expect(received.raw.toString()).not.toMatch(/x-kiraku/i);
  expect(trackingUrlsOf(received).image !== undefined).toBe(opens);
  expect(trackingUrlsOf(received).links).toHaveLength(links ? 1 : 0);
});

test.each<[name: string, content: Buffer, why: RegExp]>([
  [
    'signed (RFC 1847)',
    raw(
      `From: ${INES}`,
      'Message-ID: <s@x.example>',
      'Date: Tue, 24 Nov 2026 10:00:00 +0100',
      'Content-Type: multipart/signed; protocol="application/pgp-signature"; boundary=b; micalg=pgp-sha256',
      '',
      '--b',
      'Content-Type: text/html',
      '',
      html('https://x.example/'),
      '--b',
      'Content-Type: application/pgp-signature',
      '',
      '-----BEGIN PGP SIGNATURE-----',
      '--b--',
      '',
    ),
    /signed/,
  ],
  [
    'S/MIME',
    raw(
      `From: ${INES}`,
      'Message-ID: <m@x.example>',
      'Date: Tue, 24 Nov 2026 10:00:00 +0100',
      'Content-Type: application/pkcs7-mime; smime-type=signed-data; name=smime.p7m',
      'Content-Transfer-Encoding: base64',
      '',
      'MIAGCSqGSIb3DQEHAqCAMIACAQExDzANBglghkgBZQMEAgEFADCABgkqhkiG9w0BBwGggCSABA==',
      '',
    ),
    /signed/,
  ],
  [
    'encrypted (RFC 3156)',
    raw(
      `From: ${INES}`,
      'Message-ID: <e@x.example>',
      'Date: Tue, 24 Nov 2026 10:00:00 +0100',
      'Content-Type: multipart/encrypted; protocol="application/pgp-encrypted"; boundary=b',
      '',
      '--b',
      'Content-Type: application/pgp-encrypted',
      '',
      'Version: 1',
      '--b--',
      '',
    ),
    /encrypted/,
  ],
  [
    'plain text',
    raw(
      `From: ${INES}`,
      'Message-ID: <p@x.example>',
      'Date: Tue, 24 Nov 2026 10:00:00 +0100',
      'Subject: Plain',
      '',
      'Only <words>.',
      '',
    ),
    /no HTML/,
  ],
])('%s passes unaltered, and is listed with the reason', async (_name, content, why) => {
  await submit(content);
  expect((await newest()).untrackedReason).toMatch(why);
  expect(mail.to(MARIT).raw.toString('latin1').trimEnd()).toBe(content.toString('latin1').trimEnd());
});

describe('who may', () => {
  const refused = async (work: Promise<unknown>) =>
    work.then(
      () => ({ responseCode: 250, response: '' }),
      (error: { responseCode: number; response: string }) => error,
    );

  test('nobody without a password that was made for it', async () => {
    for (const auth of [undefined, { user: INES, pass: 'guess' }, { user: 'other@x.example', pass: APP_PASSWORD }]) {
      const transport = client({ auth });
      const { responseCode } = await refused(
        transport.sendMail({ envelope: { from: INES, to: MARIT }, raw: simple() }),
      );
      expect([530, 535]).toContain(responseCode);
      transport.close();
    }
    expect(mail.received).toEqual([]);
  });

  test('no password goes over an open connection', async () => {
    const transport = client({ requireTLS: false, ignoreTLS: true });
    const { responseCode } = await refused(transport.sendMail({ envelope: { from: INES, to: MARIT }, raw: simple() }));
    expect(responseCode).toBeGreaterThanOrEqual(500);
    transport.close();
  });

  test('a password is shown once, used, seen to be used, and taken back', async () => {
    const made = await desk.json<{ id: number; password: string }>('POST', '/api/settings/submission/passwords', {
      name: 'My phone',
    });
    expect(made.password).toMatch(/^([a-z2-9]{6}-){3}[a-z2-9]{6}$/);
    desk.sqlite.pragma('wal_checkpoint(TRUNCATE)');
    const read = async () => {
      const view = await desk.json<{ passwords: { id: number; lastUsedAt: number | null }[] }>(
        'GET',
        '/api/settings/submission',
      );
      expect(JSON.stringify(view)).not.toContain(made.password);
      return view.passwords.find(({ id }) => id === made.id);
    };
    expect(await read()).toMatchObject({ name: 'My phone', lastUsedAt: null });
    const transport = client({ auth: { user: INES, pass: made.password } });
    await transport.sendMail({ envelope: { from: INES, to: MARIT }, raw: simple('Subject: By phone') });
    expect((await read())!.lastUsedAt).toEqual(expect.any(Number));
    await desk.call('DELETE', `/api/settings/submission/passwords/${made.id}`);
    transport.close();
    const later = client({ auth: { user: INES, pass: made.password } });
    expect((await refused(later.sendMail({ envelope: { from: INES, to: MARIT }, raw: simple() }))).responseCode).toBe(
      535,
    );
    later.close();
  });

  test('no sender but the account’s own, in the envelope and in the mail, unless it is allowed', async () => {
    const foreign = Buffer.from(simple().toString().replace(INES, 'boss@tallowreed.example'));
    expect(await refused(submit(simple(), MARIT, 'boss@tallowreed.example'))).toMatchObject({ responseCode: 553 });
    expect(await refused(submit(foreign))).toMatchObject({
      responseCode: 553,
      response: expect.stringMatching(/Allow/),
    });
    await desk.json('PUT', '/api/settings/submission', { addresses: ['boss@tallowreed.example'] });
    expect(await refused(submit(foreign))).toMatchObject({ responseCode: 250 });
    await desk.json('PUT', '/api/settings/submission', { addresses: [] });
  });
});

describe('bad input', () => {
  test.each<[string, Buffer, RegExp]>([
    ['an unknown wish', simple('X-Kiraku-Track: everything'), /all, opens, links or none/],
    [
      'a header without end',
      Buffer.concat([Buffer.from('X: '), Buffer.alloc(2_000_000, 'y'), simple()]),
      /could not be read/,
    ],
  ])('%s is refused in words, and nothing is kept', async (_name, content, words) => {
    const before = await total();
    await expect(submit(content)).rejects.toMatchObject({ response: expect.stringMatching(words) });
    expect(await total()).toBe(before);
  });

  test.each<[string, Buffer]>([
    ['nothing at all', Buffer.from('')],
    ['no header', Buffer.from('\r\nwords\r\n')],
    [
      'an unclosed multipart',
      raw(
        'Content-Type: multipart/mixed; boundary=b',
        '',
        '--b',
        'Content-Type: text/html',
        '',
        '<a href="https://x.example/">x</a>',
      ),
    ],
    [
      'a part without a body',
      raw('Content-Type: multipart/mixed; boundary=b', '', '--b', 'Content-Type: text/html', '--b--', ''),
    ],
    ['nonsense in base64', raw('Content-Type: text/html', 'Content-Transfer-Encoding: base64', '', '%%%', '')],
    [
      'an unknown charset',
      raw('Content-Type: text/html; charset=klingon', '', '<a href="https://x.example/">x</a>', ''),
    ],
    ['UTF-16', raw('Content-Type: text/html; charset=utf-16', '', '<a href="https://x.example/">x</a>', '')],
  ])('%s leaves all the same', async (_name, content) => {
    await submit(content);
    expect((await newest()).state).toBe('sent');
    expect(mail.received).toHaveLength(1);
  });

  test('a client that goes away in the middle leaves nothing behind, and nonsense is answered', async () => {
    const before = await total();
    const socket = connect(desk.config.submissionPort, '127.0.0.1');
    const replies: string[] = [];
    socket.on('data', (chunk) => replies.push(chunk.toString()));
    const replied = (code: RegExp) => until(() => code.test(replies.join('')));
    await replied(/^220/);
    socket.write('NONSENSE\r\n');
    await replied(/^500/m);
    socket.write('EHLO x\r\nMAIL FROM:<a@b.example>\r\n');
    await replied(/^5[35]0/m);
    socket.destroy();
    expect(await total()).toBe(before);
  });
});

/** What a server says, line by line, to what a program says in the clear. */
async function said(...lines: string[]): Promise<string> {
  const socket = connect(desk.config.submissionPort, '127.0.0.1');
  let text = '';
  socket.on('data', (chunk) => (text += chunk.toString()));
  for (const line of [...lines, 'QUIT']) {
    const before = text.length;
    await until(() => text.length > before && text.endsWith('\r\n'));
    socket.write(`${line}\r\n`);
  }
  await new Promise((resolve) => socket.on('close', resolve));
  return text;
}

test('logging in is offered only once the connection is encrypted', async () => {
  const greeting = await said('EHLO phone.example');
  expect(greeting).toMatch(/250[- ]STARTTLS/);
  expect(greeting).not.toMatch(/AUTH/);
  expect(await said('EHLO phone.example', 'AUTH PLAIN AGluZXMAeA==')).toMatch(/538 /);
  expect(await said('EHLO phone.example', `MAIL FROM:<${INES}>`)).toMatch(/530 /);
  // Encrypted, it is.
  await submit(simple('Subject: Encrypted'));
});

test.each([
  ['a second author', `From: Otis <otis@elsewhere.example>`],
  ['a sender on behalf', 'Sender: otis@elsewhere.example'],
])('%s who is somebody else is refused', async (_name, field) => {
  await expect(submit(simple('Subject: Forged', field))).rejects.toThrow(/5\d\d 5\./);
  await expect(submit(raw(field, `From: ${INES}`, `To: ${MARIT}`, '', 'x'))).rejects.toThrow(/5\d\d 5\./);
});

test('one of several authors who is somebody else is refused', async () => {
  await expect(
    submit(raw(`From: ${INES}, Otis <otis@elsewhere.example>`, `To: ${MARIT}`, 'Subject: x', '', 'x')),
  ).rejects.toThrow(/553/);
  await expect(submit(raw('From: nobody at all', `To: ${MARIT}`, 'Subject: x', '', 'x'))).rejects.toThrow(/554/);
});

test('a mail without an author gets its sender as one', async () => {
  await submit(raw(`To: ${MARIT}`, 'Subject: No author', 'Content-Type: text/html', '', '<p>x</p>'));
  await newest();
  expect(mail.to(MARIT).parsed.from!.value).toMatchObject([{ address: INES }]);
});

test('HTML that cannot be changed safely leaves as it is, and is listed as not tracked', async () => {
  const many = Array.from({ length: 450 }, (_, n) => `<b x=${n}>`).join('') + '<p>x\r\n'.repeat(2200);
  await submit(raw(`From: ${INES}`, `To: ${MARIT}`, 'Subject: Strange', 'Content-Type: text/html', '', many));
  const summary = await newest();
  expect(summary).toMatchObject({
    subject: 'Strange',
    untrackedReason: expect.stringMatching(/cannot be changed safely/),
  });
  expect(mail.to(MARIT).raw.toString()).toContain(many);
});

describe('strangers who hold connections and do not sign in', () => {
  const held: Socket[] = [];
  afterEach(() => held.splice(0).forEach((socket) => socket.destroy()));

  /** Holds a connection; what it has been told so far. */
  const hold = (port: number, localAddress = '127.0.0.1') => {
    const socket = connect({ port, host: '127.0.0.1', localAddress });
    const holder = { told: '', isOpen: true };
    socket.on('data', (chunk) => (holder.told += chunk.toString()));
    socket.on('error', () => undefined).on('close', () => (holder.isOpen = false));
    held.push(socket);
    return holder;
  };
  const holdMany = (port: number) => Array.from({ length: 80 }, () => hold(port));

  test('do not keep the owner out, nor who came from elsewhere before them', async () => {
    const elsewhere = hold(desk.config.submissionPort, '127.0.0.2');
    await until(() => elsewhere.told.startsWith('220'));
    const strangers = holdMany(desk.config.submissionPort);
    await until(() => strangers.filter(({ isOpen }) => isOpen).length < 20);
    expect(strangers[0]!.told).toMatch(/^421 4\.7\.0 .*not signed in/m);
    await submit(simple('Subject: Past a crowd'));
    expect((await newest()).subject).toBe('Past a crowd');
    expect(elsewhere.isOpen).toBe(true);
  });

  test('nor while they say nothing at all where it is encrypted from the start', async () => {
    const dataDir = mkdtempSync(join(tmpdir(), 'kiraku-crowd-'));
    const { cert, key } = await readOrMakeIdentity(dataDir);
    const server = new TlsFirstServer({ cert, key, secure: true, maxClients: 50, disableReverseLookup: true });
    server.on('error', () => undefined);
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const { port } = server.server.address() as AddressInfo;
    const elsewhere = hold(port, '127.0.0.2');
    const strangers = holdMany(port);
    await until(() => strangers.filter(({ isOpen }) => isOpen).length < 20);
    const transport = client({ port, secure: true, auth: undefined });
    expect(await transport.verify()).toBe(true);
    expect(elsewhere.isOpen).toBe(true);
    transport.close();
    await new Promise<void>((resolve) => server.close(resolve));
    rmSync(dataDir, { recursive: true });
  });
});

test('passwords are not guessed without end', async () => {
  const codes: number[] = [];
  for (let n = 0; n < 12; n += 1) {
    const transport = client({ auth: { user: INES, pass: `guess-${n}` } });
    await transport.verify().catch((error: { responseCode?: number }) => codes.push(error.responseCode ?? 0));
    transport.close();
  }
  expect(codes.slice(0, 10)).toEqual(Array<number>(10).fill(535));
  expect(codes.slice(10)).toEqual([454, 454]);
});
