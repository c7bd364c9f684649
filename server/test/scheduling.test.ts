import { contentOf } from '@kiraku/core/message';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';
import type { Draft, MessageSummary } from '@kiraku/core/contract';
import { ScheduledMessages } from '@kiraku/server/messages/scheduledMessages';
import { draftContent, trackingUrlsOf, to, type ReceivedMail, desk, mail, useDesk } from './harness.js';

let draft: Draft;

useDesk('each');
beforeEach(async () => {
  draft = await desk.json<Draft>(
    'POST',
    '/api/drafts',
    draftContent({ trackOpens: false, recipients: [to('a@x.example'), to('b@x.example', '', 'bcc')] }),
  );
});

const sendAt = (at?: number) =>
  desk.json<MessageSummary>('POST', `/api/drafts/${draft.id}/send`, { revision: draft.revision, at });
const passTo = (ms: number) => {
  desk.clock.advance(ms);
  void desk.get(ScheduledMessages).leaveDue();
};
/** What has left: a message sent after it comes last. */
async function everythingLeft(): Promise<ReceivedMail[]> {
  const { id } = await desk.send({ recipients: [to('last@x.example')] });
  await desk.sent(id);
  return mail.received.filter(({ to: [address] }) => address !== 'last@x.example');
}
const state = async () => (await desk.detail(draft.id)).summary.state;

test('a message leaves at its time, with every setting it was given', async () => {
  const at = desk.clock.now() + 3 * HOUR;
  expect(await sendAt(at)).toMatchObject({ state: 'scheduled', sendAt: at, tally: { opens: 0 } });
  passTo(2 * HOUR);
  expect(await state()).toBe('scheduled');
  expect(mail.received).toHaveLength(0);

  passTo(HOUR + 1000);
  const sent = await desk.until(draft.id, ({ summary }) => summary.state === 'sent');
  expect(sent.summary).toMatchObject({ sendAt: null, trackOpens: false, trackClicks: true });
  expect(mail.received).toHaveLength(2);
  const received = mail.to('a@x.example');
  expect(trackingUrlsOf(received)).toMatchObject({ image: undefined, links: [expect.any(String)] });
  expect(received.parsed.date!.getTime()).toBeGreaterThanOrEqual(at - 1000);
});

test('it can be recalled within the time for that, exactly as it was', async () => {
  await desk.json('PUT', '/api/settings/sending', { undoSendSeconds: 30, giveUpHours: 72 });
  expect(await sendAt()).toMatchObject({ state: 'scheduled' });
  const back = await desk.json<Draft>('POST', `/api/messages/${draft.id}/recall`);
  expect(back).toEqual({ ...draft, updatedAt: expect.any(Number) });
  passTo(MINUTE);
  expect(await desk.json('GET', '/api/drafts')).toMatchObject({ total: 1 });
  expect(await desk.json('GET', '/api/messages')).toMatchObject({ messages: [] });
  await desk.json('PUT', '/api/settings/sending', { undoSendSeconds: 0, giveUpHours: 72 });
  expect(await everythingLeft()).toEqual([]);
});

test('what has left cannot be called back or moved', async () => {
  await sendAt();
  await desk.sent(draft.id);
  for (const path of ['recall', 'reschedule']) {
    const response = await desk.call('POST', `/api/messages/${draft.id}/${path}`, {});
    expect(response.status).toBe(409);
    expect(await response.json()).toMatchObject({ title: 'Already sent' });
  }
  expect(mail.received).toHaveLength(2);
});

test('a scheduled message is sent now, keeping its settings, and only once', async () => {
  await sendAt(desk.clock.now() + DAY);
  await desk.json('POST', `/api/messages/${draft.id}/reschedule`, {});
  await desk.sent(draft.id);
  passTo(2 * DAY);
  expect(await everythingLeft()).toHaveLength(2);
  expect(trackingUrlsOf(mail.to('a@x.example')).image).toBeUndefined();
});

