import { MINUTE } from '@kiraku/core/time';
import type { DraftsPage } from '@kiraku/core/contract';
import { OutboxService } from '@kiraku/server/delivery/outbox.service';
import { ehloName } from '@kiraku/server/settings/ehloName';
import { ACCOUNT, Desk, kinds, draftContent, MailServer, trackingUrlsOf, to } from './harness.js';

let mail: MailServer;
let desk: Desk;

async function start() {
  mail = await MailServer.start();
  desk = await Desk.start(mail.port);
}
async function stop() {
  await desk.stop();
  await mail.stop();
}

describe('sending', () => {
  beforeEach(start);
  afterEach(stop);

  test('everybody gets a copy of their own: same headers, own tokens, own Message-ID, one in the envelope', async () => {
    const recipients = [
      to('marit@lindqvist.example', 'Marit Oakes'),
      to('jun@lindqvist.example', 'Jun Falk', 'cc'),
      to('hidden@lindqvist.example', '', 'bcc'),
    ];
    const { id } = await desk.send({ recipients });
    const detail = await desk.sent(id);
    expect(detail.copies.map((copy) => copy.state)).toEqual(['sent', 'sent', 'sent']);

    const mails = recipients.map(({ address }) => mail.to(address));
    for (const { parsed, from, to: envelope, raw } of mails) {
      expect(from).toBe('ines@tallowreed.example');
      expect(envelope).toHaveLength(1);
      expect(parsed.to).toMatchObject({ text: '"Marit Oakes" <marit@lindqvist.example>' });
      expect(parsed.cc).toMatchObject({ text: '"Jun Falk" <jun@lindqvist.example>' });
      expect(raw.toString()).not.toMatch(/^bcc:|hidden@/im);
    }
    expect(new Set(mails.map(({ parsed }) => parsed.messageId)).size).toBe(3);
    expect(new Set(mails.map((one) => trackingUrlsOf(one).image)).size).toBe(3);
    expect(new Set(mails.flatMap((one) => trackingUrlsOf(one).links)).size).toBe(3);
    expect(detail.copies.map((copy) => copy.messageIdHeader).sort()).toEqual(
      mails.map(({ parsed }) => parsed.messageId).sort(),
    );
  });

  test('the message is readable as plain text, with the true address; the kept message carries no tracking', async () => {
    const { id } = await desk.send({});
    await desk.sent(id);
    const { parsed } = mail.to('marit@lindqvist.example');
    expect(parsed.text).toContain('the proposal <https://tallowreed.example/proposal?a=1&b=2>');
    expect(parsed.text).not.toContain(desk.config.publicUrl);
    const shown = await (await desk.call('GET', `/api/messages/${id}/body`)).text();
    expect(shown).toContain('href="https://tallowreed.example/proposal?a=1&amp;b=2"');
    expect(shown).not.toContain(desk.config.publicUrl);
  });

  test.each([
    [{ trackOpens: false, trackClicks: true }, 0, 1],
    [{ trackOpens: true, trackClicks: false }, 1, 0],
    [{ trackOpens: false, trackClicks: false }, 0, 0],
  ])('tracks only what is asked: %j', async (wanted, images, links) => {
    const { id } = await desk.send(wanted);
    await desk.sent(id);
    const trackingUrls = trackingUrlsOf(mail.to('marit@lindqvist.example'));
    expect(trackingUrls.image ? 1 : 0).toBe(images);
    expect(trackingUrls.links).toHaveLength(links);
  });

  test('a link that is to be left alone leads straight to its target, and nothing of that choice leaves', async () => {
    const html =
      '<p><a href="https://a.example/x" data-track="no">alone</a> <a href="https://b.example/y">tracked</a> ' +
      'words like data-track="no" stay</p>';
    const { id } = await desk.send({ html });
    const { links } = await desk.sent(id);
    expect(links).toMatchObject([
      { text: 'alone', tracked: false },
      { text: 'tracked', tracked: true },
    ]);
    const received = mail.to('marit@lindqvist.example');
    const sent = String(received.parsed.html);
    expect(sent).toContain('<a href="https://a.example/x">alone</a>');
    expect(trackingUrlsOf(received).links).toHaveLength(1);
    expect(sent.match(/data-track/g)).toHaveLength(1);
    desk.clock.advance(10_000);
    await desk.visit(trackingUrlsOf(received).links[0]!);
    expect((await desk.detail(id)).links.map((link) => link.clicks)).toEqual([0, 1]);
  });

  test('a refusal for good is a failure in the server’s words, and leaves the other copies alone', async () => {
    mail.refusals.set('jonas@ek.example', { responseCode: 550, message: '5.1.1 No such mailbox' });
    const { id } = await desk.send({ recipients: [to('jonas@ek.example'), to('marit@lindqvist.example')] });
    const detail = await desk.sent(id);
    expect(detail.summary).toMatchObject({
      state: 'sent',
      lastError: expect.stringContaining('jonas@ek.example: 550 5.1.1 No such mailbox'),
    });
    expect(detail.copies.map((copy) => copy.state)).toEqual(['failed', 'sent']);
    expect(kinds(detail.events)).toEqual(['bounced']);
  });

  test('a message that nobody got has failed', async () => {
    mail.refusals.set('jonas@ek.example', { responseCode: 554, message: 'no' });
    const { id } = await desk.send({ recipients: [to('jonas@ek.example')] });
    expect((await desk.sent(id)).summary.state).toBe('failed');
  });

  test('a refusal for now is tried again later', async () => {
    mail.refusals.set('marit@lindqvist.example', { responseCode: 451, message: '4.2.2 Mailbox busy' });
    const { id } = await desk.send({});
    const waiting = await desk.until(id, (detail) => detail.summary.lastError !== null);
    expect(waiting.summary).toMatchObject({ state: 'queued', lastError: expect.stringContaining('Mailbox busy') });
    expect(waiting.copies[0]!.nextAttemptAt).toBeGreaterThan(desk.clock.now());

    desk.get(OutboxService).wake();
    expect(mail.received).toHaveLength(0);
    mail.refusals.clear();
    desk.clock.advance(2 * MINUTE);
    desk.get(OutboxService).wake();
    expect((await desk.sent(id)).summary).toMatchObject({ state: 'sent', lastError: null });
    expect(mail.received).toHaveLength(1);
  });

  test('what is in the outbox survives a restart, and leaves byte for byte as it was written', async () => {
    mail.refusals.set('marit@lindqvist.example', { responseCode: 421, message: 'closing' });
    const { id } = await desk.send({});
    const before = await desk.until(id, (detail) => detail.summary.lastError !== null);
    const raw = desk.sqlite.prepare('select raw from outbox').pluck().get() as Buffer;
    await desk.close();

    mail.refusals.clear();
    desk.clock.advance(2 * MINUTE);
    await desk.open();
    expect((await desk.sent(id)).summary.state).toBe('sent');
    expect(mail.received[0]!.parsed.messageId).toBe(before.copies[0]!.messageIdHeader);
    expect(mail.received[0]!.raw.toString()).toBe(raw.toString());
  });

  test('a server that is not there is tried again, not given up', async () => {
    const nowhere = await Desk.start(9);
    const { id } = await nowhere.send({});
    const detail = await nowhere.until(id, (one) => one.summary.lastError !== null);
    expect(detail.summary).toMatchObject({ state: 'queued', lastError: expect.stringMatching(/ECONNREFUSED/) });
    await nowhere.stop();
  });

  test('pressing Send twice sends once', async () => {
    const draft = await desk.json<{ id: number; revision: number }>('POST', '/api/drafts', draftContent());
    const press = () => desk.call('POST', `/api/drafts/${draft.id}/send`, { revision: draft.revision });
    const statuses = (await Promise.all([press(), press()])).map((response) => response.status);
    await desk.sent(draft.id);
    expect(statuses.sort()).toEqual([202, 409]);
    expect(mail.received).toHaveLength(1);
  });

  test('new addresses become people, and are suggested most written-to first', async () => {
    const first = await desk.send({});
    const second = await desk.send({ recipients: [to('MARIT@lindqvist.example'), to('marc@x.example', 'Marc')] });
    await Promise.all([first, second].map(({ id }) => desk.sent(id)));
    const people = await desk.json<object[]>('GET', '/api/people?words=mar');
    expect(people).toMatchObject([
      { name: 'Marit Oakes', address: 'marit@lindqvist.example', messages: 2 },
      { name: 'Marc', messages: 1 },
    ]);
    expect(await desk.json('GET', '/api/people?words=%25')).toEqual([]);
  });
});

