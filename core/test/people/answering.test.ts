import type { MessageSummary } from '@kiraku/core/contract';
import { answeringWords } from '@kiraku/core/people';
import { EMPTY_TALLY } from '@kiraku/core/tracking';

const HOUR = 3_600_000;
const NOW = 1_800_000_000_000;
const letter = (sentAgoMs: number | null, answeredAfterMs: number | null = null) =>
  ({
    sentAt: sentAgoMs === null ? null : NOW - sentAgoMs,
    tally: {
      ...EMPTY_TALLY,
      answeredAt: sentAgoMs === null || answeredAfterMs === null ? null : NOW - sentAgoMs + answeredAfterMs,
    },
  }) as MessageSummary;

test.each([
  ['nothing was sent', [letter(null)], ''],
  ['nothing was answered', [letter(5 * HOUR)], 'Answered 0 of 1 letter. The last one has waited for 5 hours.'],
  [
    'some were, in any order',
    [letter(90 * HOUR, 2 * HOUR), letter(30 * HOUR), letter(200 * HOUR, 8 * HOUR), letter(300 * HOUR, 3 * HOUR)],
    'Answered 3 of 4 letters, half of them within 3 hours. The last one has waited for 1 day.',
  ],
  ['the last one was', [letter(9 * HOUR, HOUR)], 'Answered 1 of 1 letter, half of them within 1 hour.'],
])('%s', (_what, letters, words) => expect(answeringWords(letters, NOW)).toBe(words));
