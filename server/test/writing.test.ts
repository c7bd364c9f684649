import { simpleParser } from 'mailparser';
import type {
  Draft,
  MessagePage,
  OutboxCopy,
  Preview,
  SignatureView,
  TemplateView,
  WritingDefaults,
} from '@kiraku/core/contract';
import { DAY, SECOND } from '@kiraku/core/time';
import { ScheduledMessages } from '@kiraku/server/messages/scheduledMessages';
import { OutboxService } from '@kiraku/server/delivery/outbox.service';
import { Desk, kinds, draftContent, MailServer, trackingUrlsOf, to, desk, mail, useDesk } from './harness.js';
import { until } from './until.js';

const MARIT = 'marit@lindqvist.example';
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==',
  'base64',
);

useDesk('all');
beforeEach(() => {
  mail.received.length = 0;
  mail.refusals.clear();
});

const put = (type: string, path: string, body: Buffer) =>
  fetch(desk.url + path, {
    method: 'POST',
    headers: { ...desk.headers, 'content-type': type },
    body: new Uint8Array(body),
  });
const draft = (content: object) => desk.json<Draft>('POST', '/api/drafts', draftContent(content));

async function sent(content: Parameters<Desk['send']>[0]) {
  const { id } = await desk.send(content);
  return desk.sent(id);
}

