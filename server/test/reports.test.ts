import {
  RATES,
  type ListTotals,
  type ReportView,
  type SubjectOutcome,
  type TemplateRow,
  type TemplateView,
} from '@kiraku/core/contract';
import { listBehind, type Counted } from '@kiraku/core/reports';
import { DEFAULT_VIEW, filterOf, type ListView } from '@kiraku/core/sent';
import { DAY, HOUR, weekHourOf } from '@kiraku/core/time';
import { ReportsService } from '@kiraku/server/reports/reports.service';
import { carried, upload } from './files/library.js';
import { Desk, trackingUrlsOf, to, desk, mail, useDesk } from './harness.js';

const LINK = '<p><a href="https://tallowreed.example/plan">fitting plan</a></p>';

useDesk('each');
beforeEach(() => {
  desk.clock.stop();
});

async function sent(subject: string, content: Parameters<Desk['send']>[0] = {}): Promise<number> {
  const { id } = await desk.send({ recipients: [to('marit@lindqvist.example')], subject, html: LINK, ...content });
  await desk.sent(id);
  return id;
}

async function look(subject: string, at: 'image' | 'link'): Promise<void> {
  const { image, links } = trackingUrlsOf(mail.received.findLast((one) => one.parsed.subject === subject)!);
  await desk.visit(at === 'image' ? image! : links[0]!, {});
}

const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** What an address says of a filter that is asked for. */
function queryOf(view: ListView, left: readonly string[] = []): string {
  const entries = Object.entries(filterOf(view, desk.clock.now(), ZONE));
  const named = entries.filter(([name, value]) => value !== null && !left.includes(name));
  return new URLSearchParams(named.map(([name, value]): [string, string] => [name, String(value)])).toString();
}

const NOT_OF_REPORTS = ['show', 'sentWith', 'archived', 'sort', 'direction'];
const report = (view: Partial<ListView> = {}) =>
  desk.json<ReportView>('GET', `/api/reports?${queryOf({ ...DEFAULT_VIEW, ...view }, NOT_OF_REPORTS)}`);

test('what was sent is told by what became of it, as far as there was time and it was tracked', async () => {
  const template = await desk.json<TemplateView>('POST', '/api/templates', {
    name: 'First approach',
    subject: 'Felt',
    html: '<p>Dear reader</p>',
    reminder: null,
  });
  await sent('Panels', { templateId: template.id });
  await sent('Curtains', { html: '<p>No link here</p>' });
  await sent('Untracked', { trackOpens: false, trackClicks: false });
  const removed = await sent('Removed');
  const archived = await sent('Archived');
  await desk.call('POST', '/api/messages/actions', { ids: [removed], action: 'delete' });
  await desk.call('POST', '/api/messages/actions', { ids: [archived], action: 'archive' });
  desk.clock.advance(3 * HOUR);
  await look('Panels', 'image');
  await look('Archived', 'link');
  expect(await report()).toMatchObject({ messages: 0, tooRecent: 4, weeks: [], templates: [] });

  desk.clock.advance(3 * DAY);
  await sent('Fresh');
  const view = await report();
  expect(view).toMatchObject({
    messages: 4,
    tooRecent: 1,
    read: { n: 2, of: 3 },
    clicked: { n: 1, of: 2 },
    viewed: { n: 0, of: 0, share: null },
    replied: { n: 0, of: 4 },
    untilOpened: { n: 1, median: 3 * HOUR },
    untilReplied: null,
    opening: { total: 1, confidence: 'too-few' },
  });
  expect(view.weeks.at(-1)).toMatchObject({ messages: 4, read: 2, replied: 0 });
  expect(view.templates).toMatchObject([{ name: 'First approach', messages: 1, read: { n: 1, of: 1 } }]);

  const [row] = await desk.json<TemplateRow[]>('GET', '/api/templates');
  expect(row).toMatchObject({ id: template.id, messages: 1, replied: 0, lastSentAt: expect.any(Number) });
  await desk.call('DELETE', `/api/templates/${template.id}`);
  expect((await report()).templates).toMatchObject([{ name: 'First approach' }]);
});

test('a report looks as far back as it is asked to, and compares with as many days before', async () => {
  const longAgo = await sent('Long ago');
  desk.clock.advance(HOUR);
  await look('Long ago', 'image');
  await sent('Lately');
  desk.clock.advance(5 * DAY);
  const move = desk.sqlite.prepare(
    'update message set sent_at = sent_at - @ms, first_open_at = first_open_at - @ms where id = @id',
  );
  move.run({ ms: 30 * DAY, id: longAgo });
  const { before, ...month } = await report({ sent: '30-days' });
  expect(month).toMatchObject({ messages: 1, read: { n: 0 } });
  expect(before).toMatchObject({
    to: month.from,
    messages: 1,
    read: { n: 1, of: 1 },
    untilOpened: { n: 1 },
    changes: { read: { difference: -1 }, clicked: { difference: 0 }, viewed: null },
  });
  expect(await report({ sent: '90-days' })).toMatchObject({ messages: 2, before: { messages: 0 } });
  expect(await report()).toMatchObject({ messages: 2, from: null, before: null });
});

