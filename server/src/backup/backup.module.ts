import { Module } from '@nestjs/common';
import { DeliveryModule } from '../delivery/delivery.module.js';
import { FollowupsModule } from '../followups/followups.module.js';
import { PeopleModule } from '../people/people.module.js';
import { RoundsModule } from '../rounds/rounds.module.js';
import { SessionModule } from '../session/session.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { AfterRestore } from './afterRestore.js';
import { BackupController } from './backup.controller.js';
import { BackupService } from './backup.service.js';
import { BackupSettings } from './backup.settings.js';
import { HoldingBack } from './holdingBack.js';

/** What keeps everything from being lost with the machine. */
@Module({
  imports: [DeliveryModule, FollowupsModule, PeopleModule, RoundsModule, SessionModule, SettingsModule],
  controllers: [BackupController],
  providers: [AfterRestore, BackupService, BackupSettings, HoldingBack],
  exports: [AfterRestore, BackupService],
})
export class BackupModule {}
