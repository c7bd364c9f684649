import { createTransport } from 'nodemailer';
import ICAL from 'ical.js';
import { CONDITIONS } from '@kiraku/core/contract';
import type {
  CalendarRequest,
  CalendarView,
  DraftPlan,
  FollowupsView,
  HealthView,
  LiveUpdate,
  MessageSummary,
  ReminderView,
  TemplateView,
} from '@kiraku/core/contract';
import { holds } from '@kiraku/core/followups';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';
import { Following } from '@kiraku/server/following/following';
import { FollowupsRepository } from '@kiraku/server/followups/followups.repository';
import { FollowupsService } from '@kiraku/server/followups/followups.service';
import { UnitOfWork } from '@kiraku/server/store/unitOfWork';
import { LiveService } from '@kiraku/server/notifications/live.service';
import { carried, fileLinks, pdf, upload } from '../files/library.js';
import { ACCOUNT, trackingUrlsOf, to, type ReceivedMail, desk, mail, useDesk } from '../harness.js';
import { until } from '../until.js';

const MARIT = 'marit@lindqvist.example';
const ZONE = 'Europe/Helsinki';
/** A Monday, 12:00 in Helsinki. */
const MONDAY = Date.UTC(2026, 10, 30, 10);

useDesk('each');
beforeEach(async () => {
  desk.clock.stop();
  desk.clock.advance(MONDAY - desk.clock.now());
  await desk.call('PUT', '/api/settings/mailbox', {
    way: 'lmtp',
    host: '',
    port: 993,
    security: 'tls',
    user: '',
    folders: [],
    storesSent: false,
  });
});

const view = () => desk.json<FollowupsView>('GET', '/api/followups');
/** Time goes on, and what is due is looked for. */
const later = (ms: number) => {
  desk.clock.advance(ms);
  desk.get(Following).wake();
};
const reminder = (change = {}) => ({
  when: 'in 2 days',
  zone: ZONE,
  condition: 'not-replied',
  note: '',
  byEmail: false,
  ...change,
});
const template = (
  name = 'A nudge',
  html = '<p>Dear {{first name|you}}, did you see it?</p>',
  files: TemplateView['files'] = [],
) => desk.json<TemplateView>('POST', '/api/templates', { name, subject: '', html, files });

async function sent(change = {}): Promise<{ id: number; header: string }> {
  const { id } = await desk.send({ recipients: [to(MARIT, 'Marit Oakes')], ...change });
  const { copies } = await desk.sent(id);
  return { id, header: copies[0]!.messageIdHeader };
}

/** Waits until the newest message of so many has left. */
async function messages(count: number): Promise<MessageSummary[]> {
  for (const end = Date.now() + 20_000; Date.now() < end;) {
    const { messages } = await desk.json<{ messages: MessageSummary[] }>('GET', '/api/messages?sort=sent');
    if (messages.length >= count && messages.every(({ state }) => state === 'sent' || state === 'failed'))
      return messages;
    await new Promise((resolve) => setTimeout(resolve, 30));
  }
  throw new Error(`Not ${count} letters`);
}

/** Resolves when all that was to leave has left: a message sent after it comes last. */
async function everythingLeft(): Promise<ReceivedMail[]> {
  const last = `last${mail.received.length}@x.example`;
  const { id } = await desk.send({ recipients: [to(last)], subject: 'Last' });
  await desk.sent(id);
  return mail.received.filter(({ to: [address] }) => !/^last\d+@/.test(address!));
}

async function replyMail(follows: string): Promise<void> {
  const transport = createTransport({
    lmtp: true,
    host: '127.0.0.1',
    port: desk.config.lmtpPort,
    ignoreTLS: true,
  } as never);
  const raw = `From: ${MARIT}\r\nTo: ${ACCOUNT.address}\r\nSubject: Re: x\r\nMessage-ID: <${Math.random()}@x.example>\r\nIn-Reply-To: ${follows}\r\n\r\nYes.\r\n`;
  await transport.sendMail({ envelope: { from: MARIT, to: [ACCOUNT.address] }, raw });
  transport.close();
}

