import type {
  AddRoundRequest,
  Draft,
  DraftsPage,
  FollowupsView,
  Problem,
  RoundRow,
  RoundView,
  TemplateView,
} from '@kiraku/core/contract';
import { DEFAULT_PACE, roundPlanOf, shownMembers, type MembersShown } from '@kiraku/core/rounds';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';
import { ScheduledMessages } from '@kiraku/server/messages/scheduledMessages';
import { RoundSending } from '@kiraku/server/rounds/roundSending';
import { contentOf } from '@kiraku/core/message';
import { desk, draftContent, mail, to, trackingUrlsOf, useDesk, type ReceivedMail } from '../harness.js';
import { until } from '../until.js';

useDesk('each');

const NAMES = ['Tomas Berane', 'Wanda Orchard', 'Ilse Marten', 'Mina Sorrel', 'Jonas Ek', 'Teo Park'];
const addressOf = (name: string) => `${name.split(' ')[0]!.toLowerCase()}@cafe.example`;
const PEOPLE = NAMES.map((name) => to(addressOf(name), name));
const HTML = '<p>Dear {{first name}}, see the <a href="https://tallowreed.example/felt">felt</a>.</p>';

const request = (change: Partial<AddRoundRequest> = {}): AddRoundRequest => ({
  ...{ name: 'Quieter cafés', draftId: null, personIds: [], columns: [], recipients: [], zone: 'UTC' },
  ...change,
});
const ofSheet = (names: string[], columns: string[] = [], cells: string[][] = []) =>
  request({
    columns,
    recipients: names.map((name, index) => ({ name, address: addressOf(name), cells: cells[index] ?? [] })),
  });
const begin = (asked: AddRoundRequest) => desk.json<RoundView>('POST', '/api/rounds', asked);
const read = (id: number) => desk.json<RoundView>('GET', `/api/rounds/${id}`);
const planOf = (round: RoundView, change: Partial<RoundView> = {}) => ({
  ...roundPlanOf({ ...round, ...change }),
  revision: round.revision,
});
const save = (round: RoundView, change: Partial<RoundView>) =>
  desk.json<RoundView>('PUT', `/api/rounds/${round.id}`, planOf(round, change));
const move = (id: number, how: string) => desk.json<RoundView>('POST', `/api/rounds/${id}/${how}`);
const AT_ONCE = { ...DEFAULT_PACE, kind: 'at-once' as const, zone: 'UTC' };
/** So many an hour, at any time. */
const anyTime = (perHour: number) => ({
  ...DEFAULT_PACE,
  perHour,
  fromHour: 0,
  toHour: 24,
  weekdays: [0, 1, 2, 3, 4, 5, 6],
  zone: 'UTC',
});
const written = (names: string[], change: Partial<RoundView> = {}) =>
  begin(ofSheet(names)).then((round) =>
    save(round, { wordings: [{ subject: 'For {{first name}}', html: HTML }], pace: AT_ONCE, ...change }),
  );
const allSent = (id: number) =>
  until(async () => (await read(id)).members.every(({ state, leftOut }) => leftOut || state === 'sent'), {
    withinMs: 30_000,
    more: () => `round ${id}`,
  });
const passTo = async (ms: number) => {
  desk.clock.advance(ms);
  await desk.get(RoundSending).leaveDue();
};
/** Where a mail program opts out with one press (RFC 8058). */
const oneClickOf = ({ raw }: ReceivedMail) =>
  /^List-Unsubscribe: <([^>]+)>/m.exec(raw.toString().replace(/\r\n[ \t]+/g, ' '))![1]!;
/** Long enough after it was sent to be a person. */
const clickLink = async (name: string) => {
  desk.clock.advance(10 * MINUTE);
  await desk.visit(trackingUrlsOf(mail.to(addressOf(name))).links[0]!);
};
const states = ({ members }: RoundView) => members.map(({ state }) => state);
const problem = async (method: string, path: string, body?: unknown) => {
  const response = await desk.call(method, path, body);
  return (await response.json()) as Problem;
};

