import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { messageStatus } from '@kiraku/core/sentences';
import type {
  EventKind,
  MessageDetail,
  MessagePage,
  MessageSummary,
  RoundMember,
  RoundView,
} from '@kiraku/core/contract';
import { filterOf, DEFAULT_VIEW } from '@kiraku/core/sent';
import { HOUR } from '@kiraku/core/time';
import { tallyOf } from '@kiraku/core/tracking';
import { generateDemo } from '@kiraku/demo/generate';
import { Mailboxes } from '@kiraku/standin/mailboxes';
import { scenes } from '@kiraku/demo/scenes';
import { createApp } from '@kiraku/server/app';
import { readConfig } from '@kiraku/server/environment/config';
import { FollowupsRepository } from '@kiraku/server/followups/followups.repository';
import { ListService } from '@kiraku/server/sent/list.service';
import { RoundsService } from '@kiraku/server/rounds/rounds.service';
import { SentService } from '@kiraku/server/messages/sent.service';
import { DraftsService } from '@kiraku/server/messages/drafts.service';

const NOW = Date.now();
const folder = mkdtempSync(join(tmpdir(), 'kiraku-demo-test-'));
const config = readConfig({
  KIRAKU_DATA: join(folder, 'data'),
  KIRAKU_PORT: '0',
  KIRAKU_PUBLIC_HOST: '127.0.0.1',
  KIRAKU_PUBLIC_PORT: '0',
  KIRAKU_PUBLIC_URL: 'http://127.0.0.1:4610',
  KIRAKU_SUBMISSION_PORT: '0',
  KIRAKU_LMTP_PORT: '0',
  KIRAKU_DEMO: '1',
});
let page: MessagePage;
let details: MessageDetail[];
let round: RoundView;
let drafts: number;
let reminders: number[];
let steps: (number | null)[];

beforeAll(async () => {
  await generateDemo(config, { port: 4620, smtpPort: 4625 }, NOW);
  const app = await createApp(config);
  page = app.get(ListService).page(filterOf(DEFAULT_VIEW, NOW, 'UTC'), 200);
  details = page.messages.map(({ id }) => app.get(SentService).detail(id));
  const rounds = app.get(RoundsService);
  round = rounds.view(rounds.rows()[0]!.id);
  drafts = app.get(DraftsService).page({ limit: 60 }).total;
  const followups = app.get(FollowupsRepository);
  reminders = followups.openReminders(100).map(({ dueAt }) => dueAt);
  steps = followups.runningPlans(100).flatMap((plan) => plan.steps.map(({ dueAt }) => dueAt));
  await app.close();
});
afterAll(() => rmSync(folder, { recursive: true }));

const about = (name: string, subject: string): MessageSummary => {
  const found = page.messages.find((row) => row.subject === subject && row.recipients.some((one) => one.name === name));
  if (!found) throw new Error(`${name} got no “${subject}”`);
  return found;
};

test('the same story each time, and some eighty messages', () => {
  expect(scenes(NOW)).toEqual(scenes(NOW));
  const offers = round.members.filter(({ state }) => state === 'sent');
  expect(page.messages).toHaveLength(scenes(NOW).length + offers.length);
  expect(page.messages.length).toBeGreaterThan(75);
  expect(drafts).toBe(2);
  // As real ones are: the list pages by them.
  expect(page.messages.filter(({ lastActivityAt }) => !Number.isInteger(lastActivityAt))).toEqual([]);
});

test.each([
  ['Marit Oakes', 'Panels for the reading room', 'now', /^Marit Oakes clicked “the proposal” \d minutes ago$/],
  ['Tomas Berane', 'Quieter lunch hours', 'now', /^Opened 4 times within the hour/],
  ['Rafe Linden', 'Price for 40 m²', 'needs-you', /^Came back after 3 weeks/],
  ['Hana Iwase', 'Curtains, revised offer', 'plain', /^Replied after 41 minutes/],
  ['Paulo Reyes', 'Samples are on their way', 'plain', /^Read, images blocked: clicked/],
  ['Ilse Marten', 'A short visit in December?', 'plain', /^No sign of reading yet; 2 automatic requests not counted$/],
  ['Jonas Ek', 'Following up on your question', 'needs-you', /^Could not be delivered: .*550 5\.1\.1/],
  ['Ben Okoro', 'Sound in the waiting room', 'plain', /^No sign of reading yet$/],
  ['Dov Pell', 'Thank you for yesterday', 'plain', /^Sent without tracking$/],
])('%s, “%s”: %s', (name, subject, tone, words) => {
  expect(messageStatus(about(name, subject), NOW)).toEqual({ tone, text: expect.stringMatching(words) });
});

test('a round with two wordings is under way: some have replied, some wait, and none leaves at the start', () => {
  expect(round.state).toBe('running');
  const [sent, scheduled] = ['sent', 'scheduled'].map((wanted) =>
    round.members.filter(({ state }) => state === wanted),
  ) as [RoundMember[], RoundMember[]];
  expect(sent.length + scheduled.length).toBe(14);
  expect(sent.length).toBeGreaterThanOrEqual(8);
  expect(scheduled.length).toBeGreaterThanOrEqual(2);
  for (const { sendAt } of scheduled) expect(sendAt).toBeGreaterThan(NOW + HOUR);
  expect(new Set(sent.map(({ wording }) => wording)).size).toBe(2);
  expect(sent.filter(({ summary }) => summary!.tally.replies > 0)).toHaveLength(2);
  expect(round.members.flatMap(({ unfilled }) => unfilled)).toEqual([]);
  expect(round.comparisons.map(({ evidence }) => evidence)).toEqual(['replied', 'clicked', 'read']);
  // Dealt by a seed of the story: both replies came to one wording.
  expect(round.results.map(({ rates }) => rates.replied.n)).toEqual([2, 0]);
});

test('last week’s summary is in her own mailbox', async () => {
  const own = new Mailboxes(join(config.dataDir, 'standin', 'mail'));
  const mails = await own.mails('ines@tallowreed.example');
  expect(mails.map(({ subject }) => subject)).toContainEqual(
    expect.stringMatching(/^Summary: \d+ people to contact, /),
  );
});

test('something is due, something is still to come, and no message would leave at the start', () => {
  expect(reminders.filter((at) => at < NOW).length).toBeGreaterThanOrEqual(3);
  expect(reminders.filter((at) => at > NOW).length).toBeGreaterThanOrEqual(1);
  expect(steps.some((at) => at !== null)).toBe(true);
  expect(steps.every((at) => at === null || at > NOW)).toBe(true);
});

test('the history obeys the rules of every other: counts equal a recount, nothing is in the future', () => {
  for (const { summary, events, eventsTotal } of details) {
    expect(events).toHaveLength(eventsTotal);
    expect(summary.tally).toEqual(tallyOf(events));
    events.forEach((event) => {
      expect(event.at).toBeLessThanOrEqual(NOW);
      expect(event.at).toBeGreaterThanOrEqual(summary.queuedAt);
    });
  }
  const kinds = new Set(details.flatMap(({ events }) => events.map((event): EventKind => event.kind)));
  const opens = ['clicked', 'file_viewed', 'opened', 'page_viewed'];
  expect([...kinds].sort()).toEqual([...opens, 'replied', 'bounced', 'opted_out', 'receipt'].sort());
});
