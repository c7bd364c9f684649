import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { BackupView, FollowupsView, OutboxCopy, RoundView, TemplateView } from '@kiraku/core/contract';
import { roundPlanOf } from '@kiraku/core/rounds';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';
import { restoreBackup } from '@kiraku/server/backup/restoring';
import { OutboxService } from '@kiraku/server/delivery/outbox.service';
import { Following } from '@kiraku/server/following/following';
import { ScheduledMessages } from '@kiraku/server/messages/scheduledMessages';
import { RoundSending } from '@kiraku/server/rounds/roundSending';
import { Desk, desk, draftContent, mail, MailServer, to, useDesk } from '../harness.js';
import { until } from '../until.js';

const PASSPHRASE = 'quilted lamp over harbour';

useDesk('each');

let scratch: string;
let begun: number;
beforeEach(() => {
  scratch = mkdtempSync(join(tmpdir(), 'kiraku-holding-'));
  desk.clock.stop();
  begun = desk.clock.now();
});
afterEach(() => rmSync(scratch, { recursive: true }));

/** A backup of now; and what a desk has that was begun with it after so long a time. */
async function restoredAfter(ms: number): Promise<{ other: Desk; otherMail: MailServer }> {
  await desk.json('PUT', '/api/settings/backup/passphrase', { passphrase: PASSPHRASE });
  const view = () => desk.json<BackupView>('GET', '/api/settings/backup');
  await until(async () => (await view()).backups.length === 1 && !(await view()).isUnderWay);
  const dataDir = join(scratch, 'restored');
  const { backupDir } = desk.config;
  await restoreBackup({ dataDir, backupDir }, { name: undefined, passphrase: PASSPHRASE }, begun + ms);
  const otherMail = await MailServer.start();
  const other = await Desk.start(otherMail.port, { backupDir: join(scratch, 'else') }, dataDir);
  other.clock.stop();
  other.clock.advance(begun + ms - other.clock.now());
  return { other, otherMail };
}

/** Has everything done that is due. */
async function dueDone(on: Desk): Promise<void> {
  on.get(OutboxService).wake();
  on.get(Following).wake();
  await on.get(ScheduledMessages).leaveDue();
  await on.get(RoundSending).leaveDue();
  await on.get(OutboxService).drained();
}

test('what may have left after the backup leaves again only when the user says so', async () => {
  // A copy that waits, a message at a time, a round under way, and a follow-up that is due soon.
  mail.refusals.set('waits@x.example', { responseCode: 450, message: 'Later' });
  const waits = await desk.send({ subject: 'Waits', recipients: [to('waits@x.example')] });
  await until(() => desk.sqlite.prepare('select count(*) from outbox where attempts > 0').pluck().get() === 1);
  const later = async (subject: string, ms: number) => {
    const draft = await desk.json<{ id: number; revision: number }>('POST', '/api/drafts', draftContent({ subject }));
    await desk.json('POST', `/api/drafts/${draft.id}/send`, { revision: draft.revision, at: begun + ms });
    return draft.id;
  };
  const scheduled = await later('Just before', 5 * DAY - HOUR);
  const earlier = await later('Long before', 9 * HOUR);
  const template = await desk.json<TemplateView>('POST', '/api/templates', {
    name: 'A nudge',
    subject: '',
    html: '<p>Did you see it?</p>',
    files: [],
  });
  const step = { templateId: template.id, workingDays: 1, condition: 'not-replied' as const, time: '09:00' };
  const planned = await desk.send({
    subject: 'Planned',
    recipients: [to('planned@x.example')],
    plan: { zone: 'UTC', steps: [step] },
  });
  await desk.sent(planned.id);
  const recipients = [1, 2, 3].map((n) => ({ name: '', address: `round${n}@x.example`, cells: [] }));
  const asked = { name: 'Under way', draftId: null, personIds: [], columns: [], recipients, zone: 'UTC' };
  const round = await desk.json<RoundView>('POST', '/api/rounds', asked);
  await desk.json('PUT', `/api/rounds/${round.id}`, {
    ...roundPlanOf(round),
    revision: round.revision,
    wordings: [{ subject: 'One', html: '<p>For you</p>' }],
    pace: { ...round.pace, kind: 'hourly', perHour: 1, fromHour: 0, toHour: 24, weekdays: [0, 1, 2, 3, 4, 5, 6] },
  });
  await desk.json('POST', `/api/rounds/${round.id}/start`);
  await until(() => mail.received.some(({ to: [address] }) => address === 'round1@x.example'));

  const { other, otherMail } = await restoredAfter(5 * DAY);
  await dueDone(other);
  expect(otherMail.received.map(({ parsed }) => parsed.subject)).toEqual([]);
  const outbox = await other.json<OutboxCopy[]>('GET', '/api/outbox');
  expect(outbox).toMatchObject([{ messageId: waits.id, state: 'failed' }]);
  expect(outbox[0]!.lastError).toContain('may have left');
  // Nothing came back from a mail server: no bounce is recorded.
  expect((await other.detail(waits.id)).summary).toMatchObject({ state: 'failed' });
  expect(other.sqlite.prepare("select count(*) from event where kind = 'bounced'").pluck().get()).toBe(0);
  const stillRound = await other.json<RoundView>('GET', `/api/rounds/${round.id}`);
  expect(stillRound).toMatchObject({ state: 'paused' });
  expect(stillRound.pauseReason).toContain('A backup was restored');
  const { plans } = await other.json<FollowupsView>('GET', '/api/followups');
  expect(JSON.stringify(plans ?? [])).not.toContain('"running"');
  expect((await other.detail(scheduled)).summary.state).toBe('scheduled');
  expect((await other.detail(earlier)).summary.state).toBe('scheduled');

  // What the user sends again goes once.
  await other.call('POST', `/api/outbox/${outbox[0]!.copyId}/retry`, {});
  await other.sent(waits.id);
  await other.call('POST', `/api/messages/${scheduled}/reschedule`, {});
  await until(() => otherMail.received.length === 2);
  await dueDone(other);
  expect(otherMail.received.map(({ parsed }) => parsed.subject).sort()).toEqual(['Just before', 'Waits']);
  await other.stop();
  await otherMail.stop();
}, 120_000);

test('what was not due until then leaves at its time', async () => {
  const draft = await desk.json<{ id: number; revision: number }>(
    'POST',
    '/api/drafts',
    draftContent({ subject: 'At two' }),
  );
  await desk.json('POST', `/api/drafts/${draft.id}/send`, { revision: draft.revision, at: begun + 2 * HOUR });
  const { other, otherMail } = await restoredAfter(HOUR);
  await dueDone(other);
  expect(otherMail.received).toEqual([]);
  other.clock.advance(HOUR + MINUTE);
  await dueDone(other);
  await until(() => otherMail.received.length === 1);
  await other.stop();
  await otherMail.stop();
}, 60_000);
