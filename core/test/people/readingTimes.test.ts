import fc from 'fast-check';
import { DateTime } from 'luxon';
import { hourWords, readingTimes, surenessWords } from '@kiraku/core/people';
import { DAY, HOUR, WEEK } from '@kiraku/core/time';

/** A Monday. */
const MONDAY = Date.parse('2026-11-23T00:00:00Z');
const at = (weekday: number, hour: number, week = 0) => MONDAY + weekday * DAY + hour * HOUR - week * WEEK;

test('looks stand at their weekday and hour by the clocks of the reader', () => {
  const helsinki = readingTimes([at(0, 23)], 'Europe/Helsinki');
  expect(helsinki.looks[1]![1]).toBe(1);
  const newYork = readingTimes([at(0, 3)], 'America/New_York');
  expect(newYork.looks[6]![22]).toBe(1);
});

test('every look is counted once, where luxon says it belongs', () => {
  const zones = fc.constantFrom('UTC', 'Europe/Berlin', 'America/St_Johns', 'Australia/Lord_Howe', 'Asia/Kathmandu');
  const moments = fc.array(fc.integer({ min: Date.UTC(1995, 0), max: Date.UTC(2035, 0) }), { maxLength: 30 });
  fc.assert(
    fc.property(zones, moments, (zone, looks) => {
      const { looks: table, total } = readingTimes(looks, zone);
      const expected = table.map((hours) => hours.map(() => 0));
      for (const moment of looks) {
        const { weekday, hour } = DateTime.fromMillis(moment, { zone });
        expected[weekday - 1]![hour]! += 1;
      }
      expect(table).toEqual(expected);
      expect(total).toBe(looks.length);
    }),
  );
});

test('it says how sure one can be, and names an hour only from a hint on', () => {
  expect(readingTimes([], 'UTC')).toMatchObject({ sureness: 'nothing', busiest: null });
  const few = readingTimes([at(1, 9), at(2, 9)], 'UTC');
  expect(few.busiest).toBeNull();
  expect(surenessWords(few)).toBe('From 2 looks on 2 days: too few to speak of a habit.');
  // Many on one day are one sitting, no habit.
  const sitting = Array.from({ length: 40 }, (_, index) => at(1, 9) + index * 60_000);
  expect(readingTimes(sitting, 'UTC').sureness).toBe('too-few');
  const habit = Array.from({ length: 10 }, (_, week) => [at(1, 10, week), at(1, 11, week), at(3, 15, week)]).flat();
  const sure = readingTimes(habit, 'UTC');
  expect(sure.sureness).toBe('fairly');
  expect(hourWords(sure.busiest!)).toBe('Tuesday around 10:00');
});
