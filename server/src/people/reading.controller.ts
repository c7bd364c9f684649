import { Controller, Get, Param, ParseIntPipe } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { PersonReading } from '@kiraku/core/contract';
import { notFound } from '../http/problem.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import { SummariesRepository } from '../messages/summaries.repository.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { PeopleRepository } from './people.repository.js';

/** As many messages as a page shows at once; the list has them all. */
const MAX_MESSAGES_OF_PERSON = 30;

@ApiTags('people')
@Controller('api/people')
export class ReadingController {
  constructor(
    private readonly people: PeopleRepository,
    private readonly events: EventsRepository,
    private readonly messages: MessagesRepository,
    private readonly summaries: SummariesRepository,
  ) {}

  @Get(':id/reading')
  @ApiOperation({ summary: 'When and on which devices somebody reads, and what became of all they were sent' })
  reading(@Param('id', ParseIntPipe) id: number): PersonReading {
    if (!this.people.find(id)) throw notFound('person');
    const { ids, total, firstSentAt } = this.messages.ofPerson(id, MAX_MESSAGES_OF_PERSON);
    return {
      ...this.events.ofPerson(id),
      ...this.people.contact(id),
      firstSentAt,
      messages: this.summaries.of(ids),
      messagesTotal: total,
      eventsTotal: this.events.countOfPerson(id),
      merged: this.people.merged(id),
    };
  }
}
