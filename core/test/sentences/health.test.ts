import { failureSentence, notRecordedSentence, notRecordedTitle, processSentence } from '@kiraku/core/sentences';
import { DAY, HOUR } from '@kiraku/core/time';

const NOW = Date.UTC(2026, 10, 4, 12, 30);
const desk = { name: 'desk', startedAt: NOW - HOUR, restarts: 0, lastEnd: null } as const;

test.each([
  [desk, 'Running since 11:30.'],
  [
    { ...desk, restarts: 1, lastEnd: { at: NOW - HOUR, why: 'SIGKILL' } },
    'Running since 11:30, restarted once. It ended 11:30: SIGKILL',
  ],
  [
    { ...desk, restarts: 3, lastEnd: { at: NOW - 10 * DAY, why: 'exit code 1' } },
    'Running since 11:30, restarted 3 times. It ended 25 Oct: exit code 1',
  ],
])('a process says since when it runs, and how it ended before', (process, sentence) => {
  expect(processSentence(process, NOW)).toBe(sentence);
});

test('what could not be recorded is counted, with why, and what to do', () => {
  const lost = { count: 2, lastAt: NOW, why: 'ENOSPC: no space left on device, write' };
  expect(notRecordedTitle(lost)).toBe('2 opens and clicks could not be recorded');
  expect(notRecordedTitle({ ...lost, count: 1 })).toBe('1 open or click could not be recorded');
  expect(notRecordedSentence(lost, NOW)).toMatch(/12:30, ENOSPC.* Make room on the disk\.$/);
});

test('work that failed says when, and why', () => {
  expect(failureSentence({ at: NOW, text: 'The disk is full' }, NOW)).toBe('Failed 12:30: The disk is full');
});
