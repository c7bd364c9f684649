import { Module } from '@nestjs/common';
import { MessagesModule } from '../messages/messages.module.js';
import { SessionModule } from '../session/session.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { LiveController } from './live.controller.js';
import { LiveService } from './live.service.js';

@Module({
  imports: [MessagesModule, SessionModule, TrackingModule],
  controllers: [LiveController],
  providers: [LiveService],
})
export class NotificationsModule {}
