import { Body, Controller, Get, HttpCode, Post, Put, Req } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsBoolean, IsIn, IsInt, IsTimeZone, Matches, Max, Min, ValidateIf, ValidateNested } from 'class-validator';
import type { Request } from 'express';
import {
  NOTIFICATION_KINDS,
  NOTIFICATION_CHANNELS,
  type MissedNotifications,
  type NotificationKind,
  type NotificationSettingsView,
  type NotificationChannel,
  type QuietHours,
} from '@kiraku/core/contract';
import { DAY } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { invalid } from '../http/problem.js';
import { NotificationsService } from './notifications.service.js';
import { NotificationsSettings } from './notifications.settings.js';

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

/** Its fields are the kinds of notifications. */
class ChannelsDto {}
for (const kind of NOTIFICATION_KINDS) {
  IsIn(NOTIFICATION_CHANNELS, { each: true, message: `${kind}: a list of ${NOTIFICATION_CHANNELS.join(', ')}` })(
    ChannelsDto.prototype,
    kind,
  );
  ApiProperty({ enum: NOTIFICATION_CHANNELS, isArray: true })(ChannelsDto.prototype, kind);
}

class NotificationSettingsDto implements Omit<NotificationSettingsView, 'mutedUntil'> {
  @ApiProperty({ type: ChannelsDto, description: 'What to notify me of, and how' })
  @ValidateNested()
  @Type(() => ChannelsDto)
  channels: Record<NotificationKind, NotificationChannel[]>;

  @ApiProperty({ description: 'Whether notifications on the page stay until they are dismissed' })
  @IsBoolean()
  stay: boolean;

  @ApiProperty({ type: QuietHoursDto, nullable: true })
  @ValidateIf((dto: NotificationSettingsDto) => dto.quietHours !== null)
  @ValidateNested()
  @Type(() => QuietHoursDto)
  quietHours: QuietHoursDto | null;

  @ApiProperty({ description: 'Whose clocks the quiet hours go by', example: 'Europe/Helsinki' })
  @IsTimeZone({ message: 'Name the time zone like Europe/Helsinki' })
  zone: string;
}

class MuteDto {
  @ApiProperty({
    type: Number,
    nullable: true,
    description: 'Epoch milliseconds until which notifications are muted, or null',
  })
  @ValidateIf((dto: MuteDto) => dto.until !== null)
  @IsInt()
  until: number | null;
}

class SeenDto {
  @ApiProperty({ description: 'The last event whose notification was seen' })
  @IsInt()
  @Min(0)
  @Max(Number.MAX_SAFE_INTEGER)
  eventId: number;
}

@ApiTags('notifications')
@Controller('api')
export class NotificationsController {
  constructor(
    private readonly settings: NotificationsSettings,
    private readonly notifications: NotificationsService,
    private readonly clock: Clock,
  ) {}

  @Get('settings/notifications')
  @ApiOperation({ summary: 'Which activity notifies, how, and when not' })
  read(): NotificationSettingsView {
    return this.settings.view();
  }

  @Put('settings/notifications')
  @ApiOperation({ summary: 'Change which activity notifies, how, and when not' })
  save(@Body() dto: NotificationSettingsDto): NotificationSettingsView {
    this.settings.save({ ...dto, channels: { ...dto.channels } });
    return this.settings.view();
  }

  @Put('settings/notifications/mute')
  @ApiOperation({ summary: 'Mute notifications until a time, or unmute them' })
  mute(@Body() { until }: MuteDto): NotificationSettingsView {
    const now = this.clock.now();
    if (until !== null && (until <= now || until > now + 7 * DAY))
      throw invalid('Choose a time within the next seven days.', [{ field: 'until', message: 'Not within a week' }]);
    this.settings.save({ mutedUntil: until });
    return this.settings.view();
  }

  @Get('notifications/missed')
  @ApiOperation({ summary: 'The notifications that were missed' })
  missed(): MissedNotifications {
    return this.notifications.missed();
  }

  @Post('notifications/seen')
  @HttpCode(204)
  @ApiOperation({ summary: 'Record up to which event notifications were seen' })
  seen(@Body() { eventId }: SeenDto, @Req() { headers: { origin } }: Request): void {
    this.notifications.markSeen(eventId);
    if (origin !== undefined) this.settings.setDeskUrl(origin);
  }
}