describe('bad input', () => {
  beforeAll(start);
  afterAll(stop);

  test.each([
    ['nobody to send to', { recipients: [] }, 422],
    ['nothing to say', { subject: ' ', html: '<p><br></p>' }, 422],
  ])('%s', async (_name, content, status) => {
    const draft = await desk.json<{ id: number }>('POST', '/api/drafts', draftContent(content));
    const response = await desk.call('POST', `/api/drafts/${draft.id}/send`, { revision: 1 });
    expect(response.status).toBe(status);
    expect(response.headers.get('content-type')).toContain('application/problem+json');
  });

  test.each<[string, object, string]>([
    ['a header in the subject', draftContent({ subject: 'Hello\r\nBcc: all@x.example' }), 'subject'],
    ['a subject that turns around', draftContent({ subject: 'invoice \u202efdp.exe' }), 'subject'],
    ['a header in a name', draftContent({ recipients: [to('a@x.example', 'A\nBcc: b')] }), 'recipients.0.name'],
    ['an address that is none', draftContent({ recipients: [to('a@x.example, b@x.example')] }), 'recipients.0.address'],
    [
      'too many recipients',
      draftContent({ recipients: Array.from({ length: 2000 }, (_, i) => to(`a${i}@x.example`)) }),
      'recipients',
    ],
    ['a field we do not know', { ...draftContent(), state: 'sent' }, 'state'],
    ['a letter without end', draftContent({ html: 'x'.repeat(2_000_001) }), 'html'],
  ])('%s is refused, with the field that is wrong', async (_name, body, field) => {
    const before = await desk.json('GET', '/api/drafts');
    const response = await desk.call('POST', '/api/drafts', body);
    expect(response.status).toBe(422);
    const problem = (await response.json()) as { detail: string; errors: { field: string }[] };
    expect(problem.errors.map((error) => error.field)).toContain(field);
    expect(await desk.json('GET', '/api/drafts')).toEqual(before);
  });

  test('a body over the limit is refused before it is read', async () => {
    const response = await desk.call('POST', '/api/drafts', draftContent({ html: 'x'.repeat(9_000_000) }));
    expect(response.status).toBe(413);
    expect(await response.json()).toMatchObject({ title: 'Too large' });
  });

  test('scripts and handlers do not get into a message', async () => {
    const html =
      '<p onclick="x()">Hi<script>alert(1)</script><a href="javascript:x()">a</a><iframe src="https://x.example"></iframe>' +
      '<img src="https://x.example/spy.gif" onerror="x()"><svg><script>x()</script></svg></p>';
    const { id } = await desk.send({ html });
    const shown = await (await desk.call('GET', `/api/messages/${id}/body`)).text();
    expect(shown).toContain('Hi');
    expect(shown).not.toMatch(/script|onclick|onerror|iframe|spy|svg/);
  });
});

