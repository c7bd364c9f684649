import { Module } from '@nestjs/common';
import { FollowupsModule } from '../followups/followups.module.js';
import { MessagesModule } from '../messages/messages.module.js';
import { OutboxModule } from '../outbox/outbox.module.js';
import { RefusedModule } from '../refused/refused.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { SubmissionModule } from '../submission/submission.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { AnswerLetters } from './answerLetters.js';
import { InboxController } from './inbox.controller.js';
import { InboxRepository } from './inbox.repository.js';
import { InboxService } from './inbox.service.js';
import { LmtpServer } from './lmtp.server.js';
import { MailboxController } from './mailbox.controller.js';
import { MailboxFollower } from './mailboxFollower.js';
import { MailboxSettings } from './mailbox.settings.js';

@Module({
  imports: [
    ...[FollowupsModule, MessagesModule, OutboxModule, RefusedModule],
    ...[SettingsModule, SubmissionModule, TrackingModule],
  ],
  controllers: [InboxController, MailboxController],
  providers: [AnswerLetters, InboxRepository, InboxService, LmtpServer, MailboxFollower, MailboxSettings],
  exports: [InboxRepository, MailboxFollower],
})
export class InboxModule {}
