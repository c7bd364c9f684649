import { Module } from '@nestjs/common';
import { FollowupsModule } from '../followups/followups.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { OutboxRepository } from './outbox.repository.js';
import { TrialController } from './trial.controller.js';
import { OutboxService } from './outbox.service.js';

@Module({
  imports: [FollowupsModule, SettingsModule, TrackingModule],
  controllers: [TrialController],
  providers: [OutboxRepository, OutboxService],
  exports: [OutboxRepository, OutboxService],
})
export class OutboxModule {}
