import { Controller, Get } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import { MAX_RECENT_EVENTS, type RecentEvents } from '@kiraku/core/contract';
import { HOUR } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { EventsRepository } from './events.repository.js';

@ApiTags('events')
@Controller('api/events')
export class EventsController {
  constructor(
    private readonly events: EventsRepository,
    private readonly clock: Clock,
  ) {}

  @Get('recent')
  @ApiOperation({ summary: 'The activity of the last hour, oldest first' })
  recent(): RecentEvents {
    const from = this.clock.now() - HOUR;
    const events = this.events.since(from, MAX_RECENT_EVENTS).reverse();
    const leftOut = events.length < MAX_RECENT_EVENTS ? 0 : this.events.countSince(from) - events.length;
    return { events, leftOut };
  }
}