test('a draft to several becomes a round: each gets a message of their own, with only themselves in To', async () => {
  const draft = await desk.json<Draft>(
    'POST',
    '/api/drafts',
    draftContent({ recipients: PEOPLE, subject: 'Quieter lunch hours', html: HTML }),
  );
  const round = await begin(request({ name: '', draftId: draft.id }));
  expect(round).toMatchObject({ name: 'Quieter lunch hours', state: 'preparing' });
  expect(await desk.json<DraftsPage>('GET', '/api/drafts')).toMatchObject({ total: 0, drafts: [] });

  await save(round, { pace: AT_ONCE });
  await move(round.id, 'start');
  await allSent(round.id);
  expect(mail.received).toHaveLength(PEOPLE.length);
  for (const [index, name] of NAMES.entries()) {
    const { parsed, to: envelope } = mail.to(addressOf(name));
    expect(envelope).toEqual([addressOf(name)]);
    expect([parsed.to].flat().map((one) => one!.text)).toEqual([`"${name}" <${addressOf(name)}>`]);
    expect(parsed.cc).toBeUndefined();
    expect(parsed.text).toContain(`Dear ${name.split(' ')[0]},`);
    expect(new Set(mail.received.map((one) => one.parsed.messageId)).size).toBe(index >= 0 ? PEOPLE.length : 0);
  }
  expect(await read(round.id)).toMatchObject({ state: 'done', results: [{ sent: 6 }] });
  expect(await desk.json<RoundRow[]>('GET', '/api/rounds')).toMatchObject([
    { people: 6, sent: 6, failed: 0, waiting: 0 },
  ]);
});

test('each message has a history of its own, and the list can be narrowed to a round', async () => {
  const round = await written(NAMES.slice(0, 2));
  await move(round.id, 'start');
  await allSent(round.id);
  await desk.send({ recipients: [to('other@cafe.example')] });
  await clickLink(NAMES[1]!);
  const { members, comparisons } = await read(round.id);
  expect(members.map(({ summary }) => summary!.tally.clicks)).toEqual([0, 1]);
  expect(comparisons).toEqual([]);
  const list = await desk.json<{ messages: { id: number }[] }>('GET', `/api/messages?round=${round.id}`);
  expect(list.messages.map(({ id }) => id).sort()).toEqual(members.map(({ messageId }) => messageId).sort());
});

test('columns of a sheet are placeholders; what cannot be filled is said of each person, and nothing leaves', async () => {
  const sheet = ofSheet(
    NAMES.slice(0, 3),
    ['Seats', 'Floor'],
    [
      ['40', 'stone'],
      ['', 'wood'],
      ['12 & <b>more</b>', ''],
    ],
  );
  const html = '<p>For {{seats}} seats{{if floor: on {floor} | otherwise: }}.</p>';
  const round = await save(await begin(sheet), { pace: AT_ONCE, wordings: [{ subject: '{{Seats}}', html }] });
  expect(round.columns.sort()).toEqual(['floor', 'seats']);
  expect(round.members.map(({ unfilled }) => unfilled)).toEqual([[], ['{{Seats}}', '{{seats}}'], []]);
  expect(await problem('POST', `/api/rounds/${round.id}/start`)).toMatchObject({
    status: 422,
    detail: expect.stringContaining('Wanda Orchard'),
  });
  expect((await read(round.id)).state).toBe('preparing');
  expect(mail.received).toHaveLength(0);

  await desk.json('POST', `/api/rounds/${round.id}/leave-out`, {
    messageIds: [round.members[1]!.messageId],
    leftOut: true,
  });
  await move(round.id, 'start');
  await allSent(round.id);
  expect(mail.received.map(({ parsed }) => parsed.subject).sort()).toEqual(['12 & <b>more</b>', '40']);
  expect(mail.to(addressOf(NAMES[0]!)).parsed.text).toContain('For 40 seats on stone.');
  expect(mail.to(addressOf(NAMES[2]!)).parsed.html).toContain('12 &amp; &lt;b&gt;more&lt;/b&gt;');
});

