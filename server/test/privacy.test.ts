import { IncomingService } from '@kiraku/server/incoming/incoming.service';
import type { PersonData, PrivacyView, RecipientView } from '@kiraku/core/contract';
import { DAY, MINUTE } from '@kiraku/core/time';
import { EMPTY_TALLY } from '@kiraku/core/tracking';
import { JudgingSettings } from '@kiraku/server/tracking/judging.settings';
import { Retention } from '@kiraku/server/privacy/retention';
import { readFileSync } from 'node:fs';
import { databaseFile } from '@kiraku/server/environment/config';
import { draftContent, trackingUrlsOf, to, desk, mail, useDesk } from './harness.js';
import { until } from './until.js';

/** Which of the addresses are written to without tracking. */
async function declined(...addresses: string[]): Promise<string[]> {
  const known = await desk.json<RecipientView[]>('POST', '/api/people/recipients', { addresses });
  return known.filter(({ doNotTrack }) => doNotTrack).map(({ address }) => address);
}

const MARIT = 'marit@lindqvist.example';
const AGENT = 'Mozilla/5.0 (X11; Linux x86_64; rv:139.0) Gecko/20100101 Firefox/139.0 Telltale';

useDesk('each');

const save = (change: Partial<PrivacyView>) =>
  desk.json('PUT', '/api/settings/privacy', {
    forgetReadersDays: null,
    forgetEventsDays: null,
    untrackedDomains: [],
    ...change,
  });

/** A sent message that each recipient has opened. */
async function read(recipients = [to(MARIT, 'Marit Oakes')], subject = 'Panels'): Promise<number> {
  const { id } = await desk.send({ recipients, subject });
  await desk.sent(id);
  desk.clock.advance(MINUTE);
  for (const { address } of recipients) {
    const received = mail.received.findLast((one) => one.to.includes(address))!;
    await desk.visit(trackingUrlsOf(received).image!, { headers: { 'user-agent': AGENT } });
    desk.clock.advance(MINUTE);
  }
  return id;
}

async function personId(address: string): Promise<number> {
  const people = await desk.json<{ id: number }[]>('GET', `/api/people?words=${encodeURIComponent(address)}`);
  return people[0]!.id;
}

describe('retention', () => {
  test('who looked is forgotten after its time; that somebody did, and the counts, stay', async () => {
    const id = await read();
    const before = await desk.detail(id);
    await save({ forgetReadersDays: 10 });
    await desk.get(Retention).forget();
    expect(await desk.detail(id)).toEqual(before);

    desk.clock.advance(11 * DAY);
    await desk.get(Retention).forget();
    const after = await desk.detail(id);
    expect(after.events).toMatchObject([{ kind: 'opened', counted: true, ip: null, userAgent: null, place: null }]);
    expect(after.summary.tally).toEqual(before.summary.tally);
    expect(desk.sqlite.prepare('select count(*) from agent').pluck().get()).toBe(0);
  });

  test('the activity is forgotten after its time, and the list says so instead of “no sign”', async () => {
    const id = await read();
    await save({ forgetEventsDays: 20 });
    desk.clock.advance(21 * DAY);
    await desk.get(Retention).forget();
    const { events, summary, copies } = await desk.detail(id);
    expect(events).toEqual([]);
    expect(summary.tally).toEqual(EMPTY_TALLY);
    expect(copies[0]!.tally).toEqual(EMPTY_TALLY);
    expect(summary.forgottenAt).toBeGreaterThan(desk.clock.now() - MINUTE);
  });

  test.each([{ forgetReadersDays: 0 }, { forgetEventsDays: -1 }, { untrackedDomains: ['not a domain'] }])(
    '%j is refused',
    async (change) => {
      await expect(save(change)).rejects.toThrow('422');
    },
  );
});

test('people of a domain that is not to be tracked get their mail without, and those of others with', async () => {
  await save({ untrackedDomains: ['Clinic.example'] });
  await desk.sent(
    (await desk.send({ recipients: [to('a@clinic.example'), to('b@ward.clinic.example'), to(MARIT)] })).id,
  );
  const tracked = (address: string) => trackingUrlsOf(mail.to(address)).image !== undefined;
  expect(['a@clinic.example', 'b@ward.clinic.example', MARIT].map(tracked)).toEqual([false, false, true]);
  expect(await declined('a@clinic.example', MARIT)).toEqual(['a@clinic.example']);
});

/** The newest copy to an address. */
async function newestCopy(address: string): Promise<{ header: string }> {
  return desk.sqlite
    .prepare('select message_id_header header from copy where address = ? order by id desc limit 1')
    .get(address) as { header: string };
}

async function replied(header: string): Promise<void> {
  const raw = `From: ${MARIT}\r\nSubject: Re: Panels\r\nIn-Reply-To: ${header}\r\n\r\nWords of an answer\r\n`;
  expect(await desk.get(IncomingService).take(Buffer.from(raw), { at: desk.clock.now(), returnPath: MARIT })).toBe(
    true,
  );
}

