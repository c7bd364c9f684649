import { Module } from '@nestjs/common';
import { FollowupsModule } from '../followups/followups.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { DeliveryRepository } from './delivery.repository.js';
import { DeliveryService } from './delivery.service.js';
import { OutboxRepository } from './outbox.repository.js';
import { OutboxService } from './outbox.service.js';
import { TrialController } from './trial.controller.js';
import { OutgoingServer } from './outgoingServer.js';

@Module({
  imports: [FollowupsModule, SettingsModule, TrackingModule],
  controllers: [TrialController],
  providers: [DeliveryRepository, DeliveryService, OutboxRepository, OutboxService, OutgoingServer],
  exports: [DeliveryRepository, DeliveryService, OutboxRepository, OutboxService, OutgoingServer],
})
export class DeliveryModule {}