describe('disclosure', () => {
  test('tells of the tracking and leads to a page that declines at the press of a button, and not before', async () => {
    const detail = await sent({ disclose: true, recipients: [to('shy@x.example')] });
    const received = mail.to('shy@x.example');
    const [page] = /http[^"\s<>]+\/o\/[\w-]{22}/.exec(String(received.parsed.html))!;
    expect(received.parsed.text).toContain(page);
    expect(trackingUrlsOf(received).links).toHaveLength(1);
    expect(detail.links).toHaveLength(1);

    // A mail filter follows every link, and presses nothing.
    expect(await (await desk.visit(page)).text()).toContain('<form method="post">');
    desk.clock.advance(10 * SECOND);
    await desk.visit(trackingUrlsOf(received).image!);
    expect(kinds((await desk.detail(detail.summary.id)).events)).toEqual(['opened']);

    expect(await (await desk.visit(page, { method: 'POST' })).text()).toContain('You have opted out');
    desk.clock.advance(DAY);
    await desk.visit(trackingUrlsOf(received).image!);
    expect(kinds((await desk.detail(detail.summary.id)).events)).toEqual(['opted_out', 'opened']);

    const next = await sent({ disclose: true, recipients: [to('SHY@x.example'), to(MARIT)] });
    const shy = mail.received.filter((one) => one.to[0]!.toLowerCase() === 'shy@x.example').at(-1)!;
    expect(String(shy.parsed.html)).not.toMatch(/\/[ilo]\/[\w-]{22}/);
    expect(trackingUrlsOf(mail.to(MARIT)).image).toBeDefined();
    expect(next.copies.map((copy) => copy.doNotTrack)).toEqual([true, false]);
  });

  test('an unknown page is a plain 404, and only this page can be posted to', async () => {
    const publicSite = desk.config.publicUrl;
    expect((await desk.visit(`${publicSite}/o/${'A'.repeat(22)}`, { method: 'POST' })).status).toBe(404);
    expect((await desk.visit(`${publicSite}/i/${'A'.repeat(22)}.gif`, { method: 'POST' })).status).toBe(405);
  });
});

describe('receipts', () => {
  test('a read receipt is asked for in the header, a delivery receipt of the server that offers it', async () => {
    const { copies } = await sent({ requestMdn: true, requestDsn: true });
    expect(mail.to(MARIT).parsed.headers.get('disposition-notification-to')).toMatchObject({
      value: [{ address: 'ines@tallowreed.example' }],
    });
    expect(copies[0]!.dsnState).toBe('asked');
  });

  test('where none is offered, that is said', async () => {
    const plain = await MailServer.start({ hideDSN: true } as object);
    const other = await Desk.start(plain.port);
    const { id } = await other.send({ requestDsn: true });
    expect((await other.sent(id)).copies[0]!.dsnState).toBe('not-offered');
    await other.stop();
    await plain.stop();
  });
});

describe('pictures', () => {
  test('travel inside the mail, shown by their Content-ID, and are shown at the desk', async () => {
    const { url } = (await (await put('image/png', '/api/pictures', PNG)).json()) as { url: string };
    const { summary } = await sent({ html: `<p>Look: <img src="${url}" alt="A wall"></p>` });
    const received = mail.to(MARIT);
    expect(received.raw.toString()).toMatch(/Content-Type: multipart\/related/);
    const [picture] = received.parsed.attachments;
    expect(picture).toMatchObject({ contentType: 'image/png', cid: url.slice(4), related: true });
    expect(picture!.content.equals(PNG)).toBe(true);
    const shown = await (await desk.call('GET', `/api/messages/${summary.id}/body`)).text();
    expect(shown).toContain(`src="data:image/png;base64,${PNG.toString('base64')}"`);
  });

  test.each<[string, Buffer, number]>([
    ['a page', Buffer.from('<html><script>x()</script></html>'), 422],
    ['an SVG', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'), 422],
    ['nothing', Buffer.alloc(0), 422],
    ['one of six megabytes', Buffer.concat([PNG, Buffer.alloc(6_000_000)]), 413],
  ])('%s is refused', async (_name, bytes, status) => {
    expect((await put('image/png', '/api/pictures', bytes)).status).toBe(status);
  });
});

describe('mails in and out', () => {
  test('a draft goes out as .eml and comes in again the same, and so does a sent message, without tracking', async () => {
    const { url } = (await (await put('image/png', '/api/pictures', PNG)).json()) as { url: string };
    const recipients = [to(MARIT, 'Marit Oakes'), to('jun@lindqvist.example', '', 'cc')];
    const html = `<p>Grüße, <a href="https://tallowreed.example/?a=1&amp;b=2">the felt</a> <img src="${url}" alt="" /></p>`;
    const begun = await draft({ recipients, subject: 'Größe & „気楽“', html });
    const { id } = await desk.json<{ id: number }>('POST', `/api/drafts/${begun.id}/send`, { revision: 1 });
    await desk.sent(id);
    const [ownDevice, received] = [await desk.call('GET', `/api/messages/${id}/mail.eml`), mail.to(MARIT)];
    const own = Buffer.from(await ownDevice.arrayBuffer());
    expect(own.toString()).not.toMatch(/\/[il]\/[\w-]{22}/);
    expect((await simpleParser(own)).messageId).toBe(received.parsed.messageId);

    // The sender's own copy, and the instrumented one that a recipient gave back.
    for (const raw of [own, received.raw]) {
      const response = await put('message/rfc822', '/api/drafts/eml', raw);
      const { draft: opened, leftOut } = (await response.json()) as { draft: Draft; leftOut: string[] };
      expect(opened).toMatchObject({ recipients, subject: begun.subject });
      expect(opened.html).toContain('Grüße, <a href="https://tallowreed.example/?a=1&amp;b=2">the felt</a>');
      expect(opened.html).toContain(`src="${url}"`);
      expect(opened.html).not.toMatch(/\/[il]\/[\w-]{22}/);
      expect(leftOut).toEqual([]);
    }
  });

  test('who got a blind copy stands in what its sender keeps, and in nothing that leaves', async () => {
    const hidden = to('hidden@lindqvist.example', 'Hidden', 'bcc');
    const { id } = await desk.send({ recipients: [to(MARIT, 'Marit Oakes'), hidden] });
    await desk.sent(id);
    const own = await (await desk.call('GET', `/api/messages/${id}/mail.eml`)).text();
    expect(own).toMatch(/^Bcc: Hidden <hidden@lindqvist\.example>\r?$/m);
    for (const address of [MARIT, hidden.address])
      expect(mail.to(address).raw.toString()).not.toMatch(/^bcc|hidden@/im);
  });

  test('what a draft does not have stays unset, however often it is saved', async () => {
    const draft = await desk.json<Draft>('POST', '/api/drafts', draftContent());
    const unset = () =>
      desk.sqlite
        .prepare(
          'select typeof(plan), typeof(reminder), typeof(template_id), typeof(round_id) from message where id = ?',
        )
        .raw()
        .get(draft.id);
    expect(unset()).toEqual(['null', 'null', 'null', 'null']);
    const reminder = { when: 'in 2 days', zone: 'UTC', condition: 'not-replied', note: '', byEmail: false };
    const at = (revision: number, more: object) => ({ ...draftContent(), ...more, revision });
    await desk.json('PUT', `/api/drafts/${draft.id}`, at(draft.revision, { reminder }));
    expect(unset()).toEqual(['null', 'text', 'null', 'null']);
    await desk.json('PUT', `/api/drafts/${draft.id}`, at(draft.revision + 1, {}));
    expect(unset()).toEqual(['null', 'null', 'null', 'null']);
  });

  test('what cannot be part of a draft is named, and scripts are gone', async () => {
    const raw = [
      'From: a@b.example',
      'To: Marit <marit@lindqvist.example>, broken@',
      'Subject: =?utf-8?q?Two=0Alines?=',
      'Content-Type: multipart/mixed; boundary=b',
      '',
      '--b',
      'Content-Type: text/html',
      '',
      '<p onclick="x()">Hi<script>x()</script><img src="https://spy.example/x.gif"></p>',
      '--b',
      'Content-Type: application/pdf; name="offer.pdf"',
      'Content-Disposition: attachment; filename="offer.pdf"',
      '',
      'x',
      '--b--',
      '',
    ].join('\r\n');
    const response = await put('message/rfc822', '/api/drafts/eml', Buffer.from(raw));
    const { draft: opened, leftOut } = (await response.json()) as { draft: Draft; leftOut: string[] };
    expect(leftOut).toEqual(['offer.pdf']);
    expect(opened.recipients).toEqual([to(MARIT, 'Marit')]);
    expect(opened.subject).toBe('Two lines');
    expect(opened.html).toMatch(/^<p>Hi<\/p>/);
  });

  test.each<[string, Buffer]>([
    ['nothing', Buffer.alloc(0)],
    ['a picture', PNG],
  ])('%s is no mail', async (_name, bytes) => {
    expect((await put('message/rfc822', '/api/drafts/eml', bytes)).status).toBe(422);
  });

  test('a preview shows draftContent, text and source as they will leave, and records nothing', async () => {
    const { id } = await draft({ disclose: true });
    const preview = await desk.json<Preview>('GET', `/api/drafts/${id}/preview`);
    expect(preview.text).toContain('https://tallowreed.example/proposal?a=1&b=2');
    expect(preview.source).toMatch(/^From: .*ines@tallowreed\.example/m);
    expect(preview.source).toMatch(/multipart\/alternative/);
    expect(desk.sqlite.prepare('select count(*) from copy where message_id = ?').pluck().get(id)).toBe(0);
  });
});

describe('the conversation', () => {
  test('a reply follows the message it goes on from, and quotes it without its tracking', async () => {
    const first = await sent({ subject: 'Felt' });
    const begun = await desk.json<Draft>('POST', `/api/messages/${first.summary.id}/reply`);
    expect(begun.subject).toBe('Re: Felt');
    expect(begun.html).toContain('<blockquote>');
    expect(begun.html).not.toMatch(/\/[il]\/[\w-]{22}/);
    mail.received.length = 0;
    await desk.json('POST', `/api/drafts/${begun.id}/send`, { revision: begun.revision });
    await desk.sent(begun.id);
    const { inReplyTo, references } = mail.to(MARIT).parsed;
    expect(inReplyTo).toBe(first.copies[0]!.messageIdHeader);
    const again = await desk.json<Draft>('POST', `/api/messages/${begun.id}/reply`);
    expect(again.subject).toBe('Re: Felt');
    expect(again.conversation).toHaveLength(2);
    expect(references).toContain(inReplyTo);
  });

  test('of a message to several goes on with one of them alone, or with all who know of each other', async () => {
    const { summary, copies } = await sent({
      recipients: [to(MARIT, 'Marit Oakes'), to('jun@lindqvist.example', '', 'cc'), to('otto@x.example', '', 'bcc')],
    });
    const reply = (body: object) => desk.json<Draft>('POST', `/api/messages/${summary.id}/reply`, body);
    expect((await reply({ copyId: null })).recipients.map(({ address }) => address)).toEqual([
      MARIT,
      'jun@lindqvist.example',
    ]);
    const [, jun] = copies;
    expect(await reply({ copyId: jun!.id })).toMatchObject({
      recipients: [{ kind: 'to', address: 'jun@lindqvist.example' }],
      conversation: [jun!.messageIdHeader],
    });
    const stranger = await sent({ recipients: [to(MARIT)] });
    const path = `/api/messages/${summary.id}/reply`;
    expect((await desk.call('POST', path, { copyId: stranger.copies[0]!.id })).status).toBe(404);
  });
});

describe('the outbox', () => {
  const outbox = () => desk.json<OutboxCopy[]>('GET', '/api/outbox');

  test('a failed copy is mended and sent again, under its own tokens, without disturbing the others', async () => {
    mail.refusals.set('mari@lindqvist.example', { responseCode: 550, message: '5.1.1 No such mailbox' });
    const detail = await sent({
      recipients: [to('mari@lindqvist.example', 'Marit Oakes'), to('jun@lindqvist.example')],
    });
    const [failed] = (await outbox()).filter((one) => one.messageId === detail.summary.id);
    expect(failed).toMatchObject({ state: 'failed', lastError: expect.stringContaining('5.1.1') });
    const retry = (body: object) => desk.call('POST', `/api/outbox/${failed!.copyId}/retry`, body);
    expect((await retry({ address: 'no address' })).status).toBe(422);
    expect((await retry({ address: MARIT })).status).toBe(202);
    const fixed = await desk.until(detail.summary.id, ({ copies }) => copies.every((copy) => copy.state === 'sent'));
    expect(mail.received.map((one) => one.to[0])).toEqual(['jun@lindqvist.example', MARIT]);
    expect(mail.to(MARIT).parsed.messageId).toBe(fixed.copies[0]!.messageIdHeader);
    expect(String((mail.to(MARIT).parsed.to as { text: string }).text)).toContain(MARIT);
    desk.clock.advance(10 * SECOND);
    await desk.visit(trackingUrlsOf(mail.to(MARIT)).links[0]!);
    expect((await desk.detail(detail.summary.id)).copies[0]!.tally.clicks).toBe(1);
    expect((await retry({})).status).toBe(409);
  });

  test('what is refused for now waits in sight, and goes at a press, or is given up after the time that was set', async () => {
    mail.refusals.set('busy@x.example', { responseCode: 451, message: '4.3.0 Later' });
    const { id } = await desk.send({ recipients: [to('busy@x.example')] });
    await desk.until(id, ({ summary }) => summary.lastError !== null);
    const waiting = (await outbox()).find((one) => one.messageId === id)!;
    expect(waiting).toMatchObject({ state: 'queued', attempts: 1, lastError: expect.stringContaining('4.3.0 Later') });
    mail.refusals.clear();
    await desk.call('POST', `/api/outbox/${waiting.copyId}/retry`, {});
    await desk.sent(id);

    await desk.json('PUT', '/api/settings/sending', { undoSendSeconds: 0, giveUpHours: 1 });
    mail.refusals.set('busy@x.example', { responseCode: 451, message: '4.3.0 Later' });
    const second = await desk.send({ recipients: [to('busy@x.example')] });
    await desk.until(second.id, ({ summary }) => summary.lastError !== null);
    desk.clock.advance(2 * 3_600_000);
    desk.get(OutboxService).wake();
    expect((await desk.sent(second.id)).summary.state).toBe('failed');
  });
});

describe('what repeats', () => {
  test('has its next one written down when it leaves, with every setting, and ends', async () => {
    const begun = await draft({ trackOpens: false, note: 'mine' });
    const at = desk.clock.now() + DAY;
    const recurrence = { rule: 'FREQ=DAILY;COUNT=2', zone: 'Europe/Helsinki' };
    await desk.json('POST', `/api/drafts/${begun.id}/send`, { revision: 1, at, recurrence });
    const scheduled = async () =>
      (await desk.json<MessagePage>('GET', '/api/messages?limit=20')).messages.filter(
        (one) => one.state === 'scheduled',
      );
    for (const left of [1, 0]) {
      desk.clock.advance(DAY + SECOND);
      void desk.get(ScheduledMessages).leaveDue();
      await until(async () => (await scheduled()).length === left && mail.received.length >= 2 - left);
    }
    expect(mail.received.map((one) => trackingUrlsOf(one).image)).toEqual([undefined, undefined]);
    expect(mail.received.every((one) => !one.raw.includes('mine'))).toBe(true);
  });

  test('a bad rule that is stored is not run: the message leaves once, and says why it does not repeat', async () => {
    const begun = await draft({});
    const recurrence = { rule: 'FREQ=DAILY', zone: 'UTC' };
    await desk.json('POST', `/api/drafts/${begun.id}/send`, { revision: 1, at: desk.clock.now() + DAY, recurrence });
    const bad = { rule: 'FREQ=DAILY;INTERVAL=-1', zone: 'UTC' };
    desk.sqlite.prepare('update message set recurrence = ? where id = ?').run(JSON.stringify(bad), begun.id);
    await desk.close();
    await desk.open();
    desk.clock.advance(DAY + SECOND);
    void desk.get(ScheduledMessages).leaveDue();
    await desk.until(begun.id, ({ summary }) => summary.state === 'sent');
    expect(await desk.detail(begun.id)).toMatchObject({
      recurrenceProblem: 'INTERVAL=-1 cannot be used in a rule for repeating.',
    });
    const { messages } = await desk.json<MessagePage>('GET', '/api/messages?limit=20');
    expect(messages.filter(({ state }) => state === 'scheduled')).toEqual([]);
  });

  test.each([
    'FREQ=SECONDLY',
    'nonsense',
    'FREQ=DAILY\nDTSTART:20260101',
    '',
    'FREQ=DAILY;INTERVAL=-1',
    'FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=31',
    'FREQ=DAILY;COUNT=1',
    'FREQ=DAILY;UNTIL=20200101T000000Z',
  ])('“%s” is no rule', async (rule) => {
    const begun = await draft({});
    const body = { revision: 1, at: desk.clock.now() + DAY, recurrence: { rule, zone: 'Europe/Helsinki' } };
    expect((await desk.call('POST', `/api/drafts/${begun.id}/send`, body)).status).toBe(422);
  });
});

describe('templates, signatures and defaults', () => {
  test('a template is kept, changed, deleted and restored; the message remembers which it came from', async () => {
    const body = {
      name: 'First email',
      subject: 'Felt for {{company|you}}',
      html: '<p>Dear {{first name}}</p><script>x</script>',
    };
    const made = await desk.json<TemplateView>('POST', '/api/templates', body);
    expect(made.html).toBe('<p>Dear {{first name}}</p>');
    await desk.json('PUT', `/api/templates/${made.id}`, { ...body, name: 'First words' });
    const putInto = async (folder: unknown, id = made.id) =>
      (await desk.call('PUT', `/api/templates/${id}/folder`, { folder })).status;
    expect(await putInto(' First contact ')).toBe(204);
    expect(await desk.json('GET', '/api/templates')).toMatchObject([{ folder: 'First contact', files: [] }]);
    expect([await putInto('x'.repeat(61)), await putInto(7), await putInto('', 9999)]).toEqual([422, 422, 404]);
    expect(await putInto('')).toBe(204);
    const { summary } = await sent({ templateId: made.id });
    await desk.call('DELETE', `/api/templates/${made.id}`);
    expect(await desk.json('GET', '/api/templates')).toEqual([]);
    expect((await desk.detail(summary.id)).template).toBe('First words');
    await desk.call('POST', `/api/templates/${made.id}/restore`);
    expect(await desk.json('GET', '/api/templates')).toMatchObject([{ name: 'First words' }]);
    expect((await desk.call('POST', '/api/drafts', draftContent({ templateId: 9999 }))).status).toBe(422);
  });

  test('signatures and defaults are kept', async () => {
    const made = await desk.json<SignatureView>('POST', '/api/signatures', { name: 'Short', html: '<p>Ines</p>' });
    const defaults = await desk.json<WritingDefaults>('GET', '/api/settings/writing');
    const changed = { ...defaults, trackOpens: false, signatureId: made.id };
    expect(await desk.json('PUT', '/api/settings/writing', changed)).toEqual(changed);
    expect((await desk.call('PUT', '/api/settings/writing', { ...changed, disclosure: '' })).status).toBe(422);
  });

  test('a note stays at home', async () => {
    const { summary } = await sent({ note: 'ask about the budget' });
    await desk.call('PUT', `/api/messages/${summary.id}/note`, { note: 'asked' });
    expect((await desk.detail(summary.id)).note).toBe('asked');
    expect(mail.received.every((one) => !/budget|asked/.test(one.raw.toString()))).toBe(true);
  });
});

test('a signature by DKIM covers what leaves, and its key is never given out', async () => {
  const { dkim } = await desk.json<{ dkim: { record: string } }>('PUT', '/api/settings/dkim', {
    domain: 'tallowreed.example',
    selector: 'kiraku',
  });
  expect(dkim.record).toMatch(/^v=DKIM1; k=rsa; p=MII/);
  await sent({});
  expect(mail.to(MARIT).raw.toString()).toMatch(
    /^DKIM-Signature: v=1; a=rsa-sha256; [^]*d=tallowreed\.example;[^]*s=kiraku;/m,
  );
  desk.sqlite.pragma('wal_checkpoint(TRUNCATE)');
  expect(JSON.stringify(desk.sqlite.prepare('select * from setting').all())).not.toContain('PRIVATE KEY');
  expect((await desk.call('DELETE', '/api/settings/dkim')).status).toBe(204);
});
