import { basisSentence, personActivityText, replyRateSentence } from '@kiraku/core/sentences';
import type { MessageSummary, PersonRow } from '@kiraku/core/contract';
import { EMPTY_TALLY } from '@kiraku/core/tracking';

const HOUR = 3_600_000;
const NOW = 1_800_000_000_000;
const message = (sentAgoMs: number | null, repliedAfterMs: number | null = null) =>
  ({
    sentAt: sentAgoMs === null ? null : NOW - sentAgoMs,
    tally: {
      ...EMPTY_TALLY,
      repliedAt: sentAgoMs === null || repliedAfterMs === null ? null : NOW - sentAgoMs + repliedAfterMs,
    },
  }) as MessageSummary;

test.each([
  ['nothing was sent', [message(null)], ''],
  [
    'nothing was answered',
    [message(5 * HOUR)],
    'Replied to 0 of 1 message. The last one has had no reply for 5 hours.',
  ],
  [
    'some were, in any order',
    [message(90 * HOUR, 2 * HOUR), message(30 * HOUR), message(200 * HOUR, 8 * HOUR), message(300 * HOUR, 3 * HOUR)],
    'Replied to 3 of 4 messages, half of them within 3 hours. The last one has had no reply for 1 day.',
  ],
  ['the last one was', [message(9 * HOUR, HOUR)], 'Replied to 1 of 1 message, within 1 hour.'],
])('%s', (_what, messages, words) => expect(replyRateSentence(messages, NOW)).toBe(words));

test.each<[name: string, change: Partial<PersonRow>, text: string]>([
  ['nothing', {}, ''],
  ['nothing, and not tracked', { doNotTrack: true }, 'Not tracked'],
  ['one open', { opens: 1, lastEventAt: NOW - 4 * 60_000 }, '1 open, last 4 minutes ago'],
  ['replies', { opens: 2, replies: 2, lastEventAt: NOW - HOUR }, '2 opens, 2 replies, last 1 hour ago'],
  [
    'only a delivery, not tracked now',
    { lastEventAt: NOW - HOUR, doNotTrack: true },
    'Last activity 1 hour ago; not tracked now',
  ],
])('what a person did: %s', (_name, change, text) => {
  const nothing = { opens: 0, clicks: 0, fileViews: 0, replies: 0, doNotTrack: false, lastEventAt: null };
  expect(personActivityText({ ...nothing, ...change } as PersonRow, NOW)).toBe(text);
});

test.each([
  [{ own: 30, company: 0, all: 0, ownWeight: 0.6 }, 'Based on 30 opens and clicks of their own: fairly sure.'],
  [{ own: 1, company: 0, all: 9, ownWeight: 0.1 }, 'Based on 1 open or click of their own, and on others: a hint.'],
  [
    { own: 0, company: 2, all: 9, ownWeight: 0 },
    'Nothing is known of them yet: based on 2 opens and clicks by others at their company.',
  ],
  [
    { own: 0, company: 0, all: 1, ownWeight: 0 },
    'Nothing is known of them yet: based on 1 open or click by everybody.',
  ],
])('what the best time to send is based on', (basis, text) => expect(basisSentence(basis)).toBe(text));
