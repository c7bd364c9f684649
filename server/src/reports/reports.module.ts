import { Module } from '@nestjs/common';
import { SentModule } from '../sent/sent.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { ExportController } from './export.controller.js';
import { ReportsController } from './reports.controller.js';
import { ReportsRepository } from './reports.repository.js';

@Module({
  imports: [SentModule, TrackingModule],
  controllers: [ExportController, ReportsController],
  providers: [ReportsRepository],
})
export class ReportsModule {}