test('what fills a subject begins no other header field', async () => {
  const sheet = ofSheet(NAMES.slice(0, 1), ['seats'], [['40\r\nBcc: all@cafe.example']]);
  const round = await save(await begin(sheet), { pace: AT_ONCE, wordings: [{ subject: 'For {{seats}}', html: HTML }] });
  await move(round.id, 'start');
  await allSent(round.id);
  const { parsed, to: envelope } = mail.received[0]!;
  expect(parsed.subject).toBe('For 40 Bcc: all@cafe.example');
  expect(parsed.bcc).toBeUndefined();
  expect(envelope).toEqual([addressOf(NAMES[0]!)]);
});

test('a message changed by hand stays as it is when the text changes', async () => {
  const round = await written(NAMES.slice(0, 2));
  const [one] = round.members;
  const draft = await desk.json<Draft>('GET', `/api/drafts/${one!.messageId}`);
  await desk.json('PUT', `/api/drafts/${draft.id}`, {
    ...contentOf(draft),
    html: '<p>Written for Tomas alone.</p>',
    revision: draft.revision,
  });
  const changed = await save(await read(round.id), {
    wordings: [{ subject: 'Another', html: '<p>Another text.</p>' }],
  });
  expect(changed.members.map(({ edited }) => edited)).toEqual([true, false]);
  await move(round.id, 'start');
  await allSent(round.id);
  expect(mail.to(addressOf(NAMES[0]!)).parsed).toMatchObject({
    subject: 'For Tomas',
    text: expect.stringContaining('Tomas alone'),
  });
  expect(mail.to(addressOf(NAMES[1]!)).parsed).toMatchObject({
    subject: 'Another',
    text: expect.stringContaining('Another text'),
  });
});

test('wordings are dealt by chance, balanced and for good, and compared by what came back', async () => {
  const two = [
    { subject: 'A', html: HTML },
    { subject: 'B', html: HTML },
  ];
  const round = await written(NAMES, { wordings: two });
  const dealt = round.members.map(({ wording }) => wording);
  expect(dealt.filter((wording) => wording === 0)).toHaveLength(3);
  expect((await save(round, { name: 'Another name' })).members.map(({ wording }) => wording)).toEqual(dealt);
  await move(round.id, 'start');
  await allSent(round.id);
  for (const [index, name] of NAMES.entries()) {
    const received = mail.to(addressOf(name));
    expect(received.parsed.subject).toBe('AB'[dealt[index]!]);
    if (dealt[index] === 1) await clickLink(name);
  }
  const { results, comparisons } = await read(round.id);
  expect(results.map(({ sent, rates }) => [sent, rates.clicked.n, rates.clicked.of, rates.replied.n])).toEqual([
    [3, 0, 3, 0],
    [3, 3, 3, 0],
  ]);
  expect(comparisons.map(({ evidence }) => evidence)).toEqual(['replied', 'clicked', 'read']);
  const clicked = comparisons[1]!;
  expect(clicked).toMatchObject({ best: 1, next: 0, difference: { difference: 1 } });
  // 0 of 3 against 3 of 3, by the closed form: 1 − 1/70.
  expect(clicked.probabilities[1]).toBeCloseTo(1 - 1 / 70, 4);
  // Each number leads to those whom it counts.
  const { members } = await read(round.id);
  results.forEach(({ sent, rates }, wording) => {
    const shown = (show: MembersShown) => shownMembers(members, { show, wording, order: 'contact' }).length;
    expect([shown('sent'), shown('replied'), shown('clicked'), shown('read')]).toEqual([
      sent,
      rates.replied.n,
      rates.clicked.n,
      rates.read.n,
    ]);
  });
});

test('the rest gets the wording that was chosen, besides those changed by hand, and does not count in the comparison', async () => {
  const two = [
    { subject: 'A', html: HTML },
    { subject: 'B', html: HTML },
  ];
  const round = await written(NAMES, { wordings: two, pace: anyTime(1) });
  await move(round.id, 'start');
  await until(() => mail.received.length === 1);
  const after = await desk.json<RoundView>('POST', `/api/rounds/${round.id}/rest`, { wording: 1 });
  expect(after.restWording).toBe(1);
  expect(
    after.members
      .filter(({ state }) => state === 'scheduled')
      .every(({ wording, summary }) => wording === 1 && summary === null),
  ).toBe(true);
  const moved = after.members.filter(({ isRest }) => isRest);
  expect(moved.length).toBeGreaterThanOrEqual(2);
  for (let n = 1; n < NAMES.length; n += 1) await passTo(HOUR);
  await allSent(round.id);
  expect(mail.received.slice(1).map(({ parsed }) => parsed.subject)).toEqual(new Array(5).fill('B'));
  const { results } = await read(round.id);
  expect(results[0]!.sent + results[1]!.sent).toBe(NAMES.length - moved.length);
});