test('another time replaces the first', async () => {
  await sendAt(desk.clock.now() + HOUR);
  const later = desk.clock.now() + 5 * HOUR;
  expect(await desk.json('POST', `/api/messages/${draft.id}/reschedule`, { at: later })).toMatchObject({
    sendAt: later,
  });
  passTo(2 * HOUR);
  expect(await state()).toBe('scheduled');
  passTo(4 * HOUR);
  await desk.sent(draft.id);
});

test('what fell due while the machine was off leaves at the start', async () => {
  await sendAt(desk.clock.now() + HOUR);
  await desk.close();
  desk.clock.advance(20 * HOUR);
  await desk.open();
  expect((await desk.until(draft.id, ({ summary }) => summary.state === 'sent')).summary.sendAt).toBeNull();
});

test('what is more than a day late asks instead', async () => {
  await sendAt(desk.clock.now() + HOUR);
  await desk.close();
  desk.clock.advance(30 * HOUR);
  await desk.open();
  expect(await everythingLeft()).toEqual([]);
  expect(await state()).toBe('scheduled');
  await desk.json('POST', `/api/messages/${draft.id}/reschedule`, {});
  await desk.sent(draft.id);
});

test('one that cannot leave for a fault of ours is tried again, and stands in nobody’s way', async () => {
  await sendAt(desk.clock.now() + HOUR);
  const second = await desk.json<Draft>('POST', '/api/drafts', draftContent({ recipients: [to('second@x.example')] }));
  await desk.json('POST', `/api/drafts/${second.id}/send`, { revision: 1, at: desk.clock.now() + HOUR + MINUTE });
  // An address that no copy can be made for: what a damaged row would be.
  desk.sqlite.prepare('update message set recipients = ? where id = ?').run('[{"kind":"to"}]', draft.id);
  passTo(2 * HOUR);
  await desk.until(second.id, ({ summary }) => summary.state === 'sent');
  expect(mail.received.map(({ to: [address] }) => address)).toEqual(['second@x.example']);
  const row = desk.sqlite.prepare('select state, send_at sendAt from message where id = ?').get(draft.id);
  expect(row).toEqual({ state: 'scheduled', sendAt: expect.any(Number) });

  desk.sqlite.prepare('update message set recipients = ? where id = ?').run(JSON.stringify(draft.recipients), draft.id);
  passTo(2 * MINUTE);
  await desk.until(draft.id, ({ summary }) => summary.state === 'sent');
});

test.each([
  ['a time that is past', -HOUR],
  ['a time too far off', 400 * DAY],
])('%s is refused, and the draft stays', async (_name, offsetMs) => {
  const response = await desk.call('POST', `/api/drafts/${draft.id}/send`, {
    revision: 1,
    at: desk.clock.now() + offsetMs,
  });
  expect(response.status).toBe(422);
  expect(await desk.json('GET', `/api/drafts/${draft.id}`)).toEqual(draft);
});

test('what was recalled is a draft like any other, and can be sent again', async () => {
  await desk.json('PUT', '/api/settings/sending', { undoSendSeconds: 30, giveUpHours: 72 });
  await sendAt();
  const back = await desk.json<Draft>('POST', `/api/messages/${draft.id}/recall`);
  await desk.json('PUT', `/api/drafts/${draft.id}`, {
    ...contentOf(back),
    revision: back.revision,
    subject: 'On second thoughts',
  });
  await desk.json('PUT', '/api/settings/sending', { undoSendSeconds: 0, giveUpHours: 72 });
  const again = await desk.json<Draft>('GET', `/api/drafts/${draft.id}`);
  await desk.json('POST', `/api/drafts/${draft.id}/send`, { revision: again.revision });
  await desk.until(draft.id, ({ summary }) => summary.state === 'sent');
  expect(mail.received.map(({ parsed }) => parsed.subject)).toEqual(['On second thoughts', 'On second thoughts']);
});