describe('a reminder', () => {
  test('is set with the message, and asks when its time has come, by notification and once', async () => {
    const { id } = await sent({ reminder: reminder({ note: 'Ask about the colour' }) });
    // Two days later, in the morning of the zone.
    expect((await view()).reminders).toMatchObject([
      { state: 'waiting', dueAt: Date.UTC(2026, 11, 2, 7), message: { id } },
    ]);
    const updates: LiveUpdate[] = [];
    const window = desk
      .get(LiveService)
      .subscribe(undefined, { isReady: () => true, send: (_cursor, update) => updates.push(update) });
    later(DAY);
    expect((await view()).reminders[0]!.state).toBe('waiting');
    later(21 * HOUR);
    desk.get(Following).wake();
    for (
      const end = Date.now() + 20_000;
      !updates.some(({ notifications }) => notifications.length > 0) && Date.now() < end;
    )
      await new Promise((resolve) => setTimeout(resolve, 10));
    await everythingLeft();
    window.unsubscribe();
    expect((await view()).reminders[0]!.state).toBe('due');
    expect(updates.flatMap(({ notifications }) => notifications)).toMatchObject([
      {
        kind: 'reminder_due',
        title: expect.stringMatching(/Marit Oakes.*no reply yet/),
        detail: 'Ask about the colour',
        path: `/sent/${id}`,
      },
    ]);
  });

  test.each([
    ['not-opened', 'Read'],
    ['not-clicked', null],
    ['always', null],
  ])('%s: an open settles it (%s)', async (condition, words) => {
    await sent({ reminder: reminder({ condition }) });
    desk.clock.advance(HOUR);
    await desk.visit(trackingUrlsOf(mail.to(MARIT)).image!);
    later(MINUTE);
    expect((await view()).reminders[0]).toMatchObject({ state: words ? 'resolved' : 'waiting', reason: words });
  });

  test('is missed by nobody while the machine is off, and notifies once at the start', async () => {
    await sent({ reminder: reminder() });
    await desk.close();
    desk.clock.advance(5 * DAY);
    await desk.open();
    desk.get(Following).wake();
    expect((await view()).reminders[0]!.state).toBe('due');
    expect(desk.sqlite.prepare('select count(*) n from change where reminder_id is not null').get()).toEqual({ n: 1 });
  });

  test('goes by mail in its conversation where that is wanted, once, and again only after a refusal', async () => {
    const { header } = await sent({ reminder: reminder({ byEmail: true, note: 'Call her' }) });
    mail.refusals.set(ACCOUNT.address, { responseCode: 451, message: 'Later' });
    later(3 * DAY);
    await everythingLeft();
    mail.refusals.clear();
    later(MINUTE);
    await everythingLeft();
    later(MINUTE);
    const own = (await everythingLeft()).filter(({ to: [first] }) => first === ACCOUNT.address);
    expect(own).toHaveLength(1);
    expect(own[0]!.parsed).toMatchObject({ inReplyTo: header, subject: 'Re: Panels for the reading room' });
    expect(own[0]!.parsed.text).toContain('Call her');
  });

  test('snoozed before its mail has left, it is not written about until it asks again', async () => {
    await sent({ reminder: reminder({ byEmail: true }) });
    mail.refusals.set(ACCOUNT.address, { responseCode: 451, message: 'Later' });
    later(3 * DAY);
    await everythingLeft();
    const [one] = (await view()).reminders;
    await desk.json('POST', `/api/reminders/${one!.id}/snooze`, { when: 'in a week', zone: ZONE });
    mail.refusals.clear();
    later(2 * MINUTE);
    expect((await everythingLeft()).filter(({ to: [first] }) => first === ACCOUNT.address)).toEqual([]);
  });

  test('is set on several at once, snoozed, done, undone and deleted', async () => {
    const ids = [(await sent()).id, (await sent()).id];
    const made = await desk.json<ReminderView[]>('POST', '/api/reminders', {
      ...reminder({ when: 'tomorrow' }),
      messageIds: ids,
    });
    expect(made.map(({ message }) => message!.id)).toEqual(ids);
    const [one] = made as [ReminderView];
    later(DAY);
    expect(
      await desk.json('POST', `/api/reminders/${one.id}/snooze`, { when: 'next Monday', zone: ZONE }),
    ).toMatchObject({ state: 'waiting' });
    // Taken back, it is due at its own time again, which has passed meanwhile.
    expect(await desk.json('PUT', `/api/reminders/${one.id}/due-at`, { dueAt: one.dueAt })).toMatchObject({
      state: 'due',
      dueAt: one.dueAt,
    });
    later(-DAY);
    expect(await desk.json('PUT', `/api/reminders/${one.id}/due-at`, { dueAt: one.dueAt })).toMatchObject({
      state: 'waiting',
    });
    later(DAY);
    expect(await desk.json('POST', `/api/reminders/${one.id}/done`)).toMatchObject({ state: 'done' });
    expect(await desk.json('DELETE', `/api/reminders/${one.id}/done`)).toMatchObject({ state: 'due' });
    expect((await desk.call('DELETE', `/api/reminders/${one.id}`)).status).toBe(204);
    expect((await view()).reminders).toHaveLength(1);
  });

  test('the database finds those that no longer wait by the rule of the core, whatever became of the message', async () => {
    const { id } = await sent();
    for (const condition of CONDITIONS)
      await desk.json('POST', '/api/reminders', { ...reminder({ condition }), messageIds: [id], personId: null });
    const names = ['opens', 'clicks', 'fileViews', 'replies'] as const;
    const become = desk.sqlite.prepare('update message set opens = ?, clicks = ?, file_views = ?, replies = ?');
    for (let bits = 0; bits < 2 ** names.length; bits += 1) {
      const counts = names.map((_, n) => (bits >> n) & 1);
      become.run(...counts);
      const [opens, clicks, fileViews, replies] = counts as [number, number, number, number];
      const ended = CONDITIONS.filter((condition) => !holds(condition, { opens, clicks, fileViews, replies }));
      const found = desk.get(FollowupsRepository).resolvable();
      expect([counts, found.map(({ condition }) => condition).sort()]).toEqual([counts, ended.sort()]);
    }
  });

  test('of more than a page shows, those due first are shown, all are counted, and all act', async () => {
    const { id } = await sent();
    const add = desk.sqlite.prepare(
      "insert into reminder (state, due_at, condition, note, by_email, zone, message_id, created_at) values ('waiting', ?, 'not-replied', '', 0, 'UTC', ?, 1)",
    );
    const tomorrow = desk.clock.now() + DAY;
    for (let n = 250; n > 0; n -= 1) add.run(tomorrow + n, id);
    const { reminders, open } = await view();
    expect(open).toEqual({ due: 0, waiting: 250, running: 0 });
    expect(reminders.map(({ dueAt }) => dueAt - tomorrow)).toEqual(Array.from({ length: 100 }, (_, n) => n + 1));
    later(2 * DAY);
    expect((await view()).open).toEqual({ due: 250, waiting: 0, running: 0 });
  });

  test('on nothing that was sent waits for nothing', async () => {
    const input = { ...reminder({ note: 'Order felt' }), messageIds: [] };
    expect((await desk.call('POST', '/api/reminders', input)).status).toBe(422);
    await desk.json('POST', '/api/reminders', { ...input, condition: 'always' });
    later(3 * DAY);
    expect((await view()).reminders).toMatchObject([{ state: 'due', note: 'Order felt', message: null }]);
  });

  test('what is no time is said so, in words', async () => {
    const response = await desk.call('POST', '/api/reminders', {
      ...reminder({ when: 'some day' }),
      condition: 'always',
    });
    expect([response.status, await response.text()]).toEqual([422, expect.stringContaining('not a time')]);
  });
});