test('everything that is known of a person is given out, for a program and to read', async () => {
  await read([to(MARIT, 'Marit Oakes'), to('jun@lindqvist.example')]);
  const id = await personId(MARIT);
  await replied((await newestCopy(MARIT)).header);
  const data = await desk.json<PersonData>('GET', `/api/people/${id}/data.json`);
  expect(data).toMatchObject({
    person: { name: 'Marit Oakes', address: MARIT },
    messages: [{ subject: 'Panels', as: 'to' }],
    incoming: [{ kind: 'reply', from: MARIT, words: 'Words of an answer' }],
    events: [{ kind: 'opened', userAgent: AGENT, ip: '127.0.0.1' }, { kind: 'replied' }],
  });
  const text = await (await desk.call('GET', `/api/people/${id}/data.txt`)).text();
  expect(text).toContain('What is known about Marit Oakes');
  expect(text).toContain('opened, “Panels”; from 127.0.0.1');
  expect((await desk.call('GET', '/api/people/999/data.json')).status).toBe(404);
});

test('erased, nothing of a person is left: not in lists, not in messages to several, not in the file', async () => {
  const alone = await read();
  const together = await read([to(MARIT, 'Marit Oakes'), to('jun@lindqvist.example', 'Jun Falk', 'cc')], 'To both');
  await desk.json('POST', '/api/drafts', draftContent({ recipients: [to(MARIT, 'Marit Oakes')] }));
  await replied((await newestCopy(MARIT)).header);
  const reminder = { when: 'in 2 days', zone: 'UTC', condition: 'always', note: 'A private reminder', byEmail: false };
  await desk.json('POST', '/api/reminders', { ...reminder, personId: await personId(MARIT) });
  const before = await desk.detail(together);
  const known = {
    name: 'Marit Oakes',
    company: 'Lindqvist',
    phone: '+44 1632 960987',
    zone: '',
    note: 'Likes ochre',
    muted: false,
  };
  await desk.call('PUT', `/api/people/${await personId(MARIT)}`, known);
  expect((await desk.call('DELETE', `/api/people/${await personId(MARIT)}`)).status).toBe(204);

  expect((await desk.call('GET', `/api/messages/${alone}`)).status).toBe(404);
  const after = await desk.detail(together);
  expect(after.copies.map(({ recipient }) => recipient.name)).toEqual(['', 'Jun Falk']);
  expect(after.summary.tally).toMatchObject({ opens: before.summary.tally.opens - 1, replies: 0 });
  expect(after.summary.tally).toEqual(after.copies[1]!.tally);
  expect(await desk.json('GET', '/api/drafts')).toEqual({ drafts: [], total: 0, nextCursor: null });
  expect(await desk.json('GET', '/api/people?words=marit')).toEqual([]);
  const file = readFileSync(databaseFile(desk.config));
  for (const trace of [MARIT, 'Marit Oakes', '960987', 'Likes ochre', 'Words of an answer', 'A private reminder'])
    expect(file.includes(trace)).toBe(false);
});

test('a copy that waits does not leave after its recipient was erased', async () => {
  mail.refusals.set(MARIT, { responseCode: 451, message: '4.2.2 Mailbox busy' });
  const { id } = await desk.send({ recipients: [to(MARIT), to('jun@lindqvist.example', '', 'cc')] });
  await desk.until(id, ({ copies, summary }) => summary.lastError !== null && copies[1]!.state === 'sent');
  await desk.call('DELETE', `/api/people/${await personId(MARIT)}`);
  expect(await desk.detail(id)).toMatchObject({
    summary: { state: 'sent' },
    copies: [{ state: 'failed', lastError: 'Its recipient was erased before it was sent.' }, { state: 'sent' }],
  });
  expect(desk.sqlite.prepare('select count(*) from outbox').pluck().get()).toBe(0);
});

test('a recipient who declined can take it back', async () => {
  await desk.sent((await desk.send({ disclose: true })).id);
  const page = /http:\/\/[^"\s<>]*\/o\/[\w-]{22}/.exec(String(mail.received[0]!.parsed.html))![0];
  await desk.visit(page, { method: 'POST' });
  expect(await declined(MARIT)).toEqual([MARIT]);
  expect(await (await desk.visit(page)).text()).toContain('I have changed my mind');
  await desk.visit(`${page}?again`, { method: 'POST' });
  expect(await declined(MARIT)).toEqual([]);
});

describe('by itself', () => {
  /** An address whose place is known, as a named proxy tells of it. */
  const KNOWN_PLACE = '81.2.69.142';
  const rows = (text: string) => desk.sqlite.prepare(text).pluck().all();

  test('at each start, what is due is forgotten: who opened what and where, the activity, and what was written back', async () => {
    const judging = desk.get(JudgingSettings);
    judging.save({ ...judging.view(), proxies: ['127.0.0.1'], place: 'city' });
    const id = await read();
    await desk.visit(trackingUrlsOf(mail.to(MARIT)).image!, { headers: { 'x-forwarded-for': KNOWN_PLACE } });
    await replied((await newestCopy(MARIT)).header);
    expect(rows('select place from event where place is not null').length).toBeGreaterThan(0);
    expect(rows('select ip from event where ip is not null').length).toBeGreaterThan(0);

    await save({ forgetReadersDays: 10 });
    desk.clock.advance(11 * DAY);
    await desk.close();
    await desk.open();
    await until(() => rows('select ip from event where ip is not null').length === 0);
    expect(rows('select place from event where place is not null')).toEqual([]);
    expect((await desk.detail(id)).events.length).toBeGreaterThan(0);

    await save({ forgetEventsDays: 20 });
    desk.clock.advance(21 * DAY);
    await desk.close();
    await desk.open();
    await until(() => rows('select id from event').length === 0);
    expect(rows('select words from incoming')).toEqual([]);
    desk.sqlite.pragma('wal_checkpoint(TRUNCATE)');
    expect(readFileSync(databaseFile(desk.config)).includes('Words of an answer')).toBe(false);
  });
});
