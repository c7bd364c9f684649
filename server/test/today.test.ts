import type { ListTotals, TodayView } from '@kiraku/core/contract';
import { filterOf, NO_SIGN_VIEW } from '@kiraku/core/sent';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';
import { trackingUrlsOf, to, desk, mail, useDesk } from './harness.js';

const MARIT = 'marit@lindqvist.example';
const ADA = 'ada@quillworks.example';
const LINK = '<p><a href="https://tallowreed.example/plan">fitting plan</a></p>';

useDesk('each');
beforeEach(() => {
  desk.clock.stop();
});

async function sent(address: string, subject: string): Promise<number> {
  const { id } = await desk.send({ recipients: [to(address)], subject, html: LINK });
  await desk.sent(id);
  desk.clock.advance(HOUR);
  return id;
}

async function look(subject: string, at: 'image' | 'link', version = 139): Promise<void> {
  const { image, links } = trackingUrlsOf(mail.received.findLast((one) => one.parsed.subject === subject)!);
  const headers = {
    'user-agent': `Mozilla/5.0 (X11; Linux x86_64; rv:${version}.0) Gecko/20100101 Firefox/${version}.0`,
  };
  await desk.visit(at === 'image' ? image! : links[0]!, { headers });
}

const today = () => desk.json<TodayView>('GET', '/api/today');
const addresses = ({ proposals }: TodayView) => proposals.map(({ person }) => person.address);

test('who is busy with a message is proposed, the most pressing first, with the reasons that make the score', async () => {
  await sent(MARIT, 'Panels');
  await sent(ADA, 'Curtains');
  expect(await today()).toMatchObject({ proposals: [], more: 0 });
  await look('Panels', 'link');
  desk.clock.advance(2 * DAY);
  await look('Curtains', 'image');
  const view = await today();
  expect(addresses(view)).toEqual([ADA, MARIT]);
  expect(view.proposals[0]).toMatchObject({
    message: { subject: 'Curtains' },
    parts: [{ name: 'reading' }, { name: 'opened' }],
  });
  for (const { score, parts } of view.proposals) expect(score).toBe(parts.reduce((sum, { points }) => sum + points, 0));
});

test('of several recipients only the one who did something is proposed', async () => {
  const { id } = await desk.send({ recipients: [to(MARIT), to(ADA, '', 'cc')], subject: 'Both' });
  await desk.sent(id);
  desk.clock.advance(HOUR);
  await desk.visit(trackingUrlsOf(mail.received.find((one) => one.to.includes(ADA))!).image!);
  expect(addresses(await today())).toEqual([ADA]);
});

test('somebody snoozed comes back automatically, somebody resolved with the next thing they do', async () => {
  await sent(MARIT, 'Panels');
  await look('Panels', 'image');
  const { person } = (await today()).proposals[0]!;
  await desk.call('PUT', `/api/people/${person.id}/snooze`, { until: desk.clock.now() + HOUR });
  expect(addresses(await today())).toEqual([]);
  desk.clock.advance(HOUR);
  expect(addresses(await today())).toEqual([MARIT]);

  await desk.call('PUT', `/api/people/${person.id}/resolved`, { resolved: true });
  expect(addresses(await today())).toEqual([]);
  desk.clock.advance(MINUTE);
  await look('Panels', 'link', 140);
  expect((await today()).proposals).toMatchObject([{ parts: [{ name: 'reading' }, { name: 'link' }] }]);
  await desk.call('PUT', `/api/people/${person.id}/resolved`, { resolved: false });
  expect((await today()).proposals[0]!.parts.map(({ name }) => name)).toContain('opened');
});

test('everybody whom a message went to is resolved at once, and back', async () => {
  const { id } = await desk.send({ recipients: [to(MARIT), to(ADA, '', 'cc')], subject: 'Both' });
  await desk.sent(id);
  desk.clock.advance(HOUR);
  for (const { image } of mail.received.map(trackingUrlsOf)) await desk.visit(image!);
  expect(addresses(await today()).sort()).toEqual([ADA, MARIT]);
  const resolve = (body: object) => desk.call('PUT', '/api/people/resolved', body);
  expect((await resolve({ messageId: id, resolved: true })).status).toBe(204);
  expect(addresses(await today())).toEqual([]);
  await resolve({ messageId: id, resolved: false });
  expect(addresses(await today())).toHaveLength(2);
  expect((await resolve({ messageId: 999, resolved: true })).status).toBe(404);
});

test('what was archived proposes nobody', async () => {
  const id = await sent(MARIT, 'Panels');
  await look('Panels', 'image');
  await desk.call('POST', '/api/messages/actions', { ids: [id], action: 'archive' });
  expect(addresses(await today())).toEqual([]);
});

test('what shows no sign after some days is listed, until it does', async () => {
  await sent(MARIT, 'Panels');
  expect((await today()).noSignTotal).toBe(0);
  desk.clock.advance(8 * DAY);
  expect(await today()).toMatchObject({ noSignTotal: 1 });
  // The list that the number leads to shows as many.
  const { from, to, ...view } = filterOf(NO_SIGN_VIEW, desk.clock.now(), 'UTC');
  expect(from).toBeNull();
  const behind = await desk.json<ListTotals>(
    'GET',
    `/api/messages/list/totals?show=${view.show}&sort=${view.sort}&to=${to}`,
  );
  expect(behind.total).toBe(1);
  await look('Panels', 'image');
  expect((await today()).noSignTotal).toBe(0);
});

test.each([
  ['/api/people/999/snooze', { until: null }, 404],
  ['/api/people/1/snooze', { until: 'soon' }, 422],
  ['/api/people/1/resolved', {}, 422],
])('PUT %s %j is refused', async (path, body, status) => {
  expect((await desk.call('PUT', path, body)).status).toBe(status);
});