test('a report is narrowed as the list is, and each of its numbers leads to as many messages there', async () => {
  const template = await desk.json<TemplateView>('POST', '/api/templates', {
    name: 'First approach',
    subject: 'Felt',
    html: '<p>Dear reader</p>',
    reminder: null,
  });
  const file = await upload(desk, 'prices.txt', Buffer.from('Panels from 40'));
  await sent('Panels', { templateId: template.id });
  await sent('Archived');
  await sent('With a file', { files: [carried(file.id)] });
  await sent('No link', { html: '<p>Plain</p>' });
  await sent('To another', { recipients: [to('oda@quillworks.example')] });
  await sent('Untracked', { trackOpens: false, trackClicks: false });
  desk.clock.advance(HOUR);
  await look('Panels', 'link');
  await look('Archived', 'image');
  await look('To another', 'image');
  const archived = (await desk.json<{ messages: { id: number; subject: string }[] }>('GET', '/api/messages')).messages;
  const { id } = archived.find(({ subject }) => subject === 'Archived')!;
  await desk.call('POST', '/api/messages/actions', { ids: [id], action: 'archive' });
  desk.clock.advance(3 * DAY);
  await sent('Fresh');

  const total = async (view: ListView) =>
    (await desk.json<ListTotals>('GET', `/api/messages/list/totals?${queryOf(view)}`)).total;
  const views: Partial<ListView>[] = [
    {},
    { sent: '30-days' },
    { domain: 'lindqvist.example' },
    { template: template.id },
  ];
  const sizes: number[] = [];
  for (const part of [...views, { workingDays: true }]) {
    const view: ListView = { ...DEFAULT_VIEW, ...part };
    const { messages, from, to: end, ...rates } = await report(view);
    sizes.push(messages);
    const behind = (counted: Counted) => total(listBehind(view, { from, to: end }, counted));
    expect(await behind('sent')).toBe(messages);
    for (const name of RATES)
      expect([await behind(`${name}.n`), await behind(`${name}.of`)]).toEqual([rates[name].n, rates[name].of]);
    for (const [weekday, hours] of rates.opening.readTimes.entries())
      for (const [hour, count] of hours.entries()) {
        if (count === 0) continue;
        const firstOpenHour = weekHourOf(weekday, hour);
        expect(await total({ ...listBehind(view, { from, to: end }, 'sent'), firstOpenHour })).toBe(count);
      }
  }
  const onWorkingDay = ![0, 6].includes(new Date(desk.clock.now() - 3 * DAY).getDay());
  expect(sizes).toEqual([6, 6, 5, 1, onWorkingDay ? 6 : 0]);
  expect(await report()).toMatchObject({
    read: { n: 3, of: 5 },
    clicked: { n: 1, of: 4 },
    viewed: { n: 0, of: 1 },
    replied: { n: 0, of: 6 },
  });
});

test('reports that are asked for at once are made in turn, also while the thread of the last ones ends', async () => {
  await sent('Panels');
  desk.clock.advance(4 * DAY);
  const all = await Promise.all([report(), report({ sent: '30-days' }), report()]);
  expect(all.map(({ messages }) => messages)).toEqual([1, 1, 1]);
  const reports = desk.get(ReportsService);
  const ending = reports.release();
  expect(await reports.report(filterOf(DEFAULT_VIEW, desk.clock.now(), ZONE))).toMatchObject({ messages: 1 });
  await ending;
  expect(await report()).toMatchObject({ messages: 1 });
});

test('a zone that there is not, and what is no part of a report, is refused, with words for it', async () => {
  const refused = await desk.call('GET', '/api/reports?zone=Mars/Base');
  expect(refused.status).toBe(422);
  expect(JSON.stringify(await refused.json())).toContain('There is no such time zone');
  expect((await desk.call('GET', '/api/reports?show=opened')).status).toBe(422);
});

test('subjects that several messages have are compared, and each of their numbers leads to as many messages', async () => {
  for (const subject of ['Panels', 'Panels', 'Panels', 'Curtains', 'Curtains', 'Alone', '', '']) await sent(subject);
  await sent('Panels', { trackOpens: false, trackClicks: false });
  desk.clock.advance(HOUR);
  await look('Panels', 'image').catch(() => undefined);
  await look('Curtains', 'link');
  desk.clock.advance(4 * DAY);
  await sent('Panels');
  const view: ListView = { ...DEFAULT_VIEW, sent: '30-days' };
  const subjects = await desk.json<SubjectOutcome[]>('GET', `/api/reports/subjects?${queryOf(view, NOT_OF_REPORTS)}`);
  expect(subjects.map(({ subject, messages }) => [subject, messages])).toEqual([
    ['Panels', 4],
    ['Curtains', 2],
  ]);
  expect(subjects[1]).toMatchObject({ clicked: { n: 1, of: 2 }, read: { n: 1, of: 2 }, replied: { n: 0, of: 2 } });
  const days = await report({ sent: '30-days' });
  for (const { subject, ...outcome } of subjects)
    for (const name of ['read', 'clicked', 'replied'] as const)
      for (const what of ['n', 'of'] as const) {
        const list = { ...listBehind(view, days, `${name}.${what}`), subject };
        const { total } = await desk.json<ListTotals>('GET', `/api/messages/list/totals?${queryOf(list)}`);
        expect([subject, name, what, total]).toEqual([subject, name, what, outcome[name][what]]);
      }
});