test('it goes by its pace; paused, nothing leaves; resumed, it goes on from then', async () => {
  const round = await written(NAMES, { pace: anyTime(4) });
  await move(round.id, 'start');
  await until(() => mail.received.length === 1);
  await passTo(14 * MINUTE);
  expect(mail.received).toHaveLength(1);
  // What waits would fill the list of what was sent.
  expect(await desk.json<{ messages: unknown[] }>('GET', '/api/messages')).toMatchObject({
    messages: [{ state: 'sent' }],
  });
  await passTo(MINUTE + 1000);
  await until(() => mail.received.length === 2);

  const paused = await move(round.id, 'pause');
  expect(paused.state).toBe('paused');
  expect(states(paused).filter((state) => state === 'draft')).toHaveLength(4);
  await passTo(5 * HOUR);
  expect(mail.received).toHaveLength(2);

  await save(paused, { wordings: [{ subject: 'Another subject', html: HTML }] });
  await move(round.id, 'resume');
  await until(() => mail.received.length === 3);
  expect(mail.received.map(({ parsed }) => parsed.subject === 'Another subject')).toEqual([false, false, true]);
  await passTo(MINUTE);
  expect(mail.received).toHaveLength(3);

  const stopped = await move(round.id, 'stop');
  expect(stopped).toMatchObject({ state: 'stopped' });
  await passTo(DAY);
  expect(mail.received).toHaveLength(3);
  expect(await desk.json<DraftsPage>('GET', '/api/drafts')).toMatchObject({ total: 0 });
});

test('what was missed while the machine was off does not leave all at once', async () => {
  const round = await written(NAMES, { pace: anyTime(4) });
  await move(round.id, 'start');
  await until(() => mail.received.length === 1);
  desk.clock.advance(6 * HOUR);
  // What lets single messages leave leaves these alone.
  await desk.get(ScheduledMessages).leaveDue();
  await passTo(0);
  await until(() => mail.received.length === 2);
  const waiting = (await read(round.id)).members.flatMap(({ sendAt }) => sendAt ?? []).sort((a, b) => a - b);
  expect(waiting).toHaveLength(4);
  waiting.slice(1).forEach((at, index) => expect(at - waiting[index]!).toBe(15 * MINUTE));
});

test('who opts out by one press in their mail program gets no more, at once, and the others theirs', async () => {
  const round = await written(NAMES.slice(0, 3), { disclose: true, pace: anyTime(4) });
  await move(round.id, 'start');
  await until(() => mail.received.length === 1);
  const {
    to: [first],
  } = mail.received[0]!;
  const url = oneClickOf(mail.received[0]!);
  expect(mail.received[0]!.raw.toString()).toMatch(/^List-Unsubscribe-Post: List-Unsubscribe=One-Click\r$/m);
  const response = await desk.visit(url, {
    method: 'POST',
    headers: { 'content-type': 'application/x-www-form-urlencoded' },
    body: 'List-Unsubscribe=One-Click',
  });
  expect(response.status).toBe(200);
  expect(await response.text()).toContain('You also get no more emails from <bdi>Ines Valdaro</bdi>');

  const again = await written([NAMES[0]!, NAMES[1]!, NAMES[2]!]);
  expect(
    again.members.filter(({ warnings }) => warnings.includes('opted-out')).map(({ recipient }) => recipient.address),
  ).toEqual([first]);
  await move(again.id, 'start');
  await until(() => mail.received.length === 3);
  expect(mail.received.slice(1).map(({ to: [address] }) => address)).not.toContain(first);
});

