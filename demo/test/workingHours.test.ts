import fc from 'fast-check';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';
import { scenes } from '@kiraku/demo/scenes';
import { isAtWork, LIVE_MS, toWorkingHours } from '@kiraku/demo/workingHours';

/** Any hour of any week, whole seasons included. */
const started = fc.integer({ min: 0, max: 400 * 24 }).map((hours) => Date.UTC(2026, 0, 5) + hours * HOUR);

test('at whichever hour the demo is started, people write and read mostly in working hours', () => {
  fc.assert(
    fc.property(started, (now) => {
      const story = scenes(now);
      const times = story.flatMap(({ sentAgeMs, actions }) => [sentAgeMs, ...actions.map(({ ageMs }) => ageMs)]);
      const past = times.filter((ageMs) => ageMs > LIVE_MS).map((ageMs) => now - ageMs);
      expect(past.filter(isAtWork).length / past.length).toBeGreaterThan(0.9);
      // What happens now is a small part of it.
      expect(past.length / times.length).toBeGreaterThan(0.85);
      expect(times.filter((ageMs) => ageMs < 0)).toEqual([]);
      for (const { sentAgeMs, actions } of story) expect(actions.filter(({ ageMs }) => ageMs > sentAgeMs)).toEqual([]);
    }),
    { numRuns: 150 },
  );
});

test('what lies close together keeps its distance, the order stays, and what is new stays where it is', () => {
  const ages = fc.array(fc.integer({ min: 0, max: 60 * 24 * 60 }), { minLength: 1, maxLength: 12 });
  fc.assert(
    fc.property(started, ages, (now, minutes) => {
      const times = [...new Set(minutes)].map((minute) => now - minute * MINUTE).sort((a, b) => a - b);
      const moved = toWorkingHours(times, now);
      moved.forEach((at, index) => {
        expect(at).toBeLessThanOrEqual(now);
        expect(at).toBeGreaterThanOrEqual(moved[index - 1] ?? -Infinity);
        if (times[index]! > now - LIVE_MS) expect(at).toBe(times[index]);
        // Within a long weekend of where it was.
        else expect(Math.abs(at - times[index]!)).toBeLessThan(4 * DAY);
      });
    }),
  );
  const noon = new Date(2026, 10, 25, 12).getTime();
  const [sent, replied] = toWorkingHours([noon - 2 * DAY, noon - 2 * DAY + 41 * MINUTE], noon);
  expect(replied! - sent!).toBe(41 * MINUTE);
});
