import fc from 'fast-check';
import { DateTime } from 'luxon';
import { confidenceSentence, hourText } from '@kiraku/core/sentences';
import { readingTimes, WEEKDAYS } from '@kiraku/core/people';
import { DAY, HOUR, WEEK } from '@kiraku/core/time';

/** A Monday. */
const MONDAY = Date.parse('2026-11-23T00:00:00Z');
const at = (weekday: number, hour: number, week = 0) => MONDAY + weekday * DAY + hour * HOUR - week * WEEK;

test('opens stand at their weekday and hour by the clocks of the reader', () => {
  const helsinki = readingTimes([at(0, 23)], 'Europe/Helsinki');
  expect(helsinki.readTimes[1]![1]).toBe(1);
  const newYork = readingTimes([at(0, 3)], 'America/New_York');
  expect(newYork.readTimes[6]![22]).toBe(1);
});

test('every open is counted once, where luxon says it belongs', () => {
  const zones = fc.constantFrom('UTC', 'Europe/Berlin', 'America/St_Johns', 'Australia/Lord_Howe', 'Asia/Kathmandu');
  const moments = fc.array(fc.integer({ min: Date.UTC(1995, 0), max: Date.UTC(2035, 0) }), { maxLength: 30 });
  fc.assert(
    fc.property(zones, moments, (zone, readTimes) => {
      const { readTimes: table, total } = readingTimes(readTimes, zone);
      const expected = table.map((hours) => hours.map(() => 0));
      for (const moment of readTimes) {
        const { weekday, hour } = DateTime.fromMillis(moment, { zone });
        expected[weekday - 1]![hour]! += 1;
      }
      expect(table).toEqual(expected);
      expect(total).toBe(readTimes.length);
    }),
  );
});

test('it says how sure one can be, and names an hour only from a hint on', () => {
  expect(readingTimes([], 'UTC')).toMatchObject({ confidence: 'nothing', busiest: null });
  const few = readingTimes([at(1, 9), at(2, 9)], 'UTC');
  expect(few.busiest).toBeNull();
  expect(confidenceSentence(few)).toBe('Based on 2 opens and clicks on 2 days: too few to show a habit.');
  // Many on one day are one sitting, no habit.
  const sitting = Array.from({ length: 40 }, (_, index) => at(1, 9) + index * 60_000);
  expect(readingTimes(sitting, 'UTC').confidence).toBe('too-few');
  const habit = Array.from({ length: 10 }, (_, week) => [at(1, 10, week), at(1, 11, week), at(3, 15, week)]).flat();
  const sure = readingTimes(habit, 'UTC');
  expect(sure.confidence).toBe('fairly');
  expect(hourText(sure.busiest!)).toBe('Tuesday around 10:00');
});

/** So many opens on so many days, at one hour each. */
const habit = (readTimes: number, days: number) => {
  const moments = Array.from({ length: readTimes }, (_, index) => MONDAY + (index % days) * DAY + 9 * HOUR + index);
  return readingTimes(moments, 'UTC');
};

test.each([
  [30, 10, 'fairly', 'Based on 30 opens and clicks on 10 days: fairly sure.'],
  [29, 10, 'a-hint', 'Based on 29 opens and clicks on 10 days: only a hint.'],
  [30, 9, 'a-hint', 'Based on 30 opens and clicks on 9 days: only a hint.'],
  [8, 4, 'a-hint', 'Based on 8 opens and clicks on 4 days: only a hint.'],
  [7, 4, 'too-few', 'Based on 7 opens and clicks on 4 days: too few to show a habit.'],
  [8, 3, 'too-few', 'Based on 8 opens and clicks on 3 days: too few to show a habit.'],
  [1, 1, 'too-few', 'Based on 1 open or click on 1 day: too few to show a habit.'],
  [0, 1, 'nothing', 'Nothing read yet.'],
])('%d opens on %d days are %s', (readTimes, days, confidence, words) => {
  const times = habit(readTimes, days);
  expect(times.confidence).toBe(confidence);
  expect(confidenceSentence(times)).toBe(words);
});

test('an hour is named by its weekday', () => {
  const names = WEEKDAYS.map((_, weekday) => hourText({ weekday, hour: weekday }));
  expect(names).toEqual(
    ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'].map(
      (name, hour) => `${name} around 0${hour}:00`,
    ),
  );
  expect(WEEKDAYS.map((short, index) => names[index]!.startsWith(short))).toEqual(Array(7).fill(true));
});

test('the hour around which most is read takes half of its neighbours, and nothing of the day before', () => {
  const readTimes = (...hours: [weekday: number, hour: number, times: number][]) =>
    readingTimes(
      hours.flatMap(([weekday, hour, times]) => Array.from({ length: times }, (_, n) => at(weekday, hour, n))),
      'UTC',
    ).busiest;
  // 5 against 4 with 3 beside it; 5 against 4 with 2 beside it, and of equals the earliest.
  expect(readTimes([0, 9, 5], [2, 10, 4], [2, 11, 3])).toEqual({ weekday: 2, hour: 10 });
  expect(readTimes([0, 9, 5], [2, 10, 4], [2, 11, 2])).toEqual({ weekday: 0, hour: 9 });
  expect(readTimes([0, 23, 5], [1, 0, 4], [3, 12, 5], [3, 13, 1])).toEqual({ weekday: 3, hour: 12 });
});

test('before 1970, too, weeks begin on Monday', () => {
  const sunday = readingTimes([Date.UTC(1969, 11, 28, 5)], 'UTC');
  expect(sunday.readTimes[6]![5]).toBe(1);
});
