import { Module } from '@nestjs/common';
import { FollowupsModule } from '../followups/followups.module.js';
import { MessagesModule } from '../messages/messages.module.js';
import { DeliveryModule } from '../delivery/delivery.module.js';
import { RefusedModule } from '../refused/refused.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { SubmissionModule } from '../submission/submission.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
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
  providers: [ReplyBodies, IncomingRepository, IncomingService, LmtpServer, MailboxFollower, MailboxSettings],
  exports: [IncomingRepository, MailboxFollower],
})
export class IncomingModule {}
