import { Module } from '@nestjs/common';
import { FollowupsModule } from '../followups/followups.module.js';
import { MessagesModule } from '../messages/messages.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { RoundPlanning } from './roundPlanning.js';
import { RoundsController } from './rounds.controller.js';
import { RoundSending } from './roundSending.js';
import { RoundsRepository } from './rounds.repository.js';
import { RoundsService } from './rounds.service.js';
import { RoundTexts } from './roundTexts.js';

@Module({
  imports: [FollowupsModule, MessagesModule, SettingsModule],
  controllers: [RoundsController],
  providers: [RoundPlanning, RoundSending, RoundsRepository, RoundsService, RoundTexts],
  exports: [RoundsRepository, RoundSending],
})
export class RoundsModule {}
