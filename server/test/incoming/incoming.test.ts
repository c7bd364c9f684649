import type {
  Draft,
  FollowupsView,
  IncomingView,
  MailboxView,
  MessageDetail,
  RefusedMail,
} from '@kiraku/core/contract';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';
import { Following } from '@kiraku/server/following/following';
import { MailboxSettings } from '@kiraku/server/incoming/mailbox.settings';
import { MailReader } from '@kiraku/server/messages/mailReader';
import { RefusedService } from '@kiraku/server/refused/refused.service';
import { deliverTo } from './deliver.js';
import { ACCOUNT, kinds, trackingUrlsOf, to, desk, mail, useDesk } from '../harness.js';

const MARIT = 'marit@lindqvist.example';
const OTIS = 'otis@lindqvist.example';

useDesk('each');
beforeEach(() => {
  desk.clock.stop();
  const mailbox = desk.get(MailboxSettings);
  mailbox.save({ ...mailbox.view(), way: 'lmtp' });
});

const bring = (raw: string, from = MARIT, rcpt = ACCOUNT.address) => deliverTo(desk, raw, from, rcpt);

async function sent(change = {}): Promise<{ id: number; header: string }> {
  const { id } = await desk.send({ recipients: [to(MARIT, 'Marit Oakes')], ...change });
  const detail = await desk.sent(id);
  desk.clock.advance(HOUR);
  return { id, header: detail.copies[0]!.messageIdHeader };
}

interface ReplyParts {
  follows?: string;
  from?: string;
  subject?: string;
  more?: string;
  body?: string;
  id?: string;
}

const replyMail = ({
  follows,
  from = `Marit Oakes <${MARIT}>`,
  subject = 'Re: Panels for the reading room',
  more = '',
  body,
  id = '<a1@lindqvist.example>',
}: ReplyParts) =>
  `From: ${from}
To: ines@tallowreed.example
Subject: ${subject}
Date: Mon, 2 Nov 2026 10:00:00 +0000
Message-ID: ${id}
${follows ? `In-Reply-To: ${follows}\nReferences: ${follows}\n` : ''}${more}MIME-Version: 1.0
Content-Type: text/html; charset=utf-8

${body ?? '<p>Thank you, it looks <b>fine</b>. Call me on Thursday.</p>'}
`;

const incoming = (id: number) => desk.json<IncomingView[]>('GET', `/api/messages/${id}/incoming`);
const bodyOf = async (one: IncomingView) => (await desk.call('GET', `/api/incoming/${one.id}/body`)).text();

test('a reply that names the copy is counted, kept, and read as it was written', async () => {
  const { id, header } = await sent();
  expect(await bring(replyMail({ follows: header }))).toMatch(/^250/);
  const detail = await desk.detail(id);
  expect(kinds(detail.events)).toEqual(['replied']);
  expect(detail.summary.tally).toMatchObject({
    replies: 1,
    repliedAt: desk.clock.now(),
    lastReplyAt: desk.clock.now(),
  });
  const [one] = await incoming(id);
  expect(one).toMatchObject({
    kind: 'reply',
    copyId: detail.copies[0]!.id,
    doubt: null,
    from: { name: 'Marit Oakes', address: MARIT },
    words: 'Thank you, it looks fine. Call me on Thursday.',
  });
  expect(await bodyOf(one!)).toContain('<b>fine</b>');
});

test('what one writes then replies to the reply', async () => {
  const { id, header } = await sent();
  await bring(replyMail({ follows: header, id: '<a1@lindqvist.example>' }));
  await bring(replyMail({ follows: header, id: '<away@lindqvist.example>', more: 'Auto-Submitted: auto-replied\n' }));
  const draft = await desk.json<Draft>('POST', `/api/messages/${id}/reply`);
  expect(draft.conversation).toEqual([header, '<a1@lindqvist.example>']);
  const next = await desk.json<{ id: number }>('POST', `/api/drafts/${draft.id}/send`, { revision: draft.revision });
  await desk.sent(next.id);
  const left = mail.received.at(-1)!.parsed;
  expect(left).toMatchObject({ inReplyTo: '<a1@lindqvist.example>', references: draft.conversation });
  const conversation = await desk.json<{ id: number }[]>('GET', `/api/messages/${id}/conversation`);
  expect(conversation.map((one) => one.id)).toEqual([id, next.id]);
});