describe('drafts', () => {
  beforeEach(start);
  afterEach(stop);

  test('two windows do not overwrite each other unawares', async () => {
    const draft = await desk.json<{ id: number; revision: number }>('POST', '/api/drafts', draftContent());
    const save = (subject: string) =>
      desk.call('PUT', `/api/drafts/${draft.id}`, { ...draftContent({ subject }), revision: 1 });
    expect((await save('mine')).status).toBe(200);
    const second = await save('theirs');
    expect(second.status).toBe(409);
    expect(await second.json()).toMatchObject({ detail: expect.stringContaining('another window') });
    expect(await desk.json('GET', `/api/drafts/${draft.id}`)).toMatchObject({ subject: 'mine', revision: 2 });
  });

  test('are listed, kept over a restart, and deleted', async () => {
    const draft = await desk.json<{ id: number }>(
      'POST',
      '/api/drafts',
      draftContent({ recipients: [to('a@x.example'), to('A@x.example', '', 'cc')] }),
    );
    await desk.close();
    await desk.open();
    const { drafts } = await desk.json<DraftsPage>('GET', '/api/drafts');
    expect(drafts).toMatchObject([{ id: draft.id, recipients: [to('a@x.example')] }]);
    expect((await desk.call('DELETE', `/api/drafts/${draft.id}`)).status).toBe(204);
    expect((await desk.call('GET', `/api/drafts/${draft.id}`)).status).toBe(404);
    expect((await desk.call('DELETE', `/api/drafts/${draft.id}`)).status).toBe(404);
  });

  test('come a page at a time, last written first, and without what is written in them', async () => {
    const subjects = ['one', 'two', 'three', 'four', 'five'];
    for (const subject of subjects) await desk.call('POST', '/api/drafts', draftContent({ subject }));
    const pages: DraftsPage[] = [];
    for (let cursor: string | null = ''; cursor !== null; cursor = pages.at(-1)!.nextCursor)
      pages.push(await desk.json('GET', `/api/drafts?limit=2${cursor && `&cursor=${cursor}`}`));
    const rows = pages.flatMap(({ drafts }) => drafts);
    expect(rows.map(({ subject }) => subject)).toEqual(subjects.reverse());
    expect(pages.map(({ total }) => total)).toEqual([5, 5, 5]);
    expect(Object.keys(rows[0]!).sort()).toEqual(['id', 'recipients', 'subject', 'updatedAt']);
    for (const { id } of rows) await desk.call('DELETE', `/api/drafts/${id}`);
  });
});

