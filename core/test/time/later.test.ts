import { laterTimes, tomorrowMorning, untilTomorrow } from '@kiraku/core/time';
import fc from 'fast-check';
import { DateTime } from 'luxon';

const ZONE = 'Europe/Helsinki';
const moment = (text: string) => DateTime.fromISO(text, { zone: ZONE }).toMillis();
const shown = (at: number) => DateTime.fromMillis(at, { zone: ZONE }).toFormat('ccc d LLL HH:mm');
const offered = (now: string) => laterTimes(moment(now), ZONE).map(({ label, at }) => `${label}: ${shown(at)}`);

test('in the morning everything is still to come', () => {
  expect(offered('2026-11-25T09:20')).toEqual([
    'for an hour: Wed 25 Nov 10:20',
    'until this afternoon: Wed 25 Nov 14:00',
    'until tomorrow morning: Thu 26 Nov 08:00',
    'until next Monday: Mon 30 Nov 08:00',
  ]);
});

test('in the afternoon this afternoon is not offered', () => {
  expect(offered('2026-11-25T14:00').map((one) => one.split(':')[0])).toEqual([
    'for an hour',
    'until tomorrow morning',
    'until next Monday',
  ]);
});

test('on a Monday the next one is a week away, on a Sunday it is tomorrow', () => {
  expect(offered('2026-11-23T07:00').at(-1)).toBe('until next Monday: Mon 30 Nov 08:00');
  expect(offered('2026-11-29T22:00').at(-1)).toBe('until next Monday: Mon 30 Nov 08:00');
});

test('the clocks of the zone hold, also over a change of the hour', () => {
  expect(shown(untilTomorrow(moment('2026-10-24T22:00'), ZONE).at)).toBe('Sun 25 Oct 08:00');
  expect(shown(tomorrowMorning(moment('2026-03-28T23:30'), ZONE))).toBe('Sun 29 Mar 09:00');
});

test('at any time, in any zone, everything offered is to come, and tomorrow is always offered', () => {
  const zones = fc.constantFrom('UTC', 'Pacific/Apia', 'America/Sao_Paulo', 'Asia/Kathmandu', 'Australia/Lord_Howe');
  const times = fc.integer({ min: moment('2020-01-01'), max: moment('2030-01-01') });
  fc.assert(
    fc.property(times, zones, (now, zone) => {
      for (const { at } of laterTimes(now, zone)) expect(at).toBeGreaterThan(now);
      expect(untilTomorrow(now, zone).at).toBeGreaterThan(now);
    }),
  );
});
