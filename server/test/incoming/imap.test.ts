import Sqlite from 'better-sqlite3';
import { ImapFlow } from 'imapflow';
import type { IncomingView, MailboxTrial, MailboxView } from '@kiraku/core/contract';
import { databaseFile } from '@kiraku/server/environment/config';
import { IncomingService } from '@kiraku/server/incoming/incoming.service';
import { MailboxFollower } from '@kiraku/server/incoming/mailboxFollower';
import { Desk, MailServer, trackingUrlsOf, to } from '../harness.js';
import { Dovecot, hasDovecot, PASSWORD, USER } from './dovecot.js';
import { until as inTime } from '../until.js';

const MARIT = 'marit@lindqvist.example';
// Dovecot must be started by root; where it cannot be, the run says so as skipped.
const withDovecot = hasDovecot ? describe : describe.skip;

withDovecot('a real Dovecot', () => {
  let dovecot: Dovecot;
  let mail: MailServer;
  let desk: Desk;

  beforeEach(async () => {
    dovecot = await Dovecot.start();
    mail = await MailServer.start();
    desk = await Desk.start(mail.port);
  });
  afterEach(async () => {
    await desk.stop();
    await mail.stop();
    await dovecot.stop();
  });

  const settings = (change = {}) => ({
    way: 'imap',
    host: '127.0.0.1',
    port: dovecot.port,
    security: 'none',
    user: USER,
    password: PASSWORD,
    folders: [],
    storesSent: false,
    ...change,
  });
  const connect = (change = {}) => desk.json<MailboxView>('PUT', '/api/settings/mailbox', settings(change));
  const incoming = (id: number) => desk.json<IncomingView[]>('GET', `/api/messages/${id}/incoming`);

  async function sent(): Promise<{ id: number; header: string }> {
    const { id } = await desk.send({ recipients: [to(MARIT, 'Marit Oakes')] });
    return { id, header: (await desk.sent(id)).copies[0]!.messageIdHeader };
  }

  const replyMail = (follows: string, n = 1) =>
    `Return-Path: <${MARIT}>\r\nFrom: Marit <${MARIT}>\r\nTo: ines@tallowreed.example\r\nSubject: Re: Panels\r\nMessage-ID: <a${n}@lindqvist.example>\r\nIn-Reply-To: ${follows}\r\n\r\nYes, number ${n}.\r\n`;
  const other = (n: number) =>
    `Return-Path: <news@elsewhere.example>\r\nFrom: News <news@elsewhere.example>\r\nTo: ines@tallowreed.example\r\nSubject: News ${n}\r\nMessage-ID: <n${n}@elsewhere.example>\r\n\r\nNothing that concerns anybody.\r\n`;

  const until = (holds: () => Promise<boolean> | boolean, withinMs = 60_000) =>
    inTime(holds, { withinMs, more: () => dovecot.log.slice(-2000) });

  /** What another program sees of the mailbox. */
  async function seen<T>(look: (client: ImapFlow) => Promise<T>): Promise<T> {
    const client = new ImapFlow({
      host: '127.0.0.1',
      port: dovecot.port,
      secure: false,
      auth: { user: USER, pass: PASSWORD },
      logger: false,
    });
    await client.connect();
    const found = await look(client);
    await client.logout();
    return found;
  }

  test('is tried, and names its folders, also in other languages', async () => {
    dovecot.makeFolder('.L&AOQ-ndliche R&AOQ-ume');
    const trial = await desk.json<MailboxTrial>('POST', '/api/settings/mailbox/try', settings());
    expect(trial).toMatchObject({ ok: true, words: expect.stringContaining('the moment they arrive') });
    expect(trial.folders).toEqual(
      expect.arrayContaining([
        { path: 'INBOX', isSent: false },
        { path: 'Gesendet', isSent: true },
        { path: 'Ländliche Räume', isSent: false },
      ]),
    );
    const wrong = await desk.json<MailboxTrial>('POST', '/api/settings/mailbox/try', settings({ password: 'wrong' }));
    expect(wrong).toMatchObject({ ok: false, words: expect.stringContaining('user name and password') });
    const nobody = await desk.json<MailboxTrial>('POST', '/api/settings/mailbox/try', settings({ port: 9 }));
    expect(nobody.words).toContain('accepts no connections on port 9');
  });

  test('tells of a reply at once, and nothing is marked or moved', async () => {
    const { id, header } = await sent();
    await connect();
    await until(() => desk.get(MailboxFollower).state().seenAt !== null);
    // IDLE is under way.
    await new Promise((resolve) => setTimeout(resolve, 500));
    dovecot.deliver(other(1));
    dovecot.deliver(replyMail(header));
    const before = Date.now();
    await until(async () => (await incoming(id)).length === 1);
    expect(Date.now() - before).toBeLessThan(20_000);
    expect(await incoming(id)).toMatchObject([{ kind: 'reply', words: 'Yes, number 1.' }]);
    const flags = await seen(async (client) => {
      await client.mailboxOpen('INBOX', { readOnly: true });
      const all: string[] = [];
      for await (const one of client.fetch('1:*', { flags: true }))
        all.push([...one.flags!].filter((flag) => flag !== '\\Recent').join());
      return all;
    });
    expect(flags).toEqual(['', '']);
    // What concerns nobody is not kept.
    expect(desk.sqlite.prepare('select count(*) n from incoming').get()).toEqual({ n: 1 });
  });

  test('goes on where it was after the server was away, and says so meanwhile', async () => {
    const { id, header } = await sent();
    await connect();
    await until(() => desk.get(MailboxFollower).state().seenAt !== null);
    await dovecot.down();
    await until(() => desk.get(MailboxFollower).replyProblem() !== null);
    dovecot.deliver(replyMail(header));
    await dovecot.up();
    await until(async () => (await incoming(id)).length === 1);
    expect(desk.get(MailboxFollower).replyProblem()).toBeNull();
  });

  test('a folder that was made anew is read again, and brings nothing twice', async () => {
    const { id, header } = await sent();
    dovecot.deliver(replyMail(header, 1));
    await connect();
    const validity = () => desk.sqlite.prepare("select uid_validity v from mailbox_folder where path = 'INBOX'").get();
    await until(async () => (await incoming(id)).length === 1 && validity() !== undefined);
    const before = validity();
    await desk.close();
    dovecot.makeAnew();
    dovecot.deliver(replyMail(header, 2));
    await desk.open();
    await until(async () => (await incoming(id)).length === 2);
    await until(() => JSON.stringify(validity()) !== JSON.stringify(before));
    expect((await desk.detail(id)).summary.tally.replies).toBe(2);
  });

  test('of ten thousand mails those that concern us are found', async () => {
    const { id, header } = await sent();
    for (let n = 1; n <= 10_000; n += 1) dovecot.deliver(n % 2500 === 0 ? replyMail(header, n) : other(n));
    await connect();
    await until(async () => (await incoming(id)).length === 4, 120_000);
    dovecot.deliver(replyMail(header, 5));
    await until(async () => (await incoming(id)).length === 5);
  }, 180_000);

  test('other folders are looked into where that is wanted', async () => {
    const { id, header } = await sent();
    dovecot.makeFolder('.L&AOQ-ndlich');
    dovecot.deliver(replyMail(header), '.L&AOQ-ndlich');
    await connect({ folders: ['Ländlich'] });
    await until(async () => (await incoming(id)).length === 1);
  });

  test('keeps the clean copy of what is sent, once, without tracking', async () => {
    await connect({ storesSent: true });
    await until(() => desk.get(MailboxFollower).state().seenAt !== null);
    const { header } = await sent();
    desk.get(MailboxFollower).wake();
    const stored = () =>
      seen(async (client) => {
        await client.mailboxOpen('Gesendet', { readOnly: true });
        const all: { raw: string; flags: string[] }[] = [];
        for await (const one of client.fetch('1:*', { source: true, flags: true }))
          all.push({ raw: one.source!.toString(), flags: [...one.flags!] });
        return all;
      });
    await until(async () => (await stored()).length === 1);
    const [one] = await stored();
    expect(one!.raw).toContain(header);
    expect(one!.flags).toContain('\\Seen');
    const { image } = trackingUrlsOf(mail.to(MARIT));
    expect(one!.raw).not.toContain(image!.split('/i/')[1]!.slice(0, 22));
    await desk.close();
    await desk.open();
    await until(() => desk.get(MailboxFollower).state().seenAt !== null);
    expect(await stored()).toHaveLength(1);
  });

  test('a mail that cannot be read in is tried three times, shown, and stands in nobody’s way', async () => {
    const { id, header } = await sent();
    const incomingService = desk.get(IncomingService);
    const take = incomingService.take.bind(incomingService);
    let tries = 0;
    let isBroken = true;
    incomingService.take = (raw, arrival) => {
      if (!isBroken || !raw.includes('number 1.')) return take(raw, arrival);
      tries += 1;
      return Promise.reject(new Error('It is too strange'));
    };
    dovecot.deliver(replyMail(header, 1));
    dovecot.deliver(replyMail(header, 2));
    await connect();
    await until(async () => (await incoming(id)).length === 1);
    const failures = async () => (await desk.json<MailboxView>('GET', '/api/settings/mailbox')).state.failures;
    for (let n = 0; n < 6; n += 1) {
      desk.get(MailboxFollower).wake();
      await new Promise((resolve) => setTimeout(resolve, 400));
    }
    await until(async () => (await failures())[0]?.givenUp === true);
    expect(tries).toBe(3);
    expect(await failures()).toMatchObject([
      { folder: 'INBOX', fromAddress: MARIT, subject: 'Re: Panels', problem: 'It is too strange', attempts: 3 },
    ]);
    isBroken = false;
    expect((await desk.call('POST', '/api/settings/mailbox/failures/99/retry')).status).toBe(404);
    await desk.call('POST', `/api/settings/mailbox/failures/${(await failures())[0]!.id}/retry`);
    await until(async () => (await incoming(id)).length === 2);
    expect(await failures()).toEqual([]);
  });

  test('a mail is noted before it is read, and one that ended the process each time is let be', async () => {
    const { id, header } = await sent();
    await connect();
    await until(() => desk.get(MailboxFollower).state().seenAt !== null);
    const incomingService = desk.get(IncomingService);
    const take = incomingService.take.bind(incomingService);
    const noted: unknown[] = [];
    const attempts = () => desk.sqlite.prepare('select uid, attempts from mailbox_failure').all();
    incomingService.take = (raw, arrival) => {
      noted.push(attempts());
      return take(raw, arrival);
    };
    dovecot.deliver(replyMail(header, 1));
    await until(async () => (await incoming(id)).length === 1);
    expect(noted).toEqual([[{ uid: 1, attempts: 1 }]]);
    await until(() => attempts().length === 0);
    await desk.close();
    // As it stands after the process has ended three times while it read the next one.
    dovecot.deliver(replyMail(header, 2));
    dovecot.deliver(replyMail(header, 3));
    const file = new Sqlite(databaseFile(desk.config));
    file
      .prepare(
        "insert into mailbox_failure (path, uid_validity, uid, attempts, last_attempt_at, received_at) select path, uid_validity, 2, 3, 1, 1 from mailbox_folder where path = 'INBOX'",
      )
      .run();
    file.close();
    await desk.open();
    await until(async () => (await incoming(id)).length === 2);
    expect((await incoming(id)).map(({ words }) => words)).toEqual(['Yes, number 1.', 'Yes, number 3.']);
    const { failures } = (await desk.json<MailboxView>('GET', '/api/settings/mailbox')).state;
    expect(failures).toMatchObject([{ uid: 2, givenUp: true, problem: expect.stringMatching(/stopped Kiraku/) }]);
  });

  test('a password is never given out', async () => {
    const view = await connect();
    expect(view).toMatchObject({ hasPassword: true, user: USER });
    expect(JSON.stringify(view)).not.toContain(PASSWORD);
    expect(JSON.stringify(desk.sqlite.prepare('select value from setting').all())).not.toContain(PASSWORD);
    const { password: _password, ...rest } = settings({ folders: ['Gesendet'] });
    for (const other of [{ host: 'localhost' }, { port: 9 }, { security: 'tls' }, { user: 'otis' }])
      for (const [method, path] of [
        ['POST', '/api/settings/mailbox/try'],
        ['PUT', '/api/settings/mailbox'],
      ] as const)
        expect((await desk.call(method, path, { ...rest, ...other })).status).toBe(422);
    expect(await desk.json('PUT', '/api/settings/mailbox', rest)).toMatchObject({ hasPassword: true });
    await until(() => desk.get(MailboxFollower).state().seenAt !== null);
  });

  test('of a reply larger than 50 MB the beginning is read, and that is said', async () => {
    const { id, header } = await sent();
    const head = replyMail(header).replace(
      '\r\n\r\n',
      '\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=b\r\n\r\n--b\r\n\r\n',
    );
    const file = `--b\r\nContent-Type: application/octet-stream\r\nContent-Transfer-Encoding: base64\r\n\r\n`;
    dovecot.deliver(`${head}${file}${`${'QUFB'.repeat(19)}\r\n`.repeat(680_000)}--b--\r\n`);
    await connect();
    await until(async () => (await incoming(id)).length === 1);
    expect(await incoming(id)).toMatchObject([
      { kind: 'reply', words: 'Yes, number 1.', doubt: null, problem: expect.stringMatching(/larger than 50 MB/) },
    ]);
  });
});
