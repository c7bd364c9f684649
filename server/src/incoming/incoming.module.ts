import { Module } from '@nestjs/common';
import { FollowupsModule } from '../followups/followups.module.js';
import { MessagesModule } from '../messages/messages.module.js';
import { DeliveryModule } from '../delivery/delivery.module.js';
import { RefusedModule } from '../refused/refused.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { SubmissionModule } from '../submission/submission.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { Consequences } from './consequences.js';
import { MailboxReading } from './mailboxReading.js';
import { MailboxRepository } from './mailbox.repository.js';
import { Matching } from './matching.js';
import { SentFolder } from './sentFolder.js';
import { ReplyBodies } from './replyBodies.js';
import { IncomingController } from './incoming.controller.js';
import { IncomingRepository } from './incoming.repository.js';
import { IncomingService } from './incoming.service.js';
import { LmtpServer } from './lmtp.server.js';
import { MailboxController } from './mailbox.controller.js';
import { MailboxFollower } from './mailboxFollower.js';
import { MailboxSettings } from './mailbox.settings.js';

@Module({
  imports: [
    FollowupsModule,
    MessagesModule,
    DeliveryModule,
    RefusedModule,
    SettingsModule,
    SubmissionModule,
    TrackingModule,
  ],
  controllers: [IncomingController, MailboxController],
  providers: [
    Consequences,
    IncomingRepository,
    IncomingService,
    LmtpServer,
    MailboxFollower,
    MailboxReading,
    MailboxRepository,
    MailboxSettings,
    Matching,
    ReplyBodies,
    SentFolder,
  ],
  exports: [MailboxFollower, MailboxSettings],
})
export class IncomingModule {}
