import { Body, Controller, Delete, Get, Header, HttpCode, Param, Post } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsBoolean } from 'class-validator';
import type { CalendarRequest, CalendarView } from '@kiraku/core/contract';
import { notFound } from '../http/problem.js';
import { Sends } from '../http/sends.js';
import { OpenToEverybody } from '../session/session.guard.js';
import { CalendarService } from './calendar.service.js';
import { CalendarPublishing } from './calendarPublishing.js';
import { CalendarSettings } from './calendarSettings.js';

class CalendarDto implements CalendarRequest {
  @ApiProperty({ description: 'Whether at the public address, for programs that cannot reach the desk' })
  @IsBoolean()
  isPublic: boolean;

  @ApiProperty({ description: 'Whether it says of whom and of what it is, and not only when' })
  @IsBoolean()
  withNames: boolean;
}

@ApiTags('followups')
@Controller('api/calendar')
export class CalendarController {
  constructor(
    private readonly calendar: CalendarService,
    private readonly settings: CalendarSettings,
    private readonly publishing: CalendarPublishing,
  ) {}

  @Get()
  @ApiOperation({ summary: 'The secret address of the calendar' })
  view(): CalendarView {
    return this.settings.view();
  }

  @Post()
  @HttpCode(200)
  @ApiOperation({ summary: 'Open the calendar at a new secret address; the one before is closed' })
  renew(@Body() request: CalendarDto): CalendarView {
    return this.publishing.renew(request);
  }

  @Delete()
  @HttpCode(204)
  @ApiOperation({ summary: 'Close the calendar' })
  close(): void {
    this.publishing.close();
  }

  @Get(':key')
  @OpenToEverybody()
  @Sends('text/calendar; charset=utf-8')
  @Header('Cache-Control', 'private, no-store')
  @ApiOperation({ summary: 'The calendar itself (RFC 5545), for whoever knows its address' })
  feed(@Param('key') key: string): string {
    if (!this.settings.isKey(key.replace(/\.ics$/, ''))) throw notFound('calendar');
    return this.calendar.feed(this.settings.view().withNames);
  }
}
