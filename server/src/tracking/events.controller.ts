import { Controller, Get } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { RecentEvents } from '@kiraku/core/contract';
import { HOUR } from '@kiraku/core/time';
import { Clock } from '../clock.js';
import { EventsRepository } from './events.repository.js';

/** More marks than the band has room for. */
const MOST_RECENT = 500;

@ApiTags('events')
@Controller('api/events')
export class EventsController {
  constructor(
    private readonly events: EventsRepository,
    private readonly clock: Clock,
  ) {}

  @Get('recent')
  @ApiOperation({ summary: 'What happened in the last hour, oldest first' })
  recent(): RecentEvents {
    const from = this.clock.now() - HOUR;
    const events = this.events.since(from, MOST_RECENT).reverse();
    const leftOut = events.length < MOST_RECENT ? 0 : this.events.countSince(from) - events.length;
    return { events, leftOut };
  }
}
