import fc from 'fast-check';
import type { NotificationSettingsView } from '@kiraku/core/contract';
import { NOTIFY_WITHIN_MS, isQuiet, DEFAULT_CHANNELS, channelsOf } from '@kiraku/core/notifications';
import { HOUR, MINUTE } from '@kiraku/core/time';

const DEFAULTS: NotificationSettingsView = {
  channels: DEFAULT_CHANNELS,
  stay: false,
  quietHours: null,
  zone: 'UTC',
  mutedUntil: null,
};
const at = (reading: string) => Date.parse(`2026-11-25T${reading}:00Z`);

test.each<[from: string, to: string, zone: string, utc: string, quiet: boolean]>([
  ['22:00', '07:30', 'UTC', '23:15', true],
  ['22:00', '07:30', 'UTC', '07:29', true],
  ['22:00', '07:30', 'UTC', '07:30', false],
  ['22:00', '07:30', 'UTC', '12:00', false],
  ['12:00', '13:00', 'UTC', '12:00', true],
  ['12:00', '13:00', 'Europe/Helsinki', '12:00', false],
  ['12:00', '13:00', 'Europe/Helsinki', '10:30', true],
  ['09:00', '09:00', 'UTC', '09:00', false],
])('from %s to %s in %s it is at %s UTC quiet: %s', (from, to, zone, utc, quiet) => {
  expect(isQuiet({ ...DEFAULTS, quietHours: { from, to }, zone }, at(utc))).toBe(quiet);
});

test('through the night the clocks are put back, quiet hours end by the clocks', () => {
  const night = { ...DEFAULTS, quietHours: { from: '22:00', to: '07:00' }, zone: 'Europe/Helsinki' };
  // 25 October 2026: 04:00 summer time becomes 03:00.
  expect(isQuiet(night, Date.parse('2026-10-25T04:59:00Z'))).toBe(true);
  expect(isQuiet(night, Date.parse('2026-10-25T05:00:00Z'))).toBe(false);
});

test('by one press it is quiet for an hour, and then not any more', () => {
  const now = at('10:00');
  const quiet = { ...DEFAULTS, mutedUntil: now + HOUR };
  expect(channelsOf({ kind: 'clicked', at: now }, quiet, now)).toEqual([]);
  expect(channelsOf({ kind: 'clicked', at: now + HOUR }, quiet, now + HOUR)).toEqual(['page', 'desktop', 'push']);
});

test('old news and what goes with a burst notify nobody', () => {
  const now = at('10:00');
  expect(channelsOf({ kind: 'bounced', at: now - NOTIFY_WITHIN_MS - 1 }, DEFAULTS, now)).toEqual([]);
  expect(channelsOf({ kind: null, at: now }, DEFAULTS, now)).toEqual([]);
});

test('each minute of a day is either within a span or within the span from its end to its start', () => {
  const reading = fc
    .integer({ min: 0, max: 24 * 60 - 1 })
    .map((minute) => `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`);
  fc.assert(
    fc.property(reading, reading, fc.integer({ min: 0, max: 24 * 60 - 1 }), (from, to, minute) => {
      fc.pre(from !== to);
      const now = at('00:00') + minute * MINUTE;
      const inside = isQuiet({ ...DEFAULTS, quietHours: { from, to } }, now);
      const outside = isQuiet({ ...DEFAULTS, quietHours: { from: to, to: from } }, now);
      expect(inside).toBe(!outside);
    }),
  );
});

test('at first all that is new notifies, and what is only more of it stays in the page', () => {
  const quietly = ['opened_again', 'opted_out'];
  const { check_failed: checks, ...others } = DEFAULT_CHANNELS;
  for (const [kind, ways] of Object.entries(others))
    expect([kind, ways]).toEqual([kind, quietly.includes(kind) ? ['page'] : ['page', 'desktop', 'push']]);
  expect(Object.keys(others)).toHaveLength(10);
  // Nobody who is away for long misses that nothing is recorded any more.
  expect(checks).toEqual(['page', 'desktop', 'push', 'email']);
});

test('a minute old is news', () => {
  const now = at('10:00');
  expect(channelsOf({ kind: 'bounced', at: now - MINUTE }, DEFAULTS, now)).toEqual(['page', 'desktop', 'push']);
  expect(channelsOf({ kind: 'opened_again', at: now }, DEFAULTS, now)).toEqual(['page']);
});