test('who opts out while their message waits gets it no more', async () => {
  const before = await written(NAMES.slice(0, 1), { disclose: true });
  await move(before.id, 'start');
  await until(() => mail.received.length === 1);
  const url = oneClickOf(mail.received[0]!);
  const round = await written([NAMES[1]!, NAMES[0]!], { pace: anyTime(1), recentDays: 0 });
  await move(round.id, 'start');
  await until(() => mail.received.length === 2);
  await desk.visit(url, { method: 'POST', body: 'List-Unsubscribe=One-Click' });
  await passTo(HOUR + 1000);
  const { members, state } = await read(round.id);
  expect(members.map((one) => [one.state, one.leftOut])).toEqual([
    ['sent', false],
    ['draft', true],
  ]);
  expect(state).toBe('done');
  expect(mail.received).toHaveLength(2);
});

test('without an offer to opt out there is no such field, nor in single messages', async () => {
  const round = await written(NAMES.slice(0, 1));
  await move(round.id, 'start');
  await desk.send({ recipients: [to('single@cafe.example')], disclose: true });
  await until(() => mail.received.length === 2);
  for (const { raw } of mail.received) expect(raw.toString()).not.toMatch(/^List-/m);
});

test('duplicates, bounces and those written to lately are pointed out', async () => {
  mail.refusals.set(addressOf(NAMES[1]!), { responseCode: 550, message: 'No such user' });
  for (const name of NAMES.slice(0, 2)) await desk.send({ recipients: [to(addressOf(name))] });
  await until(async () => (await desk.json<unknown[]>('GET', '/api/outbox')).length <= 1 && mail.received.length === 1);
  const round = await begin(ofSheet([NAMES[0]!, NAMES[1]!, NAMES[2]!, NAMES[2]!]));
  await until(async () => (await read(round.id)).members[1]!.warnings.length > 0);
  expect((await read(round.id)).members.map(({ warnings }) => warnings)).toEqual([
    ['recently'],
    ['bounced'],
    [],
    ['twice'],
  ]);
  desk.clock.advance(20 * DAY);
  expect((await read(round.id)).members[0]!.warnings).toEqual([]);
});

test('a mail server that refuses again and again pauses the round, and says why', async () => {
  for (const name of NAMES)
    mail.refusals.set(addressOf(name), { responseCode: 554, message: 'Too much mail from you' });
  const round = await written(NAMES, { pace: anyTime(60) });
  await move(round.id, 'start');
  for (let n = 0; n < NAMES.length; n += 1) {
    await until(async () => (await read(round.id)).members.every(({ state }) => state !== 'queued'));
    await passTo(MINUTE + 1000);
  }
  const after = await read(round.id);
  expect(after).toMatchObject({ state: 'paused', pauseReason: expect.stringContaining('Too much mail from you') });
  expect(states(after).filter((state) => state === 'failed')).toHaveLength(3);
  expect(await desk.json<RoundRow[]>('GET', '/api/rounds')).toMatchObject([
    { people: 6, sent: 0, failed: 3, waiting: 3 },
  ]);
  expect(states(after).filter((state) => state === 'draft')).toHaveLength(3);

  mail.refusals.clear();
  await move(round.id, 'resume');
  for (let n = 0; n < 3; n += 1) {
    await until(() => mail.received.length === n + 1);
    await passTo(MINUTE + 1000);
  }
  expect((await read(round.id)).state).toBe('done');
});

test('a mail server that asks to wait slows the round down', async () => {
  mail.refusals.set(addressOf(NAMES[0]!), { responseCode: 451, message: 'Slow down' });
  const round = await written(NAMES.slice(0, 3), { pace: anyTime(60) });
  await move(round.id, 'start');
  await until(async () => (await read(round.id)).slowedBy === 2);
  await passTo(MINUTE + 1000);
  expect(mail.received).toHaveLength(0);
  await passTo(MINUTE);
  await until(() => mail.received.length === 1);
});

