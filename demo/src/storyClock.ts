import { Clock } from '@kiraku/server/environment/clock';

/** A clock that is set to each moment of the story. */
export class StoryClock extends Clock {
  at = 0;
  override now(): number {
    return this.at;
  }
}
