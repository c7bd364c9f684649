import { Module } from '@nestjs/common';
import { FilesModule } from '../files/files.module.js';
import { FollowupsModule } from '../followups/followups.module.js';
import { DeliveryModule } from '../delivery/delivery.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { MailReader } from './mailReader.js';
import { DraftsController } from './drafts.controller.js';
import { DraftsService } from './drafts.service.js';
import { CopiesService } from './copies.service.js';
import { OutgoingService } from './outgoing.service.js';
import { MailsService } from './mails.service.js';
import { MessagesController } from './messages.controller.js';
import { MessagesRepository } from './messages.repository.js';
import { OutboxController } from './outbox.controller.js';
import { PicturesController } from './pictures.controller.js';
import { PicturesRepository } from './pictures.repository.js';
import { PreviewService } from './preview.service.js';
import { RecipientsRepository } from './recipients.repository.js';
import { Leaving } from './leaving.js';
import { RetryingService } from './retrying.service.js';
import { ScheduledMessages } from './scheduledMessages.js';
import { SendChecks } from './sendChecks.js';
import { SendingService } from './sending.service.js';
import { SendingController } from './sending.controller.js';
import { SentService } from './sent.service.js';
import { SummariesRepository } from './summaries.repository.js';
import { TemplatesController } from './templates.controller.js';
import { TemplatesRepository } from './templates.repository.js';
import { WritingController } from './writing.controller.js';
import { WritingSettings } from './writing.settings.js';

@Module({
  imports: [FilesModule, FollowupsModule, DeliveryModule, SettingsModule, TrackingModule],
  controllers: [
    DraftsController,
    MessagesController,
    OutboxController,
    PicturesController,
    SendingController,
    TemplatesController,
    WritingController,
  ],
  providers: [
    CopiesService,
    DraftsService,
    Leaving,
    OutgoingService,
    MailReader,
    MailsService,
    MessagesRepository,
    PicturesRepository,
    PreviewService,
    RecipientsRepository,
    RetryingService,
    ScheduledMessages,
    SendChecks,
    SendingService,
    SentService,
    SummariesRepository,
    TemplatesRepository,
    WritingSettings,
  ],
  exports: [
    CopiesService,
    DraftsService,
    Leaving,
    MailReader,
    MailsService,
    MessagesRepository,
    RecipientsRepository,
    ScheduledMessages,
    SendChecks,
    SendingService,
    SentService,
    SummariesRepository,
    TemplatesRepository,
    WritingSettings,
  ],
})
export class MessagesModule {}
