import {
  SORT_DIRECTIONS,
  type ListTotals,
  type MessagePage,
  type MessageSummary,
  type SavedView,
} from '@kiraku/core/contract';
import { placeAfter } from '@kiraku/core/sent';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';
import { SearchIndex } from '@kiraku/server/sent/searchIndex';
import { parse } from 'csv-parse/sync';
import { Desk, trackingUrlsOf, to, desk, mail, useDesk } from './harness.js';

const MARIT = 'marit@lindqvist.example';
const ADA = 'ada@quillworks.example';
const LINK = '<p><a href="https://tallowreed.example/plan">fitting plan</a></p>';

/** By subject. */
const ids: Record<string, number> = {};

useDesk('all');
beforeAll(async () => {
  desk.clock.stop();
  desk.clock.advance(-10 * DAY);
  await send('Unseen', { recipients: [to(MARIT, 'Marit Oakes')], note: 'Met at the fair' });
  desk.clock.advance(3 * DAY);
  await send('Opened', { recipients: [to(ADA, 'Ada Quill')], html: `<p>Crème brûlée</p>${LINK}` });
  await look('Opened', 'image');
  desk.clock.advance(4 * DAY);
  await send('Followed', { recipients: [to(MARIT, 'Marit Oakes'), to('jun@lindqvist.example', '', 'cc')], html: LINK });
  await look('Followed', 'link');
  await send('Plain', { recipients: [to(ADA)], trackOpens: false, trackClicks: false });
  mail.refusals.set('gone@ek.example', { responseCode: 550, message: '5.1.1 No such mailbox' });
  await send('Refused', { recipients: [to('gone@ek.example')] });
  await desk.get(SearchIndex).done();
});

async function send(subject: string, content: Parameters<Desk['send']>[0]): Promise<void> {
  ids[subject] = (await desk.send({ subject, ...content })).id;
  await desk.sent(ids[subject]);
  desk.clock.advance(HOUR);
}

async function look(subject: string, at: 'image' | 'link', agent = 'Firefox/139.0'): Promise<void> {
  const { image, links } = trackingUrlsOf(mail.received.findLast((one) => one.parsed.subject === subject)!);
  await desk.visit(at === 'image' ? image! : links[0]!, {
    headers: { 'user-agent': `Mozilla/5.0 (X11; Linux x86_64; rv:139.0) Gecko/20100101 ${agent}` },
  });
  desk.clock.advance(MINUTE);
}

/** The first page of a list, with how long it is. */
async function list(query: string): Promise<MessagePage & ListTotals> {
  const [page, totals] = await Promise.all([
    desk.json<MessagePage>('GET', `/api/messages?${query}`),
    desk.json<ListTotals>('GET', `/api/messages/list/totals?${query.replace(/&?(limit|cursor|among)=[^&]*/g, '')}`),
  ]);
  return { ...page, ...totals };
}
const subjects = (messages: MessageSummary[]) => messages.map(({ subject }) => subject);

test.each([
  ['', ['Refused', 'Plain', 'Followed', 'Opened', 'Unseen']],
  ['show=no-sign', ['Unseen']],
  ['show=opened', ['Followed', 'Opened']],
  ['show=not-replied', ['Followed', 'Opened']],
  ['show=clicked', ['Followed']],
  ['show=viewed', []],
  ['show=heating', []],
  ['show=bounced', ['Refused']],
  ['show=not-tracked', ['Plain']],
  ['show=scheduled', []],
  ['show=attention', ['Refused']],
  ['domain=LINDQVIST.example', ['Followed', 'Unseen']],
  ['domain=qvist.example', []],
  ['noted=true', ['Unseen']],
  ['link=fitting%20plan', ['Followed']],
  ['template=7', []],
  ['sort=sent&direction=asc', ['Unseen', 'Opened', 'Followed', 'Plain', 'Refused']],
  ['sort=timeToOpen', ['Opened', 'Refused', 'Plain', 'Followed', 'Unseen']],
  ['sort=timeToOpen&direction=asc', ['Opened', 'Unseen', 'Followed', 'Plain', 'Refused']],
  ['sort=clicks&show=opened', ['Followed', 'Opened']],
])('“%s” shows what it says', async (query, expected) => {
  const page = await list(query);
  expect(subjects(page.messages)).toEqual(expected);
  expect(page).toMatchObject({ total: expected.length, everything: 5, nextCursor: null });
});

