import { Module } from '@nestjs/common';
import { SentModule } from '../sent/sent.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { ExportController } from './export.controller.js';
import { ExportRows } from './exportRows.js';
import { ReportsController } from './reports.controller.js';
import { ReportsService } from './reports.service.js';

@Module({
  imports: [SentModule, TrackingModule],
  controllers: [ExportController, ReportsController],
  providers: [ExportRows, ReportsService],
  exports: [ExportRows, ReportsService],
})
export class ReportsModule {}
