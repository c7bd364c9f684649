import { Module } from '@nestjs/common';
import { FilesModule } from '../files/files.module.js';
import { MessagesModule } from '../messages/messages.module.js';
import { DeliveryModule } from '../delivery/delivery.module.js';
import { RefusedModule } from '../refused/refused.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { TlsModule } from '../tls/tls.module.js';
import { AppPasswordsRepository } from './appPasswords.repository.js';
import { AppPasswords } from './appPasswords.service.js';
import { OwnAddresses } from './ownAddresses.js';
import { LinkedFiles } from './linkedFiles.js';
import { Senders } from './senders.js';
import { SubmittedMails } from './submittedMails.js';
import { SubmissionController } from './submission.controller.js';
import { SubmissionServer } from './submission.server.js';
import { SubmissionService } from './submission.service.js';
import { SubmissionSettings } from './submission.settings.js';

@Module({
  imports: [FilesModule, MessagesModule, DeliveryModule, RefusedModule, SettingsModule, TlsModule],
  controllers: [SubmissionController],
  providers: [
    AppPasswords,
    AppPasswordsRepository,
    LinkedFiles,
    OwnAddresses,
    Senders,
    SubmissionServer,
    SubmissionService,
    SubmissionSettings,
    SubmittedMails,
  ],
  exports: [AppPasswords, OwnAddresses, SubmissionServer, SubmissionSettings],
})
export class SubmissionModule {}
