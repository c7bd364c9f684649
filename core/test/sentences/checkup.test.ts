import { CHECK_NAMES, type CheckState, type CheckView } from '@kiraku/core/contract';
import { CHECK_LABELS, checkNotification, checkStateSentence, checkupSentence } from '@kiraku/core/sentences';
import { HOUR } from '@kiraku/core/time';

const NOW = Date.UTC(2026, 10, 4, 12, 30);
const of = (...states: CheckState[]) => checkupSentence(states.map((state) => ({ state })));

test('every check has a label of its own', () => {
  expect(new Set(CHECK_NAMES.map((name) => CHECK_LABELS[name])).size).toBe(CHECK_NAMES.length);
});

test('since when is said of what is not as it should be', () => {
  const since = NOW - HOUR;
  expect(checkStateSentence({ state: 'ok', since }, NOW)).toBe('Works');
  expect(checkStateSentence({ state: 'failing', since }, NOW)).toBe('Does not work since 11:30');
  expect(checkStateSentence({ state: 'attention', since }, NOW)).toBe('Needs attention since 11:30');
  expect(checkStateSentence({ state: 'unknown', since }, NOW)).toBe('Could not be checked');
});

test('all of them together, in one sentence', () => {
  expect(of()).toBe('Nothing has been checked yet.');
  expect(of('ok', 'off', 'unknown')).toBe('Everything that could be checked works.');
  expect(of('ok', 'failing')).toBe('1 of 2 does not work.');
  expect(of('failing', 'failing', 'attention')).toBe('2 of 3 do not work; 1 needs attention.');
  expect(of('attention', 'attention')).toBe('2 need attention.');
});

test('what turns bad notifies under the name of the check, and leads to the check-up', () => {
  const check: CheckView = {
    ...{ name: 'disk', state: 'failing', detail: '1 MB is free.', advice: 'Make room.', records: [] },
    ...{ since: NOW, at: NOW },
  };
  expect(checkNotification(check)).toEqual({
    ...{ eventId: 0, at: NOW, path: '/settings/check-up', tag: 'check disk', kind: 'check_failed' },
    ...{ title: 'Disk: does not work', detail: '1 MB is free.' },
  });
});
