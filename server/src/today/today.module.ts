import { Module } from '@nestjs/common';
import { MessagesModule } from '../messages/messages.module.js';
import { SentModule } from '../sent/sent.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { TodayController } from './today.controller.js';
import { TodayRepository } from './today.repository.js';
import { TodayService } from './today.service.js';

@Module({
  imports: [MessagesModule, SentModule, TrackingModule],
  controllers: [TodayController],
  providers: [TodayRepository, TodayService],
  exports: [TodayService],
})
export class TodayModule {}