test('of several recipients it is said who acted last, and how many show no sign', async () => {
  const { messages } = await list('');
  const of = (subject: string) => messages.find((message) => message.subject === subject)!;
  expect(of('Followed')).toMatchObject({
    lastActor: { name: '', address: 'jun@lindqvist.example' },
    firstReplier: null,
    withoutSign: 1,
  });
  expect(of('Opened')).toMatchObject({ lastActor: null, withoutSign: 0 });
  expect(of('Unseen')).toMatchObject({ lastActor: null, withoutSign: 1 });
});

test('a person, a company and a period narrow it', async () => {
  const [marit] = await desk.json<{ id: number }[]>('GET', '/api/people?words=marit');
  expect(subjects((await list(`person=${marit!.id}`)).messages)).toEqual(['Followed', 'Unseen']);
  desk.sqlite.prepare('update person set company = ? where id = ?').run('Lindqvist', marit!.id);
  expect(subjects((await list('company=Lindqvist&show=no-sign')).messages)).toEqual(['Unseen']);
  const { sentAt } = (await list('show=clicked')).messages[0]!;
  expect(subjects((await list(`from=${sentAt}`)).messages)).toEqual(['Refused', 'Plain', 'Followed']);
  expect(subjects((await list(`to=${sentAt}`)).messages)).toEqual(['Opened', 'Unseen']);
});

test('heating up is known from the last hour', async () => {
  for (const agent of ['Firefox/140.0', 'Firefox/141.0', 'Firefox/142.0']) await look('Unseen', 'image', agent);
  expect(subjects((await list('show=heating')).messages)).toEqual(['Unseen']);
  desk.clock.advance(HOUR);
  expect((await list('show=heating')).total).toBe(0);
});

test.each(['lastActivity', 'sent', 'opens', 'timeToOpen', 'timeToReply'] as const)(
  'pages by %s are without gap or repetition, both ways',
  async (sort) => {
    for (const direction of SORT_DIRECTIONS) {
      const whole = await list(`sort=${sort}&direction=${direction}`);
      const parts: string[] = [];
      let cursor: string | null = '';
      while (cursor !== null) {
        const page: MessagePage = await list(
          `sort=${sort}&direction=${direction}&limit=2${cursor && `&cursor=${cursor}`}`,
        );
        parts.push(...subjects(page.messages));
        cursor = page.nextCursor;
        // A page of the desk that lets rows go names the place by itself.
        if (cursor !== null) expect(placeAfter(page.messages.at(-1)!, { sort, direction })).toBe(cursor);
      }
      expect(parts).toEqual(subjects(whole.messages));
    }
  },
);

describe('search', () => {
  test.each([
    ['creme brulee', ['Opened']],
    ['CRÈM', ['Opened']],
    ['quill', ['Plain', 'Opened']],
    ['fair', ['Unseen']],
    ['marit followed', ['Followed']],
    ['lindqvist', ['Followed', 'Unseen']],
    ['"OR* NEAR( -x', []],
    ['   ', []],
    ["'; drop table message; --", []],
  ])('“%s” finds', async (words, expected) => {
    const page = await list(`words=${encodeURIComponent(words)}&sort=sent`);
    expect(subjects(page.messages)).toEqual(expected);
  });

  test('the best match comes first, and shows where the words stand', async () => {
    const { messages, found } = await list('words=plan%20fitting&sort=relevance');
    expect(new Set(subjects(messages))).toEqual(new Set(['Followed', 'Opened']));
    expect(found[ids['Followed']!]).toContain('fitting');
  });

  test('a note that is changed is found by its new words only', async () => {
    await desk.call('PUT', `/api/messages/${ids['Opened']}/note`, { note: 'Prefers ochre' });
    await desk.get(SearchIndex).done();
    expect(subjects((await list('words=ochre')).messages)).toEqual(['Opened']);
    await desk.call('PUT', `/api/messages/${ids['Opened']}/note`, { note: '' });
    await desk.get(SearchIndex).done();
    expect((await list('words=ochre')).total).toBe(0);
  });

  test('what happens to a message leaves the index as it is; what has changed since is taken in after a start', async () => {
    const id = ids['Opened']!;
    const upTo = () => desk.sqlite.prepare("select value from setting where key = 'search.indexedUpTo'").pluck().get();
    const noted = (note: string) => {
      desk.sqlite.prepare('update message set note = ? where id = ?').run(note, id);
      desk.sqlite.prepare('insert into change (at, message_id) values (?, ?)').run(desk.clock.now(), id);
    };
    const before = upTo();
    const [opened] = (await desk.detail(id)).events;
    for (const counted of [false, null]) await desk.call('PUT', `/api/events/${opened!.eventId}/override`, { counted });
    await desk.get(SearchIndex).done();
    expect(desk.sqlite.prepare('select max(id) from change').pluck().get()).toBeGreaterThan(Number(before));
    expect(upTo()).toBe(before);

    noted('Likes umber');
    await desk.close();
    await desk.open();
    await desk.get(SearchIndex).done();
    expect(subjects((await list('words=umber')).messages)).toEqual(['Opened']);
    noted('');
  });

  test('what is searched survives a restart, and is built where there was none', async () => {
    desk.sqlite.exec("delete from message_text; delete from setting where key = 'search.indexedUpTo'");
    await desk.close();
    await desk.open();
    await desk.get(SearchIndex).done();
    expect(subjects((await list('words=creme')).messages)).toEqual(['Opened']);
  });
});

