import type { ReminderView, RoundView, SummarySettings, SummaryView } from '@kiraku/core/contract';
import { roundPlanOf } from '@kiraku/core/rounds';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';
import { SummaryMail } from '@kiraku/server/summary/summaryMail';
import { ACCOUNT, desk, mail, to, trackingUrlsOf, useDesk } from './harness.js';
import { until } from './until.js';

const LINK = '<p><a href="https://tallowreed.example/plan">fitting plan</a></p>';
/** Monday, 7 June 2027, 9:00 in Helsinki. */
const MONDAY = Date.UTC(2027, 5, 7, 6);
const DAILY: SummarySettings = {
  weekdays: [0, 1, 2, 3, 4],
  time: '07:30',
  zone: 'Europe/Helsinki',
  evenIfEmpty: false,
};

useDesk('each');
beforeEach(() => {
  desk.clock.stop();
  desk.clock.advance(MONDAY - desk.clock.now());
});

async function sent(subject: string): Promise<number> {
  const { id } = await desk.send({ recipients: [to('marit@lindqvist.example', 'Marit Oakes')], subject, html: LINK });
  await desk.sent(id);
  return id;
}

async function look(subject: string, at: 'image' | 'link'): Promise<void> {
  const { image, links } = trackingUrlsOf(mail.received.findLast((one) => one.parsed.subject === subject)!);
  await desk.visit(at === 'image' ? image! : links[0]!, {});
}

const summary = () => desk.json<SummaryView>('GET', '/api/summary?zone=Europe/Helsinki');
const save = (settings: SummarySettings) => desk.json<SummarySettings>('PUT', '/api/settings/summary', settings);
const check = () => desk.get(SummaryMail).check();
const emailed = () => mail.received.filter(({ parsed }) => parsed.subject?.startsWith('Summary: '));

test('it says whom to contact, what is due, what has happened, what shows no sign, and how it is going', async () => {
  expect(await summary()).toMatchObject({ isEmpty: true, title: 'Nothing to do, and nothing new', parts: [] });
  await sent('Unread');
  const id = await sent('Panels');
  desk.clock.advance(8 * DAY);
  await look('Panels', 'image');
  await look('Panels', 'link');
  await desk.json<ReminderView[]>('POST', '/api/reminders', {
    messageIds: [id],
    when: 'in 2 hours',
    zone: 'Europe/Helsinki',
    condition: 'always',
    note: 'Ask for the plan',
    byEmail: false,
  });
  const view = await summary();
  expect(view).toMatchObject({
    isEmpty: false,
    title: '1 person to contact, 1 reminder due, activity on 1 message',
    parts: [
      { title: 'Contact next', lines: [{ text: 'Marit Oakes', path: `/sent/${id}` }], more: null },
      { title: 'Due', lines: [{ path: `/sent/${id}` }] },
      { title: 'Since 8 Jun', lines: [{ text: '“Panels” to Marit Oakes', detail: 'Clicked once, opened once' }] },
      { title: 'No sign of reading', lines: [{ text: '1 message with no sign for more than a week' }] },
      { title: 'The last 30 days', lines: [{ text: expect.stringMatching(/^Read: 1 of 2, 50 %/) }, {}, {}] },
    ],
  });
  expect(view.parts[1]!.lines[0]!.detail).toContain('Ask for the plan');
});

test('it is emailed on its weekdays at its hour, once, as text and with links, and nothing in it is tracked', async () => {
  await save(DAILY);
  expect(emailed()).toEqual([]);
  const id = await sent('Panels');
  desk.clock.advance(HOUR);
  await look('Panels', 'link');
  desk.clock.advance(21 * HOUR);
  await check();
  expect(emailed()).toEqual([]);
  desk.clock.advance(HOUR);
  await check();
  await check();
  const [one, ...others] = emailed();
  expect(others).toEqual([]);
  expect(one!.parsed.subject).toBe('Summary: 1 person to contact, activity on 1 message');
  expect(one!.parsed.to).toMatchObject({ value: [{ address: one!.parsed.from!.value[0]!.address }] });
  expect(one!.parsed.text).toContain(`- “Panels” to Marit Oakes\n  Clicked once\n  http://`);
  expect(one!.parsed.html).toMatch(new RegExp(`<a href="http://[^"]+/sent/${id}"`));
  expect(one!.parsed.html).not.toContain(desk.config.publicUrl);
  expect(one!.parsed.html).not.toContain('<img');
});

