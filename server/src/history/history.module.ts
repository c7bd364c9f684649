import { Module } from '@nestjs/common';
import { IncomingModule } from '../incoming/incoming.module.js';
import { MessagesModule } from '../messages/messages.module.js';
import { PeopleModule } from '../people/people.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { HistoryController } from './history.controller.js';
import { HistoryRepository } from './history.repository.js';
import { HistoryService } from './history.service.js';
import { SentMail } from './sentMail.js';

/** Mail that was sent before Kiraku. */
@Module({
  imports: [IncomingModule, MessagesModule, PeopleModule, SettingsModule],
  controllers: [HistoryController],
  providers: [HistoryRepository, HistoryService, SentMail],
})
export class HistoryModule {}