test('what is archived, deleted or muted comes back as it was', async () => {
  const id = ids['Plain']!;
  const applyAction = (action: string) => desk.call('POST', '/api/messages/actions', { ids: [id], action });
  const all = await list('');
  await applyAction('archive');
  expect(subjects((await list('')).messages)).not.toContain('Plain');
  expect(subjects((await list('archived=true')).messages)).toEqual(['Plain']);
  await applyAction('unarchive');
  await applyAction('delete');
  expect(await list('')).toMatchObject({ total: 4, everything: 4 });
  expect((await list('archived=true')).total).toBe(0);
  await applyAction('restore');
  await applyAction('mute');
  expect((await list('show=not-tracked')).messages).toMatchObject([{ muted: true }]);
  await applyAction('unmute');
  expect(await list('')).toEqual(all);
});

test('nothing notifies of a message that was muted, and again when that is over', async () => {
  const notifies = async () => (await desk.detail(ids['Followed']!)).events.map((event) => event.notifies);
  const applyAction = (action: string) =>
    desk.call('POST', '/api/messages/actions', { ids: [ids['Followed']], action });
  expect(await notifies()).toContain(true);
  await applyAction('mute');
  expect(new Set(await notifies())).toEqual(new Set([false]));
  await applyAction('unmute');
  expect(await notifies()).toContain(true);

  // A person is muted as well.
  const [jun] = await desk.json<{ id: number }[]>('GET', '/api/people?words=jun');
  const details = {
    name: 'Jun Falk',
    company: 'Lindqvist',
    phone: '+44 1632 960100',
    zone: 'Europe/Dublin',
    note: 'By letter only',
  };
  await desk.call('PUT', `/api/people/${jun!.id}`, { ...details, muted: true });
  expect(new Set(await notifies())).toEqual(new Set([false]));
  await desk.call('PUT', `/api/people/${jun!.id}`, { ...details, muted: false });
  expect(await notifies()).toContain(true);
  expect(await desk.json('GET', `/api/people/${jun!.id}`)).toMatchObject({ ...details, mutedAt: null });
  expect(
    (await desk.call('PUT', `/api/people/${jun!.id}`, { ...details, muted: false, phone: 'call me' })).status,
  ).toBe(422);
});

test('of some messages, it says which a filter shows', async () => {
  const among = Object.values(ids).join(',');
  const page = await list(`among=${among}&show=opened`);
  expect(page).toMatchObject({ total: 3, everything: 5 });
  // The total is that of the whole list, not of those that were asked for.
  expect(await list(`among=${ids['Refused']}&show=opened`)).toMatchObject({ messages: [], total: 3 });
  expect(new Set(subjects(page.messages))).toEqual(new Set(['Unseen', 'Opened', 'Followed']));
});

