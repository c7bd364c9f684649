import type { ReportView, TemplateRow, TemplateView } from '@kiraku/core/contract';
import { DAY, HOUR } from '@kiraku/core/time';
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

const report = (period = 'quarter') =>
  desk.json<ReportView>('GET', `/api/reports?period=${period}&zone=Europe/Amsterdam`);

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

  desk.clock.advance(2 * DAY);
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

test('a report looks as far back as it is asked to', async () => {
  const longAgo = await sent('Long ago');
  await sent('Lately');
  desk.clock.advance(5 * DAY);
  desk.sqlite.prepare('update message set sent_at = sent_at - ? where id = ?').run(60 * DAY, longAgo);
  const messages = async (period: string) => (await report(period)).messages;
  expect([await messages('month'), await messages('quarter'), await messages('all')]).toEqual([1, 2, 2]);
});

test('a period or a zone that there is not is refused, with words for it', async () => {
  const refused = await desk.call('GET', '/api/reports?period=century&zone=Mars/Base');
  expect(refused.status).toBe(422);
  expect(JSON.stringify(await refused.json())).toContain('There is no such time zone');
});
