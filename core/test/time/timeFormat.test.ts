import {
  appointmentWords,
  clockWords,
  dateWords,
  DAY,
  DEFAULT_TIME_FORMAT,
  exactWords,
  HOUR,
  hourWords,
  readPeriod,
  setTimeFormat,
  shortWords,
  timeFormat,
  timeFormatOf,
  timeOfDay,
  whenWords,
} from '@kiraku/core/time';
import { DEFAULT_CHANNELS, isQuiet } from '@kiraku/core/notifications';
import { hourText } from '@kiraku/core/sentences';

const AT = Date.UTC(2026, 8, 2, 15, 5, 9);
afterEach(() => setTimeFormat(DEFAULT_TIME_FORMAT));

test.each([
  ['en-GB', '24h', 'day-month', 1],
  ['de', '24h', 'day-month', 1],
  ['fi', '24h', 'day-month', 1],
  ['en-US', '12h', 'month-day', 0],
  ['sv', '24h', 'year-month-day', 1],
  ['ja', '24h', 'year-month-day', 0],
  ['ar-EG', '12h', 'day-month', 6],
])('%s reads %s, %s, weeks from %d', (language, clock, dateOrder, firstDay) => {
  expect(timeFormatOf(language)).toEqual({ clock, dateOrder, firstDay });
});

test('until something is chosen, it is the format of most of the world', () => {
  expect(timeFormat()).toEqual({ clock: '24h', dateOrder: 'day-month', firstDay: 1 });
  expect(exactWords(AT, 'UTC')).toBe('Wed, 2 Sep 2026, 15:05:09');
});

test.each([
  ['24h', 'day-month', 'Wed, 2 Sep 2026, 15:05', '2 Sep', '2 Sep 2026', '15:05'],
  ['12h', 'day-month', 'Wed, 2 Sep 2026, 3:05 PM', '2 Sep', '2 Sep 2026', '3:05 PM'],
  ['12h', 'month-day', 'Wed, Sep 2, 2026, 3:05 PM', 'Sep 2', 'Sep 2, 2026', '3:05 PM'],
  ['24h', 'year-month-day', 'Wed, 2026-09-02, 15:05', '2026-09-02', '2026-09-02', '15:05'],
] as const)('%s, %s', (clock, dateOrder, appointment, sameYear, otherYear, time) => {
  setTimeFormat({ clock, dateOrder, firstDay: 1 });
  expect(appointmentWords(AT, 'UTC')).toBe(appointment);
  expect(dateWords(AT, AT + 30 * DAY, 'UTC')).toBe(sameYear);
  expect(dateWords(AT, AT + 300 * DAY, 'UTC')).toBe(otherYear);
  expect(whenWords(AT, AT + 30 * DAY, 'UTC')).toBe(`on ${sameYear}`);
  expect(clockWords(AT, 'UTC')).toBe(time);
  expect(shortWords(AT, AT + HOUR, 'UTC')).toBe(time);
  expect(shortWords(AT, AT + DAY, 'UTC')).toBe(`Wed ${time}`);
  expect(shortWords(AT, AT + 20 * DAY, 'UTC')).toBe(sameYear);
});

test.each([
  [0, '00:00', '12 AM'],
  [9, '09:00', '9 AM'],
  [12, '12:00', '12 PM'],
  [23, '23:00', '11 PM'],
])('hour %d is %s, or %s', (hour, on24, on12) => {
  expect(hourWords(hour)).toBe(on24);
  setTimeFormat({ ...DEFAULT_TIME_FORMAT, clock: '12h' });
  expect(hourWords(hour)).toBe(on12);
  expect(hourText({ weekday: 1, hour })).toBe(`Tuesday around ${on12}`);
  expect(clockWords(Date.UTC(2026, 0, 1, hour, 0, 0), 'UTC')).toBe(on12.replace(' ', ':00 '));
});

test('what is compared does not depend on how it is shown', () => {
  const night = {
    channels: DEFAULT_CHANNELS,
    stay: false,
    mutedUntil: null,
    zone: 'UTC',
    quietHours: { from: '22:00', to: '07:00' },
  };
  for (const clock of ['24h', '12h'] as const) {
    setTimeFormat({ ...DEFAULT_TIME_FORMAT, clock });
    expect(timeOfDay(AT, 'UTC')).toBe('15:05');
    expect([6, 7, 21, 22].map((hour) => isQuiet(night, Date.UTC(2026, 0, 1, hour, 30)))).toEqual([
      true,
      false,
      false,
      true,
    ]);
  }
});

test.each([
  [1, 23],
  [0, 22],
  [6, 21],
] as const)('a week that begins on day %d began on the %d of November', (firstDay, date) => {
  setTimeFormat({ ...DEFAULT_TIME_FORMAT, firstDay });
  // A Thursday.
  const now = new Date(2026, 10, 26, 12).getTime();
  expect(readPeriod('this-week', now)).toEqual({ from: new Date(2026, 10, date).getTime(), to: null });
});
