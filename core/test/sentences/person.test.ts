import { replyRateSentence } from '@kiraku/core/sentences';
import type { MessageSummary } from '@kiraku/core/contract';
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
