import fc from 'fast-check';
import type { HistoryView, IncomingView, MessageDetail, PeoplePage } from '@kiraku/core/contract';
import { DAY } from '@kiraku/core/time';
import { MailboxSettings } from '@kiraku/server/incoming/mailbox.settings';
import { mboxEntry, mboxMails } from '@kiraku/server/mime/mbox';
import { freePort } from '../freePort.js';
import { desk, mail, to, useDesk } from '../harness.js';
import { Dovecot, hasDovecot, PASSWORD, USER } from '../incoming/dovecot.js';
import { deliverTo } from '../incoming/deliver.js';
import { until } from '../until.js';

const INES = 'ines@tallowreed.example';
const MARIT = 'marit@lindqvist.example';
const BEN = 'ben@harbour.example';

interface Fields {
  n: number;
  from?: string;
  to?: string;
  date?: string;
  more?: string;
  body?: string;
}

/** A mail as a program has kept it in its folder of sent mail. */
const written = ({
  n,
  from = `Ines <${INES}>`,
  to = `Marit Oakes <${MARIT}>`,
  date,
  more = '',
  body = 'Felt.',
}: Fields) =>
  `From: ${from}\r\nTo: ${to}\r\nSubject: Offer ${n}\r\nMessage-ID: <old${n}@tallowreed.example>\r\n` +
  `Date: ${date ?? `Tue, 0${n} Mar 2022 10:00:00 +0100`}\r\n${more}\r\n${body}\r\n`;
const mboxOf = (mails: string[]) => mails.map((one) => mboxEntry(INES, 0, one)).join('');

useDesk('each');

const view = () => desk.json<HistoryView>('GET', '/api/history');
const add = (bytes: string, name = 'Sent.mbox', more = '') =>
  fetch(`${desk.url}/api/history/files?name=${encodeURIComponent(name)}${more}`, {
    method: 'PUT',
    headers: { ...desk.headers, 'content-type': 'application/octet-stream' },
    body: Buffer.from(bytes, 'latin1'),
  });
const rested = async (step: HistoryView['step'] = 'none') => {
  await until(async () => (await view()).step === step);
  return view();
};
async function looked(bytes: string): Promise<HistoryView> {
  expect((await add(bytes)).status).toBe(200);
  await desk.json('POST', '/api/history/look');
  return rested('looked');
}
async function imported(bytes: string, withMessages: boolean, senders = [INES]): Promise<HistoryView> {
  await looked(bytes);
  await desk.json('POST', '/api/history/import', { senders, withMessages });
  return rested();
}
const undo = async (id: number) => {
  await desk.json('DELETE', `/api/history/imports/${id}`);
  return rested();
};
const people = async () =>
  (await desk.json<PeoplePage>('GET', '/api/people/directory')).people.map(
    ({ address, name, messages, lastContactAt }) => ({
      ...{ address, name, messages, lastContactAt },
    }),
  );
const messageIds = () => desk.sqlite.prepare('select id from message order by sent_at').pluck().all() as number[];
/** All that an undone import must leave as it was. */
const everything = () =>
  ['person', 'message', 'message_body', 'copy', 'history_import', 'history_person', 'history_message'].map((table) =>
    desk.sqlite.prepare(`select * from ${table} order by 1`).all(),
  );

const SENT = [
  written({ n: 1 }),
  written({ n: 2, to: `${MARIT}, "Falk, Ben" <${BEN}>` }),
  written({ n: 3, to: `Ben <${BEN}>`, more: 'Cc: not an address\r\nBcc: ines@TallowReed.example\r\n' }),
  written({ n: 4, from: 'Marit <marit@lindqvist.example>', to: INES }),
  written({ n: 5, date: 'yesterday' }),
  written({ n: 6, to: INES }),
  'no header at all\r\n',
];
const AT = (day: number) => Date.parse(`2022-03-0${day}T09:00:00Z`);

test('what is found is told before anything is imported, with what is left out and why', async () => {
  const before = everything();
  const { found, source } = await looked(mboxOf(SENT));
  expect(source).toBe('Sent.mbox');
  expect(found).toEqual({
    senders: [
      { address: INES, messages: 3, people: 2, isOwn: true },
      { address: MARIT, messages: 1, people: 1, isOwn: false },
    ],
    firstAt: AT(1),
    lastAt: AT(4),
    leftOut: [
      { why: 'no-date', count: 1 },
      { why: 'no-recipient', count: 1 },
      { why: 'unreadable', count: 1 },
    ],
  });
  expect(everything()).toEqual(before);
  await desk.json('POST', '/api/history/stop');
  expect(await view()).toMatchObject({ step: 'none', found: null, source: '' });
});

