import { Injectable } from '@nestjs/common';
import { HOUR } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { Works } from '../work/works.js';
import { FilesService } from './files.service.js';
import { Uploads } from './uploads.js';

/** Deletes, once an hour, files that nobody wants any more and uploads that were broken off. */
@Injectable()
export class Tidying {
  constructor(files: FilesService, uploads: Uploads, clock: Clock, works: Works) {
    works.add({
      name: 'deleted files',
      run: async () => {
        await files.deleteExpired();
        await uploads.deleteExpired();
        return clock.now() + HOUR;
      },
    });
  }
}