test('what cannot be is refused in words', async () => {
  expect(await problem('POST', '/api/rounds', request())).toMatchObject({
    status: 422,
    detail: expect.stringContaining('somebody'),
  });
  const many = Array.from({ length: 501 }, (_, n) => ({ name: '', address: `p${n}@cafe.example`, cells: [] }));
  expect(await problem('POST', '/api/rounds', request({ recipients: many }))).toMatchObject({ status: 422 });
  const round = await written(NAMES.slice(0, 2), { pace: anyTime(1) });
  expect(await problem('PUT', `/api/rounds/${round.id}`, { ...planOf(round), revision: 1 })).toMatchObject({
    status: 409,
  });
  expect(
    await problem('PUT', `/api/rounds/${round.id}`, planOf(round, { pace: { ...anyTime(1), weekdays: [] } })),
  ).toMatchObject({ status: 422, detail: 'Choose at least one weekday.' });
  const [one] = round.members;
  expect(await problem('POST', `/api/drafts/${one!.messageId}/send`, { revision: 1 })).toMatchObject({ status: 409 });
  await move(round.id, 'start');
  expect(await problem('POST', `/api/rounds/${round.id}/start`)).toMatchObject({ status: 409 });
  expect(await problem('DELETE', `/api/rounds/${round.id}`)).toMatchObject({ status: 409 });
  const running = await read(round.id);
  expect(await problem('PUT', `/api/rounds/${round.id}`, planOf(running))).toMatchObject({ status: 409 });
  expect(await problem('GET', '/api/rounds/99')).toMatchObject({ status: 404 });
});

test('a round that has not begun can be deleted, with its messages', async () => {
  const round = await written(NAMES);
  expect((await desk.call('DELETE', `/api/rounds/${round.id}`)).status).toBe(204);
  expect(await desk.json('GET', '/api/rounds')).toEqual([]);
  expect(desk.sqlite.prepare('select count(*) from message').pluck().get()).toBe(0);
});

test('who is erased while their message waits gets none, and nothing of them is left in the round', async () => {
  await desk.send({ recipients: [to(addressOf(NAMES[1]!), NAMES[1]!)] });
  await until(() => mail.received.length === 1);
  const sheet = ofSheet(NAMES.slice(0, 3), ['seats'], [['1'], ['Kept for Wanda'], ['3']]);
  const round = await save(await begin(sheet), { pace: anyTime(4), wordings: [{ subject: '{{seats}}', html: HTML }] });
  await move(round.id, 'start');
  await until(() => mail.received.length === 2);
  const { personId } = round.members[1]!;
  expect((await desk.call('DELETE', `/api/people/${personId}`)).status).toBeLessThan(300);
  for (let n = 0; n < 3; n += 1) await passTo(15 * MINUTE + 1000);
  await until(() => mail.received.length === 3);
  expect((await read(round.id)).members.map(({ recipient }) => recipient.name)).toEqual([NAMES[0], NAMES[2]]);
  expect(mail.received.slice(1).map(({ parsed }) => parsed.subject)).toEqual(['1', '3']);
  expect(desk.sqlite.prepare("select count(*) from round_member where columns like '%Wanda%'").pluck().get()).toBe(0);
});

test('what reminds of a round reminds of each of its messages, and what follows it follows each', async () => {
  const template = await desk.json<TemplateView>('POST', '/api/templates', {
    ...{ name: 'A reminder', subject: '', html: '<p>Dear {{first name}}</p>', reminder: null },
  });
  const reminder = { when: 'in 2 days', zone: 'UTC', condition: 'not-replied' as const, note: '', byEmail: false };
  const step = { templateId: template.id, condition: 'not-replied' as const, workingDays: 1, time: '09:30' };
  const round = await written(NAMES.slice(0, 3), { reminder, plan: { zone: 'UTC', steps: [step] } });
  await move(round.id, 'start');
  await allSent(round.id);
  const { reminders, plans } = await desk.json<FollowupsView>('GET', '/api/followups');
  const messages = (await read(round.id)).members.map(({ messageId }) => messageId).sort();
  expect(reminders.map(({ message }) => message!.id).sort()).toEqual(messages);
  expect(plans).toHaveLength(3);
  const missing = { ...step, templateId: 99 };
  expect(
    await problem(
      'PUT',
      `/api/rounds/${round.id}`,
      planOf(await read(round.id), { plan: { zone: 'UTC', steps: [missing] } }),
    ),
  ).toMatchObject({ status: 422 });
});

