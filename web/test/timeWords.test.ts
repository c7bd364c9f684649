import { DEFAULT_TIME_FORMAT, setTimeFormat } from '@kiraku/core/time';
import { readWhen } from '@kiraku/core/followups';
import { timeWords, wordsOf } from '../src/followups/timeWords.js';
import { MY_ZONE } from '../src/shared/time/zone.js';

/** A morning and an evening, with seconds that stand nowhere else. */
const MOMENTS = [new Date(2026, 10, 26, 9, 41, 58), new Date(2026, 10, 26, 21, 41, 58)].map((date) => date.getTime());

afterEach(() => setTimeFormat(DEFAULT_TIME_FORMAT));

test.each(['12h', '24h'] as const)('a time is said to the minute by a clock of %s', (clock) => {
  setTimeFormat({ ...DEFAULT_TIME_FORMAT, clock });
  for (const at of MOMENTS) {
    expect(timeWords(at)).toMatch(/:41\b/);
    expect(timeWords(at)).not.toContain(':58');
  }
});

test('the words of a moment are read as its minute', () => {
  for (const at of MOMENTS) expect(readWhen(wordsOf(at), at - 3_600_000, MY_ZONE)).toEqual({ at: at - (at % 60_000) });
});