describe('the name by which mail servers are greeted', () => {
  test.each([
    ['http://127.0.0.1:4610', 'ines@tallowreed.example', 'tallowreed.example'],
    ['http://[::1]:4610', 'ines@tallowreed.example', 'tallowreed.example'],
    ['https://letters.tallowreed.example', 'ines@elsewhere.example', 'letters.tallowreed.example'],
    ['http://localhost:4610', 'ines@grüße.example', 'xn--gre-6ka8l.example'],
  ])('at %s of %s is %s', (publicUrl, address, name) => {
    expect(ehloName(publicUrl, address)).toBe(name);
  });

  test('is never the machine’s own', async () => {
    const names: string[] = [];
    const server = await MailServer.start({
      onMailFrom: (_address, session, callback) => {
        names.push(session.hostNameAppearsAs);
        callback();
      },
    });
    const other = await Desk.start(server.port);
    await other.sent((await other.send({})).id);
    await other.call('POST', '/api/settings/account/try', { ...ACCOUNT, smtpPort: server.port });
    expect(new Set(names)).toEqual(new Set(['tallowreed.example']));
    await other.stop();
    await server.stop();
  });
});

test('what is deferred is tried again after ever longer times, and given up in the end', async () => {
  const server = await MailServer.start();
  const own = await Desk.start(server.port);
  own.clock.stop();
  server.refusals.set('busy@x.example', { responseCode: 451, message: '4.2.2 Mailbox busy' });
  const { id } = await own.send({ recipients: [to('busy@x.example')] });
  const row = () =>
    own.sqlite.prepare('select attempts, next_attempt_at as at from outbox').get() as
      { attempts: number; at: number } | undefined;
  const waits: number[] = [];
  for (let attempt = 1; attempt <= 7; attempt += 1) {
    for (let n = 0; n < 500 && row()!.attempts < attempt; n += 1)
      await new Promise((resolve) => setTimeout(resolve, 20));
    waits.push((row()!.at - own.clock.now()) / MINUTE);
    own.clock.advance(row()!.at - own.clock.now());
    own.get(OutboxService).wake();
  }
  expect(waits).toEqual([1, 5, 15, 30, 60, 180, 180]);
  own.clock.advance(72 * 60 * MINUTE);
  own.get(OutboxService).wake();
  const { copies } = await own.until(id, ({ summary }) => summary.state === 'failed');
  expect(copies[0]!.lastError).toContain('Mailbox busy');
  expect(row()).toBeUndefined();
  await own.stop();
  await server.stop();
});
