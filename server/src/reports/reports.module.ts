import { Module } from '@nestjs/common';
import { SentModule } from '../sent/sent.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { ExportController } from './export.controller.js';

@Module({ imports: [SentModule, TrackingModule], controllers: [ExportController] })
export class ReportsModule {}
