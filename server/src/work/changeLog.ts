import { Injectable } from '@nestjs/common';
import { DAY } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { Changes } from '../store/changes.js';
import { Works } from './works.js';

/** Keeps the log of changes short, also where the server runs for years. */
@Injectable()
export class ChangeLog {
  constructor(works: Works, changes: Changes, clock: Clock) {
    works.add({
      name: 'change log',
      run: () => {
        changes.prune();
        return clock.now() + DAY;
      },
    });
  }
}
