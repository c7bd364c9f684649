import { Module } from '@nestjs/common';
import { IncomingModule } from '../incoming/incoming.module.js';
import { MessagesModule } from '../messages/messages.module.js';
import { NotificationsModule } from '../notifications/notifications.module.js';
import { DeliveryModule } from '../delivery/delivery.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { CalendarService } from './calendar.service.js';
import { CalendarController } from './calendar.controller.js';
import { CalendarPublishing } from './calendarPublishing.js';
import { CalendarSettings } from './calendarSettings.js';
import { Following } from './following.js';
import { FollowupsController } from './followups.controller.js';
import { FollowupsModule } from '../followups/followups.module.js';
import { FollowupViews } from './followupViews.js';
import { PlansService } from './plans.service.js';
import { PlanSteps } from './planSteps.js';
import { DueReminders } from './dueReminders.js';
import { RemindersService } from './reminders.service.js';

/** Brings back what is due, once there are messages and a mailbox. */
@Module({
  imports: [FollowupsModule, IncomingModule, MessagesModule, NotificationsModule, DeliveryModule, SettingsModule],
  controllers: [CalendarController, FollowupsController],
  providers: [
    CalendarPublishing,
    CalendarService,
    CalendarSettings,
    Following,
    FollowupViews,
    PlansService,
    PlanSteps,
    DueReminders,
    RemindersService,
  ],
  exports: [CalendarService, FollowupViews],
})
export class FollowingModule {}
