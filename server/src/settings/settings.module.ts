import { Module } from '@nestjs/common';
import { CONFIG, type Config } from '../environment/config.js';
import { AccountController } from './account.controller.js';
import { AccountService } from './account.service.js';
import { ChecksRepository } from './checks.repository.js';
import { DkimController } from './dkim.controller.js';
import { DkimService } from './dkim.service.js';
import { GuessController } from './guess.controller.js';
import { GuessService } from './guess.service.js';
import { PrivacySettings } from './privacy.settings.js';
import { Secrets } from './secrets.js';
import { SendingSettings } from './sending.settings.js';
import { SettingsRepository } from './settings.repository.js';
import { TimeFormatController } from './timeFormat.controller.js';
import { TimeFormatSettings } from './timeFormat.settings.js';

/** A plain class: the public site, which knows no framework, has one as well. */
const SECRETS = { provide: Secrets, inject: [CONFIG], useFactory: (config: Config) => new Secrets(config) };

const SERVICES = [
  AccountService,
  ChecksRepository,
  DkimService,
  GuessService,
  PrivacySettings,
  SECRETS,
  SendingSettings,
  SettingsRepository,
  TimeFormatSettings,
];

@Module({
  controllers: [AccountController, DkimController, GuessController, TimeFormatController],
  providers: SERVICES,
  exports: SERVICES,
})
export class SettingsModule {}
