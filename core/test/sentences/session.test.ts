import type { OpenSession } from '@kiraku/core/contract';
import { lastUsedText, sessionDeviceText, sessionTimesText } from '@kiraku/core/sentences';
import { HOUR, MINUTE } from '@kiraku/core/time';

const NOW = Date.UTC(2026, 10, 23, 12);
const session = (part: Partial<OpenSession> = {}): OpenSession => ({
  id: 'a',
  createdAt: NOW - 3 * HOUR,
  lastSeenAt: NOW - 4 * MINUTE,
  device: 'phone',
  system: 'iOS',
  program: 'Safari',
  isThis: false,
  ...part,
});

test('a session is named by its browser, as far as that is known', () => {
  expect(sessionDeviceText(session())).toBe('Phone, Safari, iOS');
  expect(sessionDeviceText(session({ device: null, system: null }))).toBe('Safari');
  expect(sessionDeviceText(session({ device: null, system: null, program: null }))).toBe('An unknown browser');
});

test('of the session that asks, only its beginning is said: it is used now', () => {
  expect(sessionTimesText(session(), NOW)).toBe('Signed in 3 hours ago, last used 4 minutes ago');
  expect(sessionTimesText(session({ isThis: true }), NOW)).toBe('This browser, signed in 3 hours ago');
});

test('an app password that was never used says so', () => {
  expect(lastUsedText(null, NOW)).toBe('never used');
  expect(lastUsedText(NOW - HOUR, NOW)).toBe('last used 1 hour ago');
});