test('with nothing to say it is left out, or says so where that is wanted', async () => {
  await save(DAILY);
  desk.clock.advance(DAY);
  await check();
  expect(emailed()).toEqual([]);
  await save({ ...DAILY, evenIfEmpty: true });
  desk.clock.advance(DAY);
  await check();
  expect(emailed().map(({ parsed }) => parsed.subject)).toEqual(['Summary: Nothing to do, and nothing new']);
});

test('what was missed while Kiraku did not run is sent once at the next start, and over the weekend nothing is', async () => {
  await save({ ...DAILY, evenIfEmpty: true });
  // Saturday: Tuesday to Friday were missed.
  desk.clock.advance(5 * DAY);
  await check();
  await check();
  expect(emailed()).toHaveLength(1);
  desk.clock.advance(DAY);
  await check();
  expect(emailed()).toHaveLength(1);
});

test('what is new is so since the last one, whenever that came and whatever was chosen meanwhile', async () => {
  const since = async () => (await summary()).from;
  expect(await since()).toBe(desk.clock.now() - 7 * DAY);
  await save({ ...DAILY, evenIfEmpty: true });
  expect(await since()).toBe(desk.clock.now() - 7 * DAY);
  // Four hours late, as the machine was off.
  desk.clock.advance(DAY + 3 * HOUR);
  await check();
  const emailedAt = desk.clock.now();
  desk.clock.advance(HOUR);
  await save({ ...DAILY, weekdays: [1, 2] });
  expect(await since()).toBe(emailedAt);
});

test('one that the mail server did not take is sent again, and one can be sent at any time', async () => {
  await save({ ...DAILY, evenIfEmpty: true });
  desk.clock.advance(DAY);
  mail.refusals.set(ACCOUNT.address, { responseCode: 451, message: 'Try again later' });
  await check();
  expect((await desk.call('POST', '/api/summary/email?zone=Europe/Helsinki')).status).toBe(502);
  mail.refusals.delete(ACCOUNT.address);
  desk.clock.advance(6 * MINUTE);
  await check();
  expect(emailed()).toHaveLength(1);
  expect((await desk.call('POST', '/api/summary/email?zone=Europe/Helsinki')).status).toBe(204);
  expect(emailed()).toHaveLength(2);
});

test('weekdays, hours and zones that there are not are refused', async () => {
  for (const wrong of [{ weekdays: [7] }, { weekdays: [1, 1] }, { time: '24:00' }, { zone: 'Mars/Base' }])
    expect((await desk.call('PUT', '/api/settings/summary', { ...DAILY, ...wrong })).status).toBe(422);
  expect(await desk.json('GET', '/api/settings/summary')).toMatchObject({ weekdays: [] });
});

test('rounds that are under way are in it, until nothing of them waits', async () => {
  const recipients = ['a', 'b', 'c'].map((name) => ({ name, address: `${name}@cafe.example`, cells: [] }));
  const asked = { name: 'Quieter cafés', draftId: null, personIds: [], columns: [], recipients, zone: 'UTC' };
  const { id, ...round } = await desk.json<RoundView>('POST', '/api/rounds', asked);
  const part = async () => (await summary()).parts.find(({ title }) => title === 'Rounds under way');
  expect(await part()).toBeUndefined();
  await desk.json('PUT', `/api/rounds/${id}`, {
    ...roundPlanOf(round),
    wordings: [{ subject: 'Panels', html: LINK }],
    pace: { ...round.pace, kind: 'hourly', perHour: 1, fromHour: 0, toHour: 24 },
    revision: round.revision,
  });
  await desk.json('POST', `/api/rounds/${id}/start`);
  await until(async () => (await part())?.lines[0]?.detail.includes('1 sent') ?? false);
  expect(await part()).toEqual({
    title: 'Rounds under way',
    lines: [
      {
        text: 'Quieter cafés',
        detail: '3 people, each with a message of their own · 1 sent · 2 wait',
        path: `/rounds/${id}`,
      },
    ],
    more: null,
  });
  await desk.json('POST', `/api/rounds/${id}/pause`);
  expect((await part())!.lines[0]!.detail).toMatch(/ · paused$/);
  await desk.json('POST', `/api/rounds/${id}/stop`);
  expect(await part()).toBeUndefined();
});
