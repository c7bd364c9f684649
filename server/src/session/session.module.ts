import { Module } from '@nestjs/common';
import { APP_GUARD } from '@nestjs/core';
import { SettingsModule } from '../settings/settings.module.js';
import { Codes } from './codes.js';
import { CodesController } from './codes.controller.js';
import { Passkeys } from './passkeys.js';
import { PasskeysController, PasskeySignInController } from './passkeys.controller.js';
import { SessionController, SessionsController } from './session.controller.js';
import { SessionGuard } from './session.guard.js';
import { SessionRepository } from './session.repository.js';
import { SessionService } from './session.service.js';
import { SetUpSettings } from './setUp.settings.js';

@Module({
  imports: [SettingsModule],
  controllers: [CodesController, PasskeysController, PasskeySignInController, SessionController, SessionsController],
  providers: [
    Codes,
    Passkeys,
    SessionService,
    SessionRepository,
    SetUpSettings,
    { provide: APP_GUARD, useClass: SessionGuard },
  ],
  exports: [SessionService],
})
export class SessionModule {}