test('the same mail that comes twice, or by two ways, is one', async () => {
  const { id, header } = await sent();
  await bring(replyMail({ follows: header }));
  await Promise.all([bring(replyMail({ follows: header })), bring(replyMail({ follows: header }))]);
  expect(await incoming(id)).toHaveLength(1);
  expect((await desk.detail(id)).summary.tally.replies).toBe(1);
});

test('of a message to several the copy that it replies to is found', async () => {
  const { id, header } = await sent({ recipients: [to(MARIT, 'Marit Oakes'), to(OTIS, 'Otis Brandt', 'cc')] });
  const copies = (await desk.detail(id)).copies;
  expect(copies[0]!.messageIdHeader).toBe(header);
  await bring(replyMail({ follows: copies[1]!.messageIdHeader, from: OTIS }), OTIS);
  const after = await desk.detail(id);
  expect(after.copies.map(({ tally }) => tally.replies)).toEqual([0, 1]);
});

test('one that names nothing is matched by sender and subject, with doubt; others are not kept', async () => {
  const { id } = await sent();
  await bring(replyMail({ subject: 'AW: Re: panels  for the reading room', id: '<b@x.example>' }));
  expect(await incoming(id)).toMatchObject([{ doubt: expect.stringMatching(/suggest this one/) }]);
  await bring(replyMail({ subject: 'Lunch?', id: '<c@x.example>' }));
  await bring(replyMail({ from: 'eve@elsewhere.example', id: '<d@x.example>' }), 'eve@elsewhere.example');
  await bring(replyMail({ from: ACCOUNT.address, id: '<e@x.example>' }), ACCOUNT.address);
  expect(desk.sqlite.prepare('select count(*) n from incoming').get()).toEqual({ n: 1 });
});

test.each([
  ['Auto-Submitted: auto-replied\n', 'Re: Panels for the reading room'],
  ['X-Autoreply: yes\n', 'Re: Panels for the reading room'],
  ['', 'Automatic reply: Panels for the reading room'],
  ['', 'Abwesenheitsnotiz: Panels for the reading room'],
])('a machine’s answer is shown, and does not count: %s%s', async (more, subject) => {
  const { id, header } = await sent();
  await bring(replyMail({ follows: header, more, subject }));
  const detail = await desk.detail(id);
  expect(kinds(detail.events)).toEqual(['replied (automatic-reply)']);
  expect(detail.summary.tally).toMatchObject({ replies: 0, notCounted: 1 });
  expect(await incoming(id)).toMatchObject([{ kind: 'automatic' }]);
});

