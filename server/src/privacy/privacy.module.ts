import { Module } from '@nestjs/common';
import { FollowupsModule } from '../followups/followups.module.js';
import { DeliveryModule } from '../delivery/delivery.module.js';
import { SentModule } from '../sent/sent.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { PersonDataRepository } from './personData.repository.js';
import { PersonDataService } from './personData.js';
import { PrivacyController } from './privacy.controller.js';
import { Retention } from './retention.js';
import { RetentionRepository } from './retention.repository.js';

@Module({
  imports: [FollowupsModule, DeliveryModule, SentModule, SettingsModule, TrackingModule],
  controllers: [PrivacyController],
  providers: [PersonDataRepository, PersonDataService, Retention, RetentionRepository],
})
export class PrivacyModule {}
