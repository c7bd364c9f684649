import { DateTime } from 'luxon';
import { HOUR } from './words.js';

/** When something can wait until. */
export interface LaterTime {
  /** As a button says it. */
  label: string;
  /** Epoch milliseconds. */
  at: number;
}

const AFTERNOON_HOUR = 14;
const MORNING_HOUR = 8;
/** Whoever writes in the evening means that it is read at the desk. */
const SEND_HOUR = 9;

/** By the clocks of a zone: what the user means by each. */
const LATER: { label: string; at(here: DateTime): DateTime }[] = [
  { label: 'for an hour', at: (here) => here.plus({ milliseconds: HOUR }) },
  { label: 'until this afternoon', at: (here) => here.startOf('day').set({ hour: AFTERNOON_HOUR }) },
  { label: 'until tomorrow morning', at: (here) => tomorrow(here, MORNING_HOUR) },
  // Luxon’s weeks begin on Monday.
  { label: 'until next Monday', at: (here) => here.startOf('week').plus({ weeks: 1 }).set({ hour: MORNING_HOUR }) },
];

/**
 * Until when something can wait: those that are still to come, the nearest first in the order of the day.
 *
 * @param now epoch milliseconds
 * @param zone IANA name of the user’s zone
 * @example laterTimes(noonOnTuesday, 'UTC').map(({ label }) => label) // for an hour, until this afternoon, …
 */
export function laterTimes(now: number, zone: string): LaterTime[] {
  const here = DateTime.fromMillis(now, { zone });
  return LATER.map(({ label, at }) => ({ label, at: at(here).toMillis() })).filter(({ at }) => at > now);
}

/** Tomorrow morning: there is always one. */
export function untilTomorrow(now: number, zone: string): LaterTime {
  return laterTimes(now, zone).find(({ label }) => label === 'until tomorrow morning')!;
}

/** When a message is offered to leave that is not to leave now, in epoch milliseconds. */
export function tomorrowMorning(now: number, zone: string): number {
  return tomorrow(DateTime.fromMillis(now, { zone }), SEND_HOUR).toMillis();
}

function tomorrow(here: DateTime, hour: number): DateTime {
  return here.startOf('day').plus({ days: 1 }).set({ hour });
}
