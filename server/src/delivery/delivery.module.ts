import { Module } from '@nestjs/common';
import { FollowupsModule } from '../followups/followups.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { DeliveryRepository } from './delivery.repository.js';
import { OutboxRepository } from './outbox.repository.js';
import { TrialController } from './trial.controller.js';
import { OutboxService } from './outbox.service.js';

@Module({
  imports: [FollowupsModule, SettingsModule, TrackingModule],
  controllers: [TrialController],
  providers: [DeliveryRepository, OutboxRepository, OutboxService],
  exports: [DeliveryRepository, OutboxRepository, OutboxService],
})
export class DeliveryModule {}
