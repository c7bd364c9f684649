import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { HOUR } from '@kiraku/core/time';
import { FilesService } from './files.service.js';
import { Uploads } from './uploads.js';

/** Lets go, once an hour, of files that nobody wants any more and of uploads that were broken off. */
@Injectable()
export class Tidying implements OnApplicationShutdown {
  private readonly logger = new Logger(Tidying.name);
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly files: FilesService,
    private readonly uploads: Uploads,
  ) {}

  open(): void {
    this.timer = setInterval(() => void this.tidy(), HOUR);
    this.timer.unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  private async tidy(): Promise<void> {
    try {
      await this.files.deleteExpired();
      await this.uploads.deleteExpired();
    } catch (error) {
      this.logger.error('Files could not be tidied', error instanceof Error ? error.stack : String(error));
    }
  }
}
