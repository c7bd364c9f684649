import { Global, Module } from '@nestjs/common';
import { ChangeLog } from './changeLog.js';
import { HealthController } from './health.controller.js';
import { Processes } from './processes.js';
import { WorkController } from './work.controller.js';
import { Works } from './works.js';

/** What is due at times of its own, for everybody who has such work. */
@Global()
@Module({
  controllers: [HealthController, WorkController],
  providers: [ChangeLog, Processes, Works],
  exports: [Processes, Works],
})
export class WorkModule {}
