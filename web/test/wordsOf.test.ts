import { readWhen } from '@kiraku/core/followups';
import { wordsOf } from '../src/followups/wordsOf.js';
import { MY_ZONE } from '../src/shared/time/zone.js';

test.each([9, 12, 21])('the words of a moment at %d hours are read as its minute', (hour) => {
  const at = new Date(2026, 10, 26, hour, 41, 58).getTime();
  expect(readWhen(wordsOf(at), at - 3_600_000, MY_ZONE)).toEqual({ at: at - (at % 60_000) });
});