test('who opted out holds nobody up when much was missed, and is not kept waiting by a pause', async () => {
  const before = await written(NAMES.slice(0, 1), { disclose: true });
  await move(before.id, 'start');
  await until(() => mail.received.length === 1);
  const round = await written([NAMES[1]!, NAMES[0]!, NAMES[2]!], { pace: anyTime(1), recentDays: 0 });
  await move(round.id, 'start');
  await until(() => mail.received.length === 2);
  await desk.visit(oneClickOf(mail.received[0]!), { method: 'POST', body: 'List-Unsubscribe=One-Click' });
  await passTo(12 * HOUR);
  for (let n = 0; n < 3; n += 1) await passTo(HOUR + 1000);
  await until(() => mail.received.length === 3);
  expect(mail.received.at(-1)!.to).toEqual([addressOf(NAMES[2]!)]);
  expect((await move(round.id, 'pause')).members.some(({ state }) => state === 'scheduled')).toBe(false);
});

test('the rest does not get a wording for which something is not known of them', async () => {
  const sheet = ofSheet(NAMES.slice(0, 4), ['seats'], [['1'], [''], [''], ['']]);
  const wordings = [
    { subject: 'A', html: HTML },
    { subject: 'B {{seats}}', html: HTML },
  ];
  let round = await save(await begin(sheet), { wordings, pace: anyTime(1) });
  const unfilled = round.members.filter((member) => member.unfilled.length > 0);
  const leftOut = unfilled.map(({ messageId }) => messageId);
  round = await desk.json('POST', `/api/rounds/${round.id}/leave-out`, { messageIds: leftOut, leftOut: true });
  await move(round.id, 'start');
  const { members } = await desk.json<RoundView>('POST', `/api/rounds/${round.id}/rest`, { wording: 1 });
  for (const member of members.filter((one) => !one.leftOut)) expect(member.unfilled).toEqual([]);
  for (let n = 0; n < 4; n += 1) await passTo(HOUR + 1000);
  await until(async () => (await read(round.id)).state === 'done');
  for (const { parsed } of mail.received) expect(parsed.subject).not.toContain('{{');
});

test('whoever is gone from a round makes room for another', async () => {
  const people = (from: number, count: number) => ({
    columns: [],
    recipients: Array.from({ length: count }, (_, n) => ({
      name: '',
      address: `guest${from + n}@rooms.example`,
      cells: [],
    })),
  });
  const whole = { name: 'Rooms', draftId: null, personIds: [], zone: 'UTC', ...people(0, 500) };
  const { id, members } = await desk.json<RoundView>('POST', '/api/rounds', whole);
  const add = (count: number) => desk.call('POST', `/api/rounds/${id}/recipients`, people(500, count));
  expect((await add(1)).status).toBe(422);
  for (const { messageId } of members.slice(0, 2)) await desk.call('DELETE', `/api/drafts/${messageId}`);
  expect((await add(3)).status).toBe(422);
  expect((await add(2)).status).toBe(200);
  expect((await read(id)).members).toHaveLength(500);
});

test('a round of which somebody is gone from between can be saved, and grow', async () => {
  const round = await written(NAMES.slice(0, 4), { wordings: ['A', 'B'].map((subject) => ({ subject, html: HTML })) });
  await desk.call('DELETE', `/api/drafts/${round.members[1]!.messageId}`);
  const saved = await save(await read(round.id), { name: 'Another name' });
  expect(saved.members.map(({ recipient }) => recipient.name)).toEqual([NAMES[0], NAMES[2], NAMES[3]]);
  const more = { columns: [], recipients: [{ name: NAMES[4]!, address: addressOf(NAMES[4]!), cells: [] }] };
  const grown = await desk.json<RoundView>('POST', `/api/rounds/${round.id}/recipients`, more);
  expect(grown.members.map(({ recipient }) => recipient.name).at(-1)).toBe(NAMES[4]);
  expect((await save(grown, {})).members.map(({ wording }) => wording)).toEqual(
    grown.members.map(({ wording }) => wording),
  );
});
