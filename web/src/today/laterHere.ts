import { laterTimes, type LaterTime } from '@kiraku/core/time';
import { MY_ZONE } from '../shared/time/zone.js';

/** Until when something can wait from now on, by the user’s clocks. A file of its own, since it needs the library for dates. */
export function laterHere(): LaterTime[] {
  return laterTimes(Date.now(), MY_ZONE);
}
