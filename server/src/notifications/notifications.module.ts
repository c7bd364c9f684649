import { Module } from '@nestjs/common';
import { FollowupsModule } from '../followups/followups.module.js';
import { MessagesModule } from '../messages/messages.module.js';
import { OutboxModule } from '../outbox/outbox.module.js';
import { SessionModule } from '../session/session.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { LiveController } from './live.controller.js';
import { LiveService } from './live.service.js';
import { NoticesController } from './notices.controller.js';
import { NoticesService } from './notices.service.js';
import { NoticesSettings } from './notices.settings.js';
import { OwnMail } from './ownMail.js';
import { PushController } from './push.controller.js';
import { PushRepository } from './push.repository.js';
import { PushService } from './push.service.js';

@Module({
  imports: [FollowupsModule, MessagesModule, OutboxModule, SessionModule, SettingsModule, TrackingModule],
  controllers: [LiveController, NoticesController, PushController],
  providers: [LiveService, NoticesService, NoticesSettings, OwnMail, PushRepository, PushService],
  exports: [NoticesSettings],
})
export class NotificationsModule {}
