import { Module } from '@nestjs/common';
import { AccountController } from './account.controller.js';
import { AccountService } from './account.service.js';
import { DkimController } from './dkim.controller.js';
import { DkimService } from './dkim.service.js';
import { GuessController } from './guess.controller.js';
import { GuessService } from './guess.service.js';
import { PrivacySettings } from './privacy.settings.js';
import { Secrets } from './secrets.js';
import { SendingSettings } from './sending.settings.js';
import { SettingsRepository } from './settings.repository.js';

@Module({
  controllers: [AccountController, DkimController, GuessController],
  providers: [AccountService, DkimService, GuessService, PrivacySettings, Secrets, SendingSettings, SettingsRepository],
  exports: [AccountService, DkimService, GuessService, PrivacySettings, Secrets, SendingSettings, SettingsRepository],
})
export class SettingsModule {}
