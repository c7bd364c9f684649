import { repeatProblem, sendProblem, type Sendable } from '@kiraku/core/delivery';
import { MESSAGE_LIMITS } from '@kiraku/core/message';

const DRAFT: Sendable = { recipients: 1, isEmpty: false, bytes: 1000, links: 3 };
const saying = (change: Partial<Sendable>) => sendProblem({ ...DRAFT, ...change });

test('a draft with a recipient and something in it can be sent', () => {
  expect(saying({})).toBeNull();
});

test('what is missing is said where it is missing, the recipient first', () => {
  expect(saying({ recipients: 0, isEmpty: true })).toEqual({ field: 'recipients', detail: 'Add a recipient.' });
  expect(saying({ isEmpty: true })?.field).toBe('html');
});

test('what leaves is limited over all copies', () => {
  expect(saying({ bytes: 1_333_333, recipients: 100 })).toBeNull();
  expect(saying({ bytes: 1_333_334, recipients: 100 })?.detail).toMatch(/^The message is too large/);
});

test('so are links', () => {
  expect(saying({ links: MESSAGE_LIMITS.maxLinks })).toBeNull();
  expect(saying({ links: MESSAGE_LIMITS.maxLinks + 1 })?.detail).toMatch(/links; at most/);
});

test('a rule by which nothing comes after the first time is none', () => {
  const rule = (text: string) => repeatProblem({ rule: text, zone: 'UTC' }, Date.UTC(2026, 10, 25, 9));
  expect(rule('FREQ=WEEKLY')).toBeNull();
  expect(rule('FREQ=WEEKLY;COUNT=1')).toMatch(/only once/);
  expect(rule('FREQ=NEVER')).not.toBeNull();
});
