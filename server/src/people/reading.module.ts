import { Module } from '@nestjs/common';
import { MessagesModule } from '../messages/messages.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { PeopleModule } from './people.module.js';
import { ReadingController } from './reading.controller.js';

/** What people did with their messages: it stands apart, since people are known before there are messages. */
@Module({ imports: [MessagesModule, PeopleModule, TrackingModule], controllers: [ReadingController] })
export class ReadingModule {}
