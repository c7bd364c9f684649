import { Module } from '@nestjs/common';
import { SettingsModule } from '../settings/settings.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { PrivacyController } from './privacy.controller.js';
import { Retention } from './retention.js';
import { RetentionRepository } from './retention.repository.js';

@Module({
  imports: [SettingsModule, TrackingModule],
  controllers: [PrivacyController],
  providers: [Retention, RetentionRepository],
})
export class PrivacyModule {}
