import { backupFinding, certificateFinding, clockFinding, diskFinding } from '@kiraku/core/checkup';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';

const NOW = Date.UTC(2026, 10, 4, 12, 30);
const GB = 1e9;

test.each([
  [100, 500, 'ok'],
  [24, 500, 'attention'],
  [26, 500, 'ok'],
  [1.9, 10, 'attention'],
  [2, 10, 'ok'],
  [0.49, 10, 'failing'],
  [0.5, 10, 'attention'],
])('a disk with %s of %s GB free: %s', (free, all, state) => {
  expect(diskFinding({ free: free * GB, all: all * GB }).state).toBe(state);
});

test.each([
  [90 * DAY, 'ok', 'is valid for 90 more days'],
  [14 * DAY, 'ok', '14 more days'],
  [14 * DAY - 1, 'attention', '13 more days'],
  [3 * DAY, 'attention', '3 more days'],
  [2 * DAY, 'failing', '2 more days'],
  [DAY, 'failing', '1 more day.'],
  [0, 'failing', 'expired 4 Nov'],
  [-30 * DAY, 'failing', 'expired 5 Oct'],
])('a certificate that ends in %s ms: %s', (ms, state, words) => {
  const finding = certificateFinding('desk.example', NOW + ms, NOW, 'Renew it.');
  expect([finding.state, finding.advice]).toEqual([state, state === 'ok' ? null : 'Renew it.']);
  expect(finding.detail).toContain(words);
});

test.each([
  [0, 'ok', 'is right'],
  [2 * MINUTE, 'ok', 'is right'],
  [-2 * MINUTE, 'ok', 'is right'],
  [3 * MINUTE, 'failing', '3 minutes ahead'],
  [-2 * HOUR, 'failing', '2 hours behind'],
])('a clock that is %s ms off: %s', (offset, state, words) => {
  expect(clockFinding(offset)).toMatchObject({ state, detail: expect.stringContaining(words) });
});

test.each<[string, Parameters<typeof backupFinding>, string]>([
  ['without a passphrase', [false, null, null, NOW], 'attention'],
  ['none yet', [true, null, null, NOW], 'attention'],
  ['of last night', [true, NOW - 9 * HOUR, null, NOW], 'ok'],
  ['of three days ago', [true, NOW - 3 * DAY, null, NOW], 'ok'],
  ['older', [true, NOW - 3 * DAY - 1, null, NOW], 'failing'],
  ['one that failed since', [true, NOW - HOUR, 'The disk is full', NOW], 'failing'],
])('backups: %s', (_what, args, state) => {
  expect(backupFinding(...args).state).toBe(state);
});