test('views are kept by their names', async () => {
  const save = (name: string, query: string) => desk.json<SavedView>('POST', '/api/saved-views', { name, query });
  const { id } = await save('Unopened', 'show=no-sign');
  await save('Unopened', 'show=no-sign&sent=last-month');
  expect(await desk.json('GET', '/api/saved-views')).toEqual([
    { id, name: 'Unopened', query: 'show=no-sign&sent=last-month', isStart: false },
  ]);
  const other = await save('Replied', 'show=replied');
  const start = (of: number, isStart: boolean) => desk.call('PUT', `/api/saved-views/${of}/start`, { isStart });
  const starts = async () =>
    (await desk.json<SavedView[]>('GET', '/api/saved-views')).filter(({ isStart }) => isStart).map(({ name }) => name);
  await start(id, true);
  expect(await starts()).toEqual(['Unopened']);
  // Sent begins with one view at most.
  await start(other.id, true);
  expect(await starts()).toEqual(['Replied']);
  await start(other.id, false);
  expect(await starts()).toEqual([]);
  expect((await start(999, true)).status).toBe(404);
  expect((await desk.call('DELETE', `/api/saved-views/${other.id}`)).status).toBe(204);
  expect((await desk.call('DELETE', `/api/saved-views/${id}`)).status).toBe(204);
  expect((await desk.call('DELETE', `/api/saved-views/${id}`)).status).toBe(404);
});

test('what a filter shows is exported: messages with their counts, and the activity to them', async () => {
  const sheet = async (path: string) =>
    parse(await (await desk.call('GET', `/api/export/${path}`)).text(), { columns: true }) as Record<string, string>[];
  const messages = await sheet('messages.csv?show=clicked');
  expect(messages).toMatchObject([
    { subject: 'Followed', clicks: '1', recipients: `${MARIT}, jun@lindqvist.example`, tracked: 'true' },
  ]);
  const events = await sheet('events.csv?show=clicked');
  expect(events).toMatchObject([{ kind: 'clicked', link_text: 'fitting plan', subject: 'Followed' }]);
  const lines = await (await desk.call('GET', '/api/export/messages.jsonl')).text();
  expect(lines.trim().split('\n')).toHaveLength(5);
});

test.each([
  '/api/messages?show=everything',
  '/api/messages?sort=subject',
  '/api/messages?from=yesterday',
  '/api/messages?among=1,x',
  `/api/messages?words=${'x'.repeat(201)}`,
  '/api/messages?direction=up',
  '/api/messages?unknown=1',
])('%s is refused in words', async (path) => {
  expect((await desk.call('GET', path)).status).toBe(422);
});

test('of what matches, people and subjects come before messages, though those are newer', async () => {
  await send('Ochre panels', { recipients: [to(ADA)] });
  await send('Later', { recipients: [to(ADA)], html: '<p>We also have it in ochre.</p>' });
  await send('Ochre curtains', { recipients: [to(ADA)] });
  await send('Last', { recipients: [to(ADA)], note: 'Likes ochre' });
  await desk.get(SearchIndex).done();
  const matched = await list('words=ochre&sort=relevance');
  expect(subjects(matched.messages)).toEqual(['Ochre curtains', 'Ochre panels', 'Last', 'Later']);
  expect(matched.total).toBe(4);
  const first = await list('words=ochre&sort=relevance&limit=3');
  const second = await list(`words=ochre&sort=relevance&limit=3&cursor=${first.nextCursor}`);
  expect(subjects([...first.messages, ...second.messages])).toEqual(subjects(matched.messages));
  // Narrowed, the order stays.
  expect(subjects((await list('words=ochre%20ada&sort=relevance&noted=true')).messages)).toEqual(['Last']);
});

test('whole words come before words that only begin so, and all of them are found', async () => {
  await send('Reed', { recipients: [to(ADA)] });
  await send('Reeds', { recipients: [to(ADA)] });
  await send('Mats', { recipients: [to(ADA)], html: '<p>Woven of reed.</p>' });
  await send('Rugs', { recipients: [to(ADA)], html: '<p>Woven of reeds.</p>' });
  await desk.get(SearchIndex).done();
  const matched = await list('words=reed&sort=relevance');
  expect(subjects(matched.messages)).toEqual(['Reed', 'Reeds', 'Mats', 'Rugs']);
  expect(matched.total).toBe(4);
});
