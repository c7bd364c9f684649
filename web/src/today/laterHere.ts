import { laterTimes, type LaterTime } from '@kiraku/core/time';
import { MY_ZONE } from '../shared/time/zone.js';

/** Until when something can wait from now on, by the user's clocks. With all that reckons times: a file of its own. */
export function laterHere(): LaterTime[] {
  return laterTimes(Date.now(), MY_ZONE);
}
