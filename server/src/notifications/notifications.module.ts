import { Module } from '@nestjs/common';
import { FollowupsModule } from '../followups/followups.module.js';
import { MessagesModule } from '../messages/messages.module.js';
import { DeliveryModule } from '../delivery/delivery.module.js';
import { SessionModule } from '../session/session.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { LiveController } from './live.controller.js';
import { LiveService } from './live.service.js';
import { MailToSelf } from './mailToSelf.js';
import { NotificationsController } from './notifications.controller.js';
import { NotificationsService } from './notifications.service.js';
import { NotificationsSettings } from './notifications.settings.js';
import { OwnMail } from './ownMail.js';
import { PushController } from './push.controller.js';
import { PushRepository } from './push.repository.js';
import { PushService } from './push.service.js';
import { Vapid } from './vapid.js';

@Module({
  imports: [FollowupsModule, MessagesModule, DeliveryModule, SessionModule, SettingsModule, TrackingModule],
  controllers: [LiveController, NotificationsController, PushController],
  providers: [
    LiveService,
    MailToSelf,
    NotificationsService,
    NotificationsSettings,
    OwnMail,
    PushRepository,
    PushService,
    Vapid,
  ],
  exports: [MailToSelf, NotificationsSettings],
})
export class NotificationsModule {}
