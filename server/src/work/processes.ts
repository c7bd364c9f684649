import { Injectable, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import type { HealthView } from '@kiraku/core/contract';
import type { StateMessage } from '../supervisor/messages.js';

/** How the supervisor’s processes are, as it reported last. */
@Injectable()
export class Processes implements OnModuleInit, OnApplicationShutdown {
  private state: Pick<HealthView, 'processes' | 'notRecorded'> = { processes: [], notRecorded: null };

  onModuleInit(): void {
    process.on('message', this.receive);
  }

  onApplicationShutdown(): void {
    process.off('message', this.receive);
  }

  view(): Pick<HealthView, 'processes' | 'notRecorded'> {
    return this.state;
  }

  private readonly receive = (message: unknown): void => {
    const { kind, processes, notRecorded } = message as StateMessage;
    if (kind === 'state') this.state = { processes, notRecorded };
  };
}