test('as people: names, how often and when last; and they are gone again when it is undone', async () => {
  const before = everything();
  const { imports } = await imported(mboxOf(SENT), false);
  expect(await people()).toEqual(
    expect.arrayContaining([
      { address: MARIT, name: 'Marit Oakes', messages: 2, lastContactAt: AT(2) },
      { address: BEN, name: 'Ben', messages: 2, lastContactAt: AT(3) },
    ]),
  );
  expect(imports).toEqual([
    expect.objectContaining({ source: 'Sent.mbox', withMessages: false, people: 2, messages: 0 }),
  ]);
  // The same mail once more, or its messages afterwards, count nobody twice.
  await imported(mboxOf(SENT), false);
  expect((await people()).map(({ messages }) => messages)).toEqual([2, 2]);
  await imported(mboxOf(SENT), true);
  expect((await people()).map(({ messages }) => messages)).toEqual([2, 2]);
  // Undone, what was only counted counts again.
  const [messages, ...others] = (await view()).imports;
  await undo(messages!.id);
  expect((await people()).map((one) => one.messages)).toEqual([2, 2]);
  // A part of the messages takes the place of as many.
  await imported(mboxOf(SENT.slice(0, 1)), true);
  const marit = async () => (await people()).find(({ address }) => address === MARIT);
  expect(await marit()).toMatchObject({ messages: 2, lastContactAt: AT(2) });
  await undo((await view()).imports[0]!.id);
  for (const { id } of others) await undo(id);
  expect(everything()).toEqual(before);
});

test('as messages: they stand in their conversations without tracking, and a reply to one is seen', async () => {
  const more = 'References: <first@lindqvist.example> <second@lindqvist.example>\r\nContent-Type: text/html\r\n';
  const body = '<p onclick="steal()">Dear Marit<script>steal()</script><img src="https://elsewhere.example/i.gif"></p>';
  await imported(mboxOf([...SENT, written({ n: 7, more, body })]), true);
  const ids = messageIds();
  expect(ids).toHaveLength(4);
  const detail = await desk.json<MessageDetail>('GET', `/api/messages/${ids[3]}`);
  expect(detail.summary).toMatchObject({ state: 'sent', origin: 'imported', subject: 'Offer 7', sentAt: AT(7) });
  expect(detail.summary.trackOpens || detail.summary.trackClicks).toBe(false);
  const shown = await (await desk.call('GET', `/api/messages/${ids[3]}/body`)).text();
  expect(shown).toContain('Dear Marit');
  expect(shown).not.toMatch(/steal|elsewhere/);
  const mailbox = desk.get(MailboxSettings);
  mailbox.save({ ...mailbox.view(), way: 'lmtp' });
  const reply =
    `From: Marit <${MARIT}>\nTo: ${INES}\nSubject: Re: Offer 7\nMessage-ID: <reply@lindqvist.example>\n` +
    'In-Reply-To: <old7@tallowreed.example>\n\nYes, please.\n';
  await deliverTo(desk, reply, MARIT);
  await until(async () => (await desk.json<IncomingView[]>('GET', `/api/messages/${ids[3]}/incoming`)).length === 1);
  // What is here already is left out.
  const again = await looked(mboxOf([...SENT, written({ n: 7 })]));
  expect(again.found!.leftOut).toContainEqual({ why: 'known', count: 4 });
});

test('an undone import leaves what was there, also of whom it found; whoever was written to since stays', async () => {
  const { id } = await desk.send({ recipients: [to(MARIT, 'Marit')] });
  await desk.sent(id);
  await until(() => mail.received.length === 1);
  const [own] = desk.sqlite.prepare('select message_id_header from copy').pluck().all() as string[];
  const before = await people();
  await imported(mboxOf([...SENT, written({ n: 8, more: `X-Kept: ${own}\r\n` })]), true);
  expect((await people()).find(({ address }) => address === MARIT)!.messages).toBe(4);
  await desk.sent((await desk.send({ recipients: [to(BEN)] })).id);
  await undo((await view()).imports[0]!.id);
  const after = await people();
  expect(after.find(({ address }) => address === MARIT)).toEqual(before[0]);
  expect(after.find(({ address }) => address === BEN)).toMatchObject({ messages: 1 });
  expect((await view()).imports).toEqual([]);
});

test('whoever was erased is not brought back by their address in earlier mail', async () => {
  await desk.sent((await desk.send({ recipients: [to(MARIT)] })).id);
  const [person] = (await desk.json<PeoplePage>('GET', '/api/people/directory')).people;
  await desk.call('DELETE', `/api/people/${person!.id}`);
  await imported(mboxOf(SENT), true);
  expect((await people()).map(({ address }) => address)).toEqual([BEN]);
  expect(JSON.stringify(desk.sqlite.prepare('select recipients from message').all())).not.toContain(MARIT);
});

