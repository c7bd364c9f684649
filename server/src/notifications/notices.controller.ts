import { Body, Controller, Get, HttpCode, Post, Put, Req } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsBoolean, IsIn, IsInt, IsTimeZone, Matches, Max, Min, ValidateIf, ValidateNested } from 'class-validator';
import type { Request } from 'express';
import {
  NOTICE_KINDS,
  NOTICE_WAYS,
  type MissedNotices,
  type NoticeKind,
  type NoticesView,
  type NoticeWay,
  type QuietHours,
} from '@kiraku/core/contract';
import { DAY } from '@kiraku/core/time';
import { Clock } from '../clock.js';
import { invalid } from '../http/problem.js';
import { NoticesService } from './notices.service.js';
import { NoticesSettings } from './notices.settings.js';

const CLOCK = /^([01]\d|2[0-3]):[0-5]\d$/;
const CLOCK_MESSAGE = 'Write times like 07:30 or 22:00';

class QuietHoursDto implements QuietHours {
  @ApiProperty({ example: '22:00' })
  @Matches(CLOCK, { message: CLOCK_MESSAGE })
  from: string;

  @ApiProperty({ example: '07:30' })
  @Matches(CLOCK, { message: CLOCK_MESSAGE })
  to: string;
}

/** Its fields are the kinds of notices. */
class RingsDto {}
for (const kind of NOTICE_KINDS) {
  IsIn(NOTICE_WAYS, { each: true, message: `${kind}: a list of ${NOTICE_WAYS.join(', ')}` })(RingsDto.prototype, kind);
  ApiProperty({ enum: NOTICE_WAYS, isArray: true })(RingsDto.prototype, kind);
}

class NoticesDto implements Omit<NoticesView, 'quietUntil'> {
  @ApiProperty({ type: RingsDto, description: 'What is told, and how' })
  @ValidateNested()
  @Type(() => RingsDto)
  rings: Record<NoticeKind, NoticeWay[]>;

  @ApiProperty({ description: 'Whether notices in the page stay until they are put away' })
  @IsBoolean()
  stay: boolean;

  @ApiProperty({ type: QuietHoursDto, nullable: true })
  @ValidateIf((dto: NoticesDto) => dto.quietHours !== null)
  @ValidateNested()
  @Type(() => QuietHoursDto)
  quietHours: QuietHoursDto | null;

  @ApiProperty({ description: 'Whose clocks the quiet hours go by', example: 'Europe/Helsinki' })
  @IsTimeZone({ message: 'Name the time zone like Europe/Helsinki' })
  zone: string;
}

class QuietDto {
  @ApiProperty({ type: Number, nullable: true, description: 'Epoch milliseconds until which all is quiet, or null' })
  @ValidateIf((dto: QuietDto) => dto.until !== null)
  @IsInt()
  until: number | null;
}

class SeenDto {
  @ApiProperty({ description: 'The last event that was told where somebody saw it' })
  @IsInt()
  @Min(0)
  @Max(Number.MAX_SAFE_INTEGER)
  eventId: number;
}

@ApiTags('notices')
@Controller('api')
export class NoticesController {
  constructor(
    private readonly settings: NoticesSettings,
    private readonly notices: NoticesService,
    private readonly clock: Clock,
  ) {}

  @Get('settings/notices')
  @ApiOperation({ summary: 'What is told, how, and when not' })
  read(): NoticesView {
    return this.settings.view();
  }

  @Put('settings/notices')
  @ApiOperation({ summary: 'Change what is told, how, and when not' })
  save(@Body() dto: NoticesDto): NoticesView {
    this.settings.save({ ...dto, rings: { ...dto.rings } });
    return this.settings.view();
  }

  @Put('settings/notices/quiet')
  @ApiOperation({ summary: 'Tell nothing until a time, or tell again' })
  quiet(@Body() { until }: QuietDto): NoticesView {
    const now = this.clock.now();
    if (until !== null && (until <= now || until > now + 7 * DAY))
      throw invalid('Choose a time within the next seven days.', [{ field: 'until', message: 'Not within a week' }]);
    this.settings.save({ quietUntil: until });
    return this.settings.view();
  }

  @Get('notices/missed')
  @ApiOperation({ summary: 'What happened since somebody looked last' })
  missed(): MissedNotices {
    return this.notices.missed();
  }

  @Post('notices/seen')
  @HttpCode(204)
  @ApiOperation({ summary: 'Note up to which event somebody has seen what was told' })
  seen(@Body() { eventId }: SeenDto, @Req() { headers: { origin } }: Request): void {
    this.notices.markSeen(eventId);
    if (origin !== undefined) this.settings.setDeskUrl(origin);
  }
}