test('reading a reply counts as no open at the message that it quotes, and runs nothing', async () => {
  const { id, header } = await sent();
  const { image, links } = trackingUrlsOf(mail.to(MARIT));
  const body = `<p onclick="x()">Yes.</p><script>alert(1)</script><blockquote><img src="${image}"><a href="${links[0]}">the proposal</a><img src="https://elsewhere.example/p.gif"></blockquote>`;
  await bring(replyMail({ follows: header, body }));
  const shown = await bodyOf((await incoming(id))[0]!);
  expect(shown).not.toMatch(/<img|script>|onclick|\/l\/|\/i\//);
  expect(shown).toContain('https://tallowreed.example/proposal?a=1&amp;b=2');
  const response = await desk.call('GET', `/api/incoming/${(await incoming(id))[0]!.id}/letter`);
  expect(response.headers.get('content-security-policy')).toContain("default-src 'none'");
});

const report = (
  header: string,
  action: string,
  status: string,
  diagnostic: string,
  recipient = MARIT,
) => `From: MAILER-DAEMON@mail.tallowreed.example
To: ines@tallowreed.example
Subject: Report
Message-ID: <r-${action}-${status}@mail.tallowreed.example>
MIME-Version: 1.0
Content-Type: multipart/report; report-type=delivery-status; boundary=b

--b
Content-Type: text/plain

Words.

--b
Content-Type: message/delivery-status

Reporting-MTA: dns; mail.tallowreed.example

Final-Recipient: rfc822; ${recipient}
Action: ${action}
Status: ${status}
Diagnostic-Code: smtp; ${diagnostic}

--b
Content-Type: text/rfc822-headers

Message-ID: ${header}

--b--
`;

test('word of the delivery stands with the copy; what comes late does not take back what is known', async () => {
  const { id, header } = await sent({ requestDsn: true });
  const state = async () => (await desk.detail(id)).copies[0]!.dsnState;
  expect(await state()).toBe('asked');
  await bring(report(header, 'delayed', '4.4.1', 'timed out'), '');
  expect(await state()).toBe('delayed');
  await bring(report(header, 'delivered', '2.0.0', 'ok'), '');
  await bring(report(header, 'delayed', '4.4.2', 'timed out'), '');
  expect(await state()).toBe('delivered');
  expect(kinds((await desk.detail(id)).events)).toEqual(['delivered']);
});

test('what is sent back has failed, in a sentence, and can be mended and sent again', async () => {
  const { id, header } = await sent();
  await bring(report(header, 'failed', '5.1.1', '550 5.1.1 No such user'), '');
  const failed = await desk.detail(id);
  expect(failed.summary).toMatchObject({
    state: 'failed',
    lastError: expect.stringMatching(/There is no such address/),
  });
  expect(kinds(failed.events)).toEqual(['bounced']);
  await desk.call('POST', `/api/outbox/${failed.copies[0]!.id}/retry`, { address: 'marit.oakes@lindqvist.example' });
  const fixed = await desk.until(id, ({ summary }) => summary.state === 'sent');
  expect(fixed.copies[0]).toMatchObject({
    state: 'sent',
    recipient: { address: 'marit.oakes@lindqvist.example' },
    lastError: null,
  });
  expect(mail.to('marit.oakes@lindqvist.example').parsed.messageId).toBe(header);
});

test('a receipt says what became of it; forged reports change nothing', async () => {
  const { id, header } = await sent({ requestMdn: true });
  const mdnState = async () => (await desk.detail(id)).copies[0]!.mdnState;
  const receipt = (about: string, from: string, n: string) => `From: ${from}
To: ines@tallowreed.example
Subject: Read
Message-ID: <${n}@x.example>
MIME-Version: 1.0
Content-Type: multipart/report; report-type=disposition-notification; boundary=b

--b
Content-Type: message/disposition-notification

Final-Recipient: rfc822;${from}
Original-Message-ID: ${about}
Disposition: manual-action/MDN-sent-manually; denied

--b--
`;
  expect(await mdnState()).toBe('asked');
  await bring(receipt('<guessed@tallowreed.example>', MARIT, '1'));
  await bring(receipt(header, 'eve@elsewhere.example', '2'));
  await bring(report('<guessed@tallowreed.example>', 'failed', '5.1.1', 'no'), '');
  await bring(report(header, 'failed', '5.1.1', 'no', 'eve@elsewhere.example'), 'eve@elsewhere.example');
  expect(await mdnState()).toBe('asked');
  expect((await desk.detail(id)).events).toEqual([]);
  await bring(receipt(header, MARIT, '3'));
  expect(await mdnState()).toBe('denied');
  expect((await desk.detail(id)).events).toMatchObject([
    { kind: 'receipt', label: 'They declined to send a read receipt.' },
  ]);
});

describe('what a mail server brings that is not taken', () => {
  const set = (change: Partial<MailboxView>) => {
    const mailbox = desk.get(MailboxSettings);
    mailbox.save({ ...mailbox.view(), ...change });
  };
  const refused = () => desk.json<RefusedMail[]>('GET', '/api/refused-mails?way=lmtp');

  test.each([
    ['where the settings take none', () => set({ way: 'none' }), ACCOUNT.address],
    ['for somebody else', () => undefined, 'somebody@elsewhere.example'],
  ])('%s is to come later, without a name that its sender could see, and is shown', async (_name, prepare, rcpt) => {
    prepare();
    const reply = await bring(replyMail({}), MARIT, rcpt).catch((error: Error) => error.message);
    expect(reply).toMatch(/450 4\./);
    expect(reply).not.toMatch(/kiraku/i);
    expect(await refused()).toMatchObject([{ fromAddress: MARIT, hasOriginal: false }]);
  });

  test.each([
    ['where the settings take none', () => set({ way: 'none', unmatched: 'drop' }), ACCOUNT.address],
    ['for somebody else', () => set({ unmatched: 'drop' }), 'somebody@elsewhere.example'],
  ])('%s is dropped where that is set, and can be saved', async (_name, prepare, rcpt) => {
    const { id, header } = await sent();
    prepare();
    expect(await bring(replyMail({ follows: header }), MARIT, rcpt)).toMatch(/^250/);
    expect(await incoming(id)).toEqual([]);
    const [one] = await refused();
    expect(one).toMatchObject({ subject: 'Re: Panels for the reading room', toAddress: rcpt, hasOriginal: true });
    const original = await desk.call('GET', `/api/refused-mails/${one!.id}/original.eml`);
    expect(await original.text()).toContain('Message-ID: <a1@lindqvist.example>');
    expect((await desk.call('DELETE', `/api/refused-mails/${one!.id}`)).status).toBe(204);
    expect(await refused()).toEqual([]);
  });

  test('could not be read is shown with its original, and does not come again', async () => {
    const { header } = await sent();
    desk.get(MailReader).read = () => Promise.reject(new Error('It took too long'));
    expect(await bring(replyMail({ follows: header }))).toMatch(/^250/);
    expect(await refused()).toMatchObject([
      { problem: 'It could not be read: It took too long', hasOriginal: true, subject: expect.stringMatching(/^Re:/) },
    ]);
  });

  test('is larger than 50 MB is no reason: its beginning is read', async () => {
    const { id, header } = await sent();
    const file = `${'QUFB'.repeat(19)}\n`.repeat(690_000);
    const body = `--b\n\nYes, please.\n--b\nContent-Type: application/pdf\nContent-Transfer-Encoding: base64\n\n${file}--b--`;
    const raw = replyMail({ follows: header, body }).replace('text/html; charset=utf-8', 'multipart/mixed; boundary=b');
    expect(await bring(raw)).toMatch(/^250/);
    expect(await incoming(id)).toMatchObject([
      { kind: 'reply', words: 'Yes, please.', problem: expect.stringMatching(/larger than 50 MB/) },
    ]);
  });

  test('stands once however often it comes, and goes with whom it is from', async () => {
    set({ way: 'none' });
    await sent();
    for (let n = 0; n < 3; n += 1) await bring(replyMail({}), MARIT).catch(() => undefined);
    expect(await refused()).toHaveLength(1);
    const [marit] = await desk.json<{ id: number }[]>('GET', '/api/people?words=marit');
    await desk.call('DELETE', `/api/people/${marit!.id}`);
    expect(await refused()).toEqual([]);
  });

  test('never stands for more than the newest two hundred', async () => {
    for (let n = 0; n < 205; n += 1)
      desk.get(RefusedService).note({ way: 'lmtp', from: MARIT, to: [`n${n}@x.example`], problem: 'x', raw: null });
    const list = await refused();
    expect([list.length, list[0]!.toAddress, list.at(-1)!.toAddress]).toEqual([200, 'n204@x.example', 'n5@x.example']);
  });
});

test('mail to an address of the user with a tag is theirs, and what is no mail does no harm', async () => {
  const { id, header } = await sent();
  await bring(replyMail({ follows: header }), MARIT, 'ines+panels@tallowreed.example');
  expect(await incoming(id)).toHaveLength(1);
  expect(await bring('')).toMatch(/^250/);
  expect(await bring('\u0000\u0001 no header at all')).toMatch(/^250/);
  expect((await desk.call('GET', '/health')).status).toBe(200);
});

describe('of an address with several behind it', () => {
  const report =
    (...recipients: [address: string, action: string, status: string][]) =>
    (header: string) =>
      `From: mailer-daemon@mx.lindqvist.example
To: ines@tallowreed.example
Subject: Delivery report
Message-ID: <${recipients.flat().join('.').replaceAll('@', '.')}@mx.lindqvist.example>
Content-Type: multipart/report; report-type=delivery-status; boundary=b

--b
Content-Type: message/delivery-status

Reporting-MTA: dns; mx.lindqvist.example
${recipients
  .map(
    ([address, action, status]) => `
Original-Recipient: rfc822;${MARIT}
Final-Recipient: rfc822;${address}
Action: ${action}
Status: ${status}
`,
  )
  .join('')}
--b
Content-Type: text/rfc822-headers

Message-ID: ${header}

--b--
`;
  const ONE = ['one@lindqvist.example', 'delivered', '2.0.0'] as [string, string, string];
  const TWO = ['two@lindqvist.example', 'failed', '5.1.1'] as [string, string, string];
  test.each([
    ['in one report', [report(ONE, TWO)]],
    ['in one report, the failure first', [report(TWO, ONE)]],
    ['in two reports', [report(ONE), report(TWO)]],
    ['in two reports, the failure first', [report(TWO), report(ONE)]],
  ])('some may get it and others not: %s', async (_name, reports) => {
    const { id, header } = await sent({ requestDsn: true });
    for (const one of reports) await bring(one(header), '');
    const detail = await desk.detail(id);
    expect(detail.summary.state).toBe('sent');
    expect(detail.copies[0]).toMatchObject({ state: 'sent', dsnState: 'delivered' });
    expect(detail.copies[0]!.lastError).toMatch(/no such address/);
    expect(detail.events.map(({ kind }) => kind).sort()).toEqual(['bounced', 'delivered']);
    const words = detail.events.map(({ label }) => label).join();
    expect(words).toMatch(/Delivered to/);
    expect(words).toMatch(/no such address/);
  });
});

describe('a reply that may be any recipient’s', () => {
  /** Copies of one mail that a mail program submitted share its Message-ID. */
  const shared = async () => {
    const { id, header } = await sent({ recipients: [to(MARIT, 'Marit Oakes'), to(OTIS, 'Otis Hale')] });
    desk.sqlite.prepare('update copy set message_id_header = ? where message_id = ?').run(header, id);
    await bring(replyMail({ follows: header, from: 'Hana <hana@home.example>' }), 'hana@home.example');
    return id;
  };

  test('is nobody’s until the user says whose', async () => {
    const id = await shared();
    const [one] = await incoming(id);
    expect(one).toMatchObject({ copyId: null, doubt: expect.stringMatching(/hana@home.example.* any recipient/) });
    expect((await desk.detail(id)).events).toEqual([]);
    const url = `/api/incoming/${one!.id}/verdict`;
    expect((await desk.call('PUT', url, { verdict: 'confirmed' })).status).toBe(422);
    expect((await desk.call('PUT', url, { verdict: 'confirmed', copyId: 999 })).status).toBe(404);
    const copyId = (await desk.detail(id)).copies[1]!.id;
    expect((await desk.call('PUT', url, { verdict: 'confirmed', copyId })).status).toBe(204);
    expect(await incoming(id)).toMatchObject([{ copyId, verdict: 'confirmed' }]);
    expect((await desk.detail(id)).events).toMatchObject([{ kind: 'replied', copyId, counted: true }]);
  });

  test('is none once the user says so', async () => {
    const id = await shared();
    const [one] = await incoming(id);
    expect((await desk.call('PUT', `/api/incoming/${one!.id}/verdict`, { verdict: 'rejected' })).status).toBe(204);
    expect((await desk.detail(id)).summary.tally.replies).toBe(0);
    expect(await incoming(id)).toMatchObject([{ copyId: null, verdict: 'rejected' }]);
  });
});

test('a reply settles what was to remind of the messages of its conversation', async () => {
  const first = await sent({
    reminder: { when: 'in 2 days', zone: 'UTC', condition: 'not-replied', note: 'Call her', byEmail: false },
  });
  const second = await sent({ conversation: [first.header], subject: 'Re: Panels for the reading room' });
  const view = () => desk.json<FollowupsView>('GET', '/api/followups');
  expect((await view()).reminders).toMatchObject([{ state: 'waiting', note: 'Call her', message: { id: first.id } }]);
  await bring(replyMail({ follows: second.header }));
  expect((await view()).reminders).toMatchObject([{ state: 'resolved', reason: 'Replied' }]);
  desk.clock.advance(3 * DAY + MINUTE);
  expect((await view()).reminders[0]!.state).toBe('resolved');
});

test('a reply that comes while a message is on its way is judged with it', async () => {
  const { id, header } = await sent();
  await bring(replyMail({ follows: header }));
  const read = (await desk.detail(id)) as MessageDetail;
  expect(read.summary.lastActivityAt).toBe(desk.clock.now());
});

test('one that is perhaps automatic makes follow-ups wait, and counts once the user says that it is a reply', async () => {
  const { id, header } = await sent();
  await bring(replyMail({ follows: header, body: '<p>I am out of the office until Monday.</p>' }));
  const [one] = await incoming(id);
  expect(one).toMatchObject({ kind: 'perhaps-automatic', doubt: expect.stringMatching(/perhaps automatic/) });
  const counts = async () => (await desk.detail(id)).summary.tally.replies;
  expect(kinds((await desk.detail(id)).events)).toEqual(['replied (perhaps-automatic)']);
  expect(await counts()).toBe(0);
  await desk.call('PUT', `/api/incoming/${one!.id}/verdict`, { verdict: 'confirmed' });
  expect(await counts()).toBe(1);
  await desk.call('PUT', `/api/incoming/${one!.id}/verdict`, { verdict: 'rejected' });
  expect(await counts()).toBe(0);
});

describe('a reply that names no message of ours', () => {
  const doubtful = (n = 1) => replyMail({ subject: 'Re: Panels for the reading room', id: `<doubt${n}@x.example>` });
  const plans = async () => (await desk.json<FollowupsView>('GET', '/api/followups')).plans;
  const later = (ms: number) => {
    desk.clock.advance(ms);
    desk.get(Following).wake();
  };
  const decide = (id: number, verdict: string) => desk.call('PUT', `/api/incoming/${id}/verdict`, { verdict });

  async function followed(): Promise<number> {
    const { id: templateId } = await desk.json<{ id: number }>('POST', '/api/templates', {
      name: 'A nudge',
      subject: '',
      html: '<p>Did you see it?</p>',
    });
    const step = { templateId, condition: 'not-replied' as const, workingDays: 1, time: '09:00' };
    const reminder = { when: 'in 3 days', zone: 'UTC', condition: 'not-replied' as const, note: '', byEmail: false };
    return (await sent({ plan: { zone: 'UTC', steps: [step] }, reminder })).id;
  }

  test('makes follow-ups wait and say why, until the user says that it is one', async () => {
    const id = await followed();
    await bring(doubtful());
    later(6 * DAY);
    const [plan] = await plans();
    expect(plan).toMatchObject({
      state: 'running',
      steps: [{ state: 'planned', reason: expect.stringMatching(/may have replied/) }],
    });
    expect(mail.received).toHaveLength(1);
    const [reply] = await incoming(id);
    expect((await decide(reply!.id, 'confirmed')).status).toBe(204);
    expect(await incoming(id)).toMatchObject([{ verdict: 'confirmed' }]);
    expect(await plans()).toMatchObject([{ state: 'stopped', reason: 'Replied' }]);
    const { reminders } = await desk.json<FollowupsView>('GET', '/api/followups');
    expect(reminders).toMatchObject([{ state: 'resolved' }]);
    expect((await desk.detail(id)).summary.tally.replies).toBe(1);
  });

  test('counts as none once the user says that it is not, and follow-ups go on', async () => {
    const id = await followed();
    await bring(doubtful());
    later(6 * DAY);
    const { reminders } = await desk.json<FollowupsView>('GET', '/api/followups');
    expect(reminders).toMatchObject([{ state: 'due' }]);
    const [reply] = await incoming(id);
    expect((await decide(reply!.id, 'rejected')).status).toBe(204);
    const detail = await desk.detail(id);
    expect(detail.summary.tally.replies).toBe(0);
    expect(kinds(detail.events)).toContain('replied (override)');
    later(MINUTE);
    expect(await plans()).toMatchObject([{ steps: [{ state: 'sent' }] }]);
  });

  test('is asked for only where there is a doubt', async () => {
    const { id, header } = await sent();
    await bring(replyMail({ follows: header }));
    const [reply] = await incoming(id);
    expect((await decide(reply!.id, 'rejected')).status).toBe(404);
    expect((await decide(999, 'rejected')).status).toBe(404);
    expect((await decide(reply!.id, 'perhaps')).status).toBe(422);
  });
});

describe('a delivery report', () => {
  const failed = (header: string, more = '') =>
    `From: Mail Delivery System <mailer-daemon@lindqvist.example>
To: ines@tallowreed.example
Subject: Undelivered Mail Returned to Sender
Message-ID: <report${Math.random()}@lindqvist.example>
${more}MIME-Version: 1.0
Content-Type: multipart/report; report-type=delivery-status; boundary=b

--b
Content-Type: text/plain

It could not be delivered.

--b
Content-Type: message/delivery-status

Reporting-MTA: dns; mail.lindqvist.example

Final-Recipient: rfc822; ${MARIT}
Action: failed
Status: 5.1.1
Diagnostic-Code: smtp; 550 5.1.1 No such user

--b
Content-Type: text/rfc822-headers

Message-ID: ${header}

--b--
`;
  const PASSED = 'Authentication-Results: mx.tallowreed.example; spf=pass smtp.helo=mail.lindqvist.example\n';
  const FAILED = 'Authentication-Results: mx.tallowreed.example; spf=none; dmarc=fail header.from=lindqvist.example\n';

  test.each<[string, from: string, more: string, state: string]>([
    ['from no address', '', '', 'failed'],
    ['that the receiving server found genuine', '', PASSED, 'failed'],
    ['from an address', MARIT, '', 'sent'],
    ['that the receiving server found forged', '', FAILED, 'sent'],
    ['whose own claim of being genuine stands below that', '', FAILED + PASSED, 'sent'],
  ])('%s', async (_name, from, more, state) => {
    const { id, header } = await sent();
    await bring(failed(header, more), from);
    const detail = await desk.detail(id);
    expect(detail.copies[0]!.state).toBe(state);
    const [one] = await incoming(id);
    expect(one!.kind).toBe('dsn');
    expect(one!.doubt === null).toBe(state === 'failed');
    expect(kinds(detail.events)).toEqual(state === 'failed' ? ['bounced'] : []);
  });
});

test('a reply and what it stops are one: where the one cannot be written, neither is, and the server tries again', async () => {
  const { id: templateId } = await desk.json<{ id: number }>('POST', '/api/templates', {
    name: 'A nudge',
    subject: '',
    html: '<p>Did you see it?</p>',
  });
  const step = { templateId, condition: 'not-replied' as const, workingDays: 1, time: '09:00' };
  const { id, header } = await sent({ plan: { zone: 'UTC', steps: [step] } });
  desk.sqlite.exec("create trigger broken before update on plan begin select raise(abort, 'The disk is full'); end");
  expect(await bring(replyMail({ follows: header }))).toMatch(/^451/);
  expect(await incoming(id)).toEqual([]);
  expect((await desk.detail(id)).summary.tally.replies).toBe(0);
  desk.sqlite.exec('drop trigger broken');
  expect(await bring(replyMail({ follows: header }))).toMatch(/^250/);
  expect(desk.sqlite.prepare('select state from plan').pluck().all()).toEqual(['stopped']);
  // The same once more is taken without a word, and is no second one.
  expect(await bring(replyMail({ follows: header }))).toMatch(/^250/);
  expect(await incoming(id)).toHaveLength(1);
});

test('what the user writes, from any place and in any script, is no reply', async () => {
  const { id, header } = await sent();
  for (const from of [ACCOUNT.address, `Ines <${ACCOUNT.address.toUpperCase()}>`]) {
    await bring(replyMail({ follows: header, from, id: `<own${from.length}@x.example>` }), ACCOUNT.address);
    expect(await incoming(id)).toEqual([]);
  }
  expect((await desk.detail(id)).events).toEqual([]);
});