describe('automatic follow-ups', () => {
  const plan = (...steps: Partial<DraftPlan['steps'][number]>[]) => ({
    zone: ZONE,
    steps: steps.map((step) => ({ templateId: 1, condition: 'not-replied', workingDays: 2, time: '09:30', ...step })),
  });

  test('leave one after another in the conversation, each after working days, filled with what is known', async () => {
    const { id: templateId } = await template();
    const { header } = await sent({ plan: plan({ templateId }, { templateId, workingDays: 3 }) });
    expect((await view()).plans[0]!.steps.map(({ dueAt }) => dueAt)).toEqual([Date.UTC(2026, 11, 2, 7, 30), null]);
    later(2 * DAY);
    const [second] = await messages(2);
    expect(mail.received).toHaveLength(2);
    const { parsed } = mail.received[1]!;
    expect(parsed).toMatchObject({ subject: 'Re: Panels for the reading room', inReplyTo: header });
    expect(parsed.text).toContain('Dear Marit, did you see it?');
    // Wednesday and three working days are Monday.
    const [{ steps }] = (await view()).plans as [FollowupsView['plans'][number]];
    expect(steps.map(({ state, dueAt, messageId }) => [state, dueAt, messageId])).toEqual([
      ['sent', Date.UTC(2026, 11, 2, 7, 30), second!.id],
      ['planned', Date.UTC(2026, 11, 7, 7, 30), null],
    ]);
    later(5 * DAY);
    await messages(3);
    expect((await view()).plans[0]!.state).toBe('done');
    expect(mail.received[2]!.parsed.references).toHaveLength(2);
  });

  test('carry the files of their template, save for those that were deleted since', async () => {
    const [samples, prices] = [
      await upload(desk, 'Samples.pdf', await pdf(1)),
      await upload(desk, 'Prices.pdf', await pdf(1)),
    ];
    const { id: templateId } = await template('With files', '<p>Here they are.</p>', [
      carried(samples.id),
      carried(prices.id),
    ]);
    await sent({ plan: plan({ templateId }) });
    await desk.call('DELETE', `/api/files/${prices.id}`);
    later(3 * DAY);
    await messages(2);
    expect(fileLinks(mail.received[1]!)).toHaveLength(1);
    expect(mail.received[1]!.parsed.text).toContain('Samples');
  });

  test('stop with a reply, also to a message that is about to leave', async () => {
    const { id: templateId } = await template();
    const { header } = await sent({ plan: plan({ templateId }, { templateId }) });
    await replyMail(header);
    later(9 * DAY);
    expect((await view()).plans).toMatchObject([
      { state: 'stopped', reason: 'Replied', steps: [{ state: 'stopped' }, { state: 'stopped' }] },
    ]);
    expect(await everythingLeft()).toHaveLength(1);
  });

  test('a message that was scheduled and has not left is recalled by a reply', async () => {
    const { id: templateId } = await template();
    const { id } = await sent({ plan: plan({ templateId }) });
    const states = () => desk.sqlite.prepare('select state from message order by id').pluck().all();
    // It is scheduled at once, and leaves when its mail is made: the answer comes between the two.
    later(3 * DAY);
    expect(states()).toEqual(['sent', 'scheduled']);
    desk.get(UnitOfWork).commit(() => desk.get(FollowupsService).replied([id]));
    expect(states()).toEqual(['sent']);
    expect(await everythingLeft()).toHaveLength(1);
    expect((await view()).plans).toMatchObject([{ state: 'stopped', reason: 'Replied' }]);
  });

  test('wait and say why where a reply would not be seen', async () => {
    await desk.call('PUT', '/api/settings/mailbox', {
      way: 'none',
      host: '',
      port: 993,
      security: 'tls',
      user: '',
      folders: [],
      storesSent: false,
    });
    const { id: templateId } = await template();
    await sent({ plan: plan({ templateId }) });
    later(3 * DAY);
    const { plans, replyProblem } = await view();
    expect(replyProblem).toMatch(/No mailbox is connected/);
    expect(plans[0]!.steps[0]).toMatchObject({ state: 'planned', reason: replyProblem });
    expect(mail.received).toHaveLength(1);
    // What holds it may end without anything being written: it is looked at again by itself.
    const { work } = await desk.json<HealthView>('GET', '/api/health');
    const { nextRunAt } = work.find(({ name }) => name === 'follow-ups')!;
    expect(nextRunAt).toBeLessThanOrEqual(desk.clock.now() + MINUTE);
  });

  test.each<[string, () => Promise<unknown>, RegExp]>([
    ['a bounce', async () => undefined, /could not be delivered/],
    [
      'an opt-out',
      async () => {
        const [url] = /http[^\s"<>]+\/o\/[\w-]{22}/.exec(String(mail.to(MARIT).parsed.html))!;
        await desk.visit(url, { method: 'POST', body: new URLSearchParams({ decline: 'yes' }) });
      },
      /opted out of tracking/,
    ],
    ['a press', async () => desk.call('POST', `/api/plans/${(await view()).plans[0]!.id}/stop`), /Stopped by you/],
  ])('are stopped by %s', async (what, happens, words) => {
    const { id: templateId } = await template();
    if (what === 'a bounce') mail.refusals.set(MARIT, { responseCode: 550, message: '5.1.1 No such user' });
    const { id } = await desk.send({ recipients: [to(MARIT)], disclose: true, plan: plan({ templateId }) as never });
    await desk.sent(id);
    await happens();
    expect((await view()).plans[0]).toMatchObject({ state: 'stopped', reason: expect.stringMatching(words) });
  });

  test('nobody is in two plans at a time', async () => {
    const { id: templateId } = await template();
    await sent({ plan: plan({ templateId }) });
    await expect(sent({ plan: plan({ templateId }) })).rejects.toThrow(/already getting automatic follow-ups/);
  });

  test('only those that are due are looked at, and a stopped one never is', async () => {
    const { id } = await template();
    const followed: number[] = [];
    for (const days of [1, 2, 3]) {
      const step = { templateId: id, condition: 'not-replied' as const, workingDays: days, time: '09:00' };
      const message = await sent({ recipients: [to(`reader${days}@x.example`)], plan: { zone: ZONE, steps: [step] } });
      followed.push(message.id);
    }
    const repository = desk.get(FollowupsRepository);
    const dueBy = (at: number) => repository.duePlans(at).map(({ messageId }) => messageId);
    const now = desk.clock.now();
    expect([0, 1, 2, 3].map((days) => dueBy(now + days * DAY))).toEqual([0, 1, 2, 3].map((n) => followed.slice(0, n)));
    expect(repository.nextAt(now)).toBe(repository.plansOf([followed[0]!])[0]!.steps[0]!.dueAt);
    repository.setPlan(repository.plansOf([followed[0]!])[0]!.id, { state: 'stopped', reason: 'x', endedAt: now });
    expect(dueBy(now + 3 * DAY)).toEqual(followed.slice(1));
    expect((await view()).open.running).toBe(2);
    expect(repository.nextAt(now)).toBe(repository.plansOf([followed[1]!])[0]!.steps[0]!.dueAt);
    expect(repository.runningPlans(1).map(({ messageId }) => messageId)).toEqual([followed[1]]);
  });

  test('are moved, and made from another template; shown as they would leave', async () => {
    const { id: templateId } = await template();
    const other = await template('Another', '<p>Other words, {{first name|you}}</p>');
    await sent({ plan: plan({ templateId }) });
    const [step] = (await view()).plans[0]!.steps;
    const moved = await desk.json<{ steps: object[] }>('PUT', `/api/plan-steps/${step!.id}`, {
      when: 'Thursday 8:00',
      zone: ZONE,
      templateId: other.id,
    });
    expect(moved.steps).toMatchObject([{ dueAt: Date.UTC(2026, 11, 3, 6), template: 'Another' }]);
    expect(await desk.json('GET', `/api/plan-steps/${step!.id}/body`)).toEqual({
      subject: 'Re: Panels for the reading room',
      html: '<p>Other words, Marit</p>',
    });
    expect((await desk.call('PUT', `/api/plan-steps/${step!.id}`, { templateId: 999 })).status).toBe(422);
    later(2 * DAY);
    expect(mail.received).toHaveLength(1);
    later(DAY);
    await messages(2);
  });

  test('one of them is left out', async () => {
    const { id: templateId } = await template();
    await sent({ plan: plan({ templateId }, { templateId, workingDays: 1 }) });
    const [first] = (await view()).plans[0]!.steps;
    const left = await desk.json<{ steps: object[] }>('DELETE', `/api/plan-steps/${first!.id}`);
    expect(left.steps).toMatchObject([{ state: 'stopped' }, { state: 'planned', dueAt: Date.UTC(2026, 11, 3, 7, 30) }]);
    expect((await desk.call('DELETE', `/api/plan-steps/${first!.id}`)).status).toBe(422);
    later(3 * DAY);
    await messages(2);
    expect((await view()).plans[0]!.state).toBe('done');
  });

  test('a condition that no longer holds passes over a step', async () => {
    const { id: templateId } = await template();
    await sent({ plan: plan({ templateId, condition: 'not-opened' }, { templateId, workingDays: 1 }) });
    desk.clock.advance(HOUR);
    await desk.visit(trackingUrlsOf(mail.to(MARIT)).image!);
    later(2 * DAY);
    expect((await view()).plans[0]!.steps.map(({ state }) => state)).toEqual(['skipped', 'planned']);
    expect(mail.received).toHaveLength(1);
    later(DAY);
    await messages(2);
  });
});

describe('the calendar', () => {
  const open = (request: CalendarRequest) => desk.json<CalendarView>('POST', '/api/calendar', request);

  test('holds what is to come, for whoever knows its address, until it is revoked', async () => {
    const { id: templateId } = await template();
    await sent({
      reminder: reminder({ note: 'Ask; about, the "colour"\nand the size' }),
      plan: { zone: ZONE, steps: [{ templateId, condition: 'not-replied', workingDays: 2, time: '09:30' }] },
    });
    const [one] = (await view()).reminders;
    const single = await (await desk.call('GET', `/api/reminders/${one!.id}/reminder.ics`)).text();
    expect(new ICAL.Component(ICAL.parse(single) as never).getAllSubcomponents('vevent')).toHaveLength(1);
    const { address } = await open({ isPublic: false, withNames: true });
    const response = await fetch(desk.url + address);
    const text = await response.text();
    expect(response.headers.get('content-type')).toContain('text/calendar');
    expect(text.split('\r\n').every((line) => Buffer.byteLength(line) <= 75)).toBe(true);
    const calendar = new ICAL.Component(ICAL.parse(text) as never);
    const events = calendar.getAllSubcomponents('vevent').map((one) => new ICAL.Event(one));
    expect(events.map(({ startDate }) => startDate.toJSDate().getTime())).toEqual([
      Date.UTC(2026, 11, 2, 7),
      Date.UTC(2026, 11, 2, 7, 30),
    ]);
    expect(events[0]!.description).toBe('Ask; about, the "colour"\nand the size');
    expect(calendar.getAllSubcomponents('vtodo')).toHaveLength(1);
    expect((await fetch(`${desk.url}/api/calendar/AAAAAAAAAAAAAAAAAAAAAA.ics`)).status).toBe(404);
    await desk.call('DELETE', '/api/calendar');
    expect((await fetch(desk.url + address)).status).toBe(404);
  });

  test('stands at the public address where that is wanted, naming nobody', async () => {
    const { id: templateId } = await template();
    await sent({
      reminder: reminder({ note: 'Ask about the colour' }),
      plan: { zone: ZONE, steps: [{ templateId, condition: 'not-replied', workingDays: 2, time: '09:30' }] },
    });
    const { address } = await open({ isPublic: true, withNames: false });
    expect(address).toMatch(new RegExp(`^${desk.config.publicUrl}/c/[\\w-]{22}\\.ics$`));
    const shown = async (url = address!) => {
      const response = await fetch(url);
      return response.status === 200 ? new ICAL.Component(ICAL.parse(await response.text()) as never) : response.status;
    };
    const titles = async () =>
      ((await shown()) as ICAL.Component)
        .getAllSubcomponents('vevent')
        .map((one) => one.getFirstPropertyValue('summary'));
    expect(await titles()).toEqual(['Reminder', 'Automatic follow-up']);
    const text = await (await fetch(address!)).text();
    const said = JSON.stringify((await view()).reminders[0]);
    for (const secret of ['colour', MARIT, 'Marit', 'A nudge']) expect(text).not.toContain(secret);
    expect(said).toContain('Marit');
    // The same secret leads to it at the desk, and another nowhere.
    expect(await (await fetch(`${desk.url}/api/calendar/${address!.slice(-26)}`)).text()).not.toContain('colour');
    expect(await shown(address!.replace(/.{5}\.ics$/, 'AAAAA.ics'))).toBe(404);
    // It follows what changes.
    await desk.json('POST', '/api/reminders', { ...reminder({ note: 'More', condition: 'always' }), messageIds: [] });
    await until(async () => (await titles()).length === 3);
    const renewed = await open({ isPublic: true, withNames: true });
    expect(await shown()).toBe(404);
    expect(await (await fetch(renewed.address!)).text()).toContain('colour');
    await desk.call('DELETE', '/api/calendar');
    expect(await shown(renewed.address!)).toBe(404);
    expect((await desk.json<CalendarView>('GET', '/api/calendar')).address).toBeNull();
  });
});
