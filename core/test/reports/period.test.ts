import fc from 'fast-check';
import { periodBefore, reportPeriod } from '@kiraku/core/reports';
import { DAY, wallTimeAt } from '@kiraku/core/time';

const ZONE = 'Europe/Amsterdam';
const at = (text: string) => Date.parse(text);
/** Monday noon in Amsterdam. */
const NOW = at('2026-11-23T11:00:00Z');

test('the last two days, and today, had no time yet', () => {
  const asked = { from: NOW - 30 * DAY, to: null };
  expect(reportPeriod(asked, NOW, ZONE)).toEqual({
    // 24 October, in summer time still.
    from: at('2026-10-23T22:00:00Z'),
    to: at('2026-11-20T23:00:00Z'),
  });
  expect(reportPeriod({ from: null, to: null }, NOW, ZONE)).toMatchObject({ from: null });
});

test('what has ended before is counted as it was asked for', () => {
  const asked = { from: at('2026-09-30T22:00:00Z'), to: at('2026-10-31T23:00:00Z') };
  expect(reportPeriod(asked, NOW, ZONE)).toEqual(asked);
});

test('of today alone, nothing is counted', () => {
  const today = at('2026-11-22T23:00:00Z');
  const period = reportPeriod({ from: today, to: null }, NOW, ZONE);
  expect(period.from).toBeGreaterThan(period.to);
  expect(periodBefore(period, ZONE)).toBeNull();
});

test('the days before are as many, also where the clocks were set', () => {
  const period = { from: at('2026-10-31T23:00:00Z'), to: at('2026-11-15T23:00:00Z') };
  expect(periodBefore(period, ZONE)).toEqual({ from: at('2026-10-16T22:00:00Z'), to: period.from });
  expect(periodBefore({ from: null, to: NOW }, ZONE)).toBeNull();
});

test('whatever is asked for, whole days are counted, and those before reach up to them', () => {
  const time = fc.integer({ min: NOW - 800 * DAY, max: NOW });
  fc.assert(
    fc.property(
      fc.option(time),
      fc.option(time),
      fc.constantFrom(ZONE, 'Australia/Lord_Howe', 'America/Sao_Paulo', 'UTC'),
      (from, to, zone) => {
        const period = reportPeriod({ from, to }, NOW, zone);
        expect(period.from === null).toBe(from === null);
        expect(period.to).toBeLessThanOrEqual(NOW - 2 * DAY);
        const before = periodBefore(period, zone);
        if (period.from === null || before === null) return;
        expect(before.to).toBe(period.from);
        for (const start of [period.from, before.from])
          expect(wallTimeAt(start, zone)).toMatchObject({ hour: 0, minute: 0 });
      },
    ),
  );
});
