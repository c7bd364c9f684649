import { Module } from '@nestjs/common';
import { BackupModule } from '../backup/backup.module.js';
import { IncomingModule } from '../incoming/incoming.module.js';
import { NotificationsModule } from '../notifications/notifications.module.js';
import { SessionModule } from '../session/session.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { SubmissionModule } from '../submission/submission.module.js';
import { TlsModule } from '../tls/tls.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { AddressChecks } from './addressChecks.js';
import { AllChecks } from './allChecks.js';
import { CheckMail } from './checkMail.js';
import { CheckupController } from './checkup.controller.js';
import { CheckupService } from './checkup.service.js';
import { Dns } from './dns.js';
import { DomainChecks } from './domainChecks.js';
import { MachineChecks } from './machineChecks.js';
import { MailChecks } from './mailChecks.js';

/** Whether all that Kiraku stands on works. */
@Module({
  imports: [
    BackupModule,
    IncomingModule,
    NotificationsModule,
    SessionModule,
    SettingsModule,
    SubmissionModule,
    TlsModule,
    TrackingModule,
  ],
  controllers: [CheckupController],
  providers: [AddressChecks, AllChecks, CheckMail, CheckupService, Dns, DomainChecks, MachineChecks, MailChecks],
})
export class CheckupModule {}