test('files of one mail each are taken as a folder; it can be stopped, and what was imported is undone', async () => {
  const many = Array.from({ length: 400 }, (_, n) =>
    written({ n: 1, to: `r${n}@x.example`, more: `X-N: ${n}\r\n` }).replace('<old1@', `<old${n}@`),
  );
  for (const one of many.slice(0, 3)) expect((await add(one, 'Sent')).status).toBe(200);
  expect((await add(mboxOf(many.slice(3)), 'Sent')).status).toBe(200);
  await desk.json('POST', '/api/history/look');
  expect((await desk.call('POST', '/api/history/look')).status).toBe(409);
  const { found } = await rested('looked');
  expect(found!.senders).toEqual([{ address: INES, messages: 400, people: 400, isOwn: true }]);
  await desk.json('POST', '/api/history/import', { senders: [INES], withMessages: true });
  await until(() => messageIds().length > 0);
  const { imports } = await desk.json<HistoryView>('POST', '/api/history/stop');
  expect(imports[0]!.messages).toBe(messageIds().length);
  expect(imports[0]!.messages).toBeLessThan(400);
  await undo(imports[0]!.id);
  expect([messageIds(), await people()]).toEqual([[], []]);
});

test('a large file comes in pieces', async () => {
  const whole = mboxOf(SENT);
  for (let from = 0; from < whole.length; from += 500)
    expect((await add(whole.slice(from, from + 500), 'Sent.mbox', from === 0 ? '' : '&more=1')).status).toBe(200);
  await desk.json('POST', '/api/history/look');
  expect((await rested('looked')).found!.senders[0]).toMatchObject({ address: INES, messages: 3 });
  expect((await add('x', 'Sent.mbox', '&more=2')).status).toBe(422);
});

test('without files, a sender or a mailbox it says what to do', async () => {
  const said = async (method: string, path: string, body?: unknown) => {
    const response = await desk.call(method, path, body);
    return [response.status, ((await response.json()) as { detail: string }).detail];
  };
  expect(await said('POST', '/api/history/look')).toEqual([422, 'Choose files first.']);
  expect(await said('POST', '/api/history/import', { senders: [INES], withMessages: true })).toEqual([
    422,
    'Choose files first.',
  ]);
  expect((await said('POST', '/api/history/mailbox'))[1]).toContain('Name your mailbox');
  expect((await said('DELETE', '/api/history/imports/7'))[0]).toBe(404);
  expect((await looked('\r\n')).found).toMatchObject({ senders: [], leftOut: [{ why: 'unreadable', count: 1 }] });
});

(hasDovecot ? test : test.skip)('the folder of sent mail of a real mailbox is fetched, and left as it is', async () => {
  const dovecot = await Dovecot.start();
  try {
    dovecot.makeFolder('.Gesendet');
    for (const one of SENT) dovecot.deliver(one, '.Gesendet');
    const follow = (port: number) =>
      desk.json('PUT', '/api/settings/mailbox', {
        ...{ way: 'imap', host: '127.0.0.1', port, security: 'none', user: USER, password: PASSWORD },
        ...{ folders: [], storesSent: false },
      });
    await follow(dovecot.port);
    await desk.json('POST', '/api/history/mailbox');
    const { found, problem } = await rested('looked');
    expect(problem).toBeNull();
    expect(found!.senders[0]).toMatchObject({ address: INES, messages: 3 });
    await follow(await freePort());
    await desk.json('POST', '/api/history/mailbox');
    expect((await rested()).problem).toContain('accepts no connections');
  } finally {
    await dovecot.stop();
  }
});

test('an mbox file is read as it was written, in whatever pieces it comes', async () => {
  const line = fc.constantFrom(
    '',
    'From here on',
    '>From there',
    'From a@x Tue Mar  1 10:00:00 2022',
    'text',
    'x'.repeat(1500),
  );
  const mails = fc.array(
    fc.array(line, { maxLength: 6 }).map((lines) => `Subject: a\n\n${lines.join('\n')}\n`),
    { minLength: 1, maxLength: 5 },
  );
  await fc.assert(
    fc.asyncProperty(
      mails,
      fc.array(fc.integer({ min: 1, max: 400 }), { minLength: 1, maxLength: 5 }),
      async (all, sizes) => {
        const file = Buffer.from(all.map((one) => mboxEntry(INES, DAY, one)).join(''));
        async function* pieces() {
          for (let at = 0, n = 0; at < file.length; n += 1) yield file.subarray(at, (at += sizes[n % sizes.length]!));
        }
        const read: string[] = [];
        for await (const one of mboxMails(pieces())) read.push(one.toString());
        expect(read).toEqual(all);
      },
    ),
    { numRuns: 200 },
  );
});
