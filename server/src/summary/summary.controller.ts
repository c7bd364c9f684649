import { Body, Controller, Get, HttpCode, Post, Put, Query } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { ArrayMaxSize, ArrayUnique, IsArray, IsBoolean, IsIn, IsTimeZone, Matches } from 'class-validator';
import type { SummarySettings as SettingsView, SummaryView } from '@kiraku/core/contract';
import { ProblemException } from '../http/problem.js';
import { SummaryMail } from './summaryMail.js';
import { SummaryService } from './summary.service.js';
import { SummarySettings } from './summary.settings.js';

const WEEKDAYS = [0, 1, 2, 3, 4, 5, 6];
const isZone = { message: 'Name the time zone like Europe/Helsinki' };

class SummaryQuery {
  @ApiProperty({ description: 'The zone of its times, as an IANA name', example: 'Europe/Helsinki' })
  @IsTimeZone(isZone)
  zone: string;
}

class SummarySettingsDto implements SettingsView {
  @ApiProperty({ type: [Number], description: 'On which weekdays it is emailed, from Monday (0); none: never' })
  @IsArray()
  @ArrayMaxSize(WEEKDAYS.length)
  @ArrayUnique()
  @IsIn(WEEKDAYS, { each: true, message: 'Weekdays count from 0, Monday, to 6, Sunday' })
  weekdays: number[];

  @ApiProperty({ example: '07:30' })
  @Matches(/^([01]\d|2[0-3]):[0-5]\d$/, { message: 'Write times like 07:30 or 22:00' })
  time: string;

  @ApiProperty({ example: 'Europe/Helsinki' })
  @IsTimeZone(isZone)
  zone: string;

  @ApiProperty({ description: 'Whether it is emailed when there is nothing to say, too' })
  @IsBoolean()
  evenIfEmpty: boolean;
}

@ApiTags('summary')
@Controller('api')
export class SummaryController {
  constructor(
    private readonly summary: SummaryService,
    private readonly settings: SummarySettings,
    private readonly mail: SummaryMail,
  ) {}

  @Get('summary')
  @ApiOperation({ summary: 'Whom to contact and why, what is due, and what has happened since the last summary' })
  read(@Query() { zone }: SummaryQuery): Promise<SummaryView> {
    return this.summary.view(this.settings.emailedAt(), zone);
  }

  @Post('summary/email')
  @HttpCode(204)
  @ApiOperation({ summary: 'Email the summary to oneself now' })
  async email(@Query() { zone }: SummaryQuery): Promise<void> {
    const outcome = await this.mail.send(this.settings.emailedAt(), zone);
    if (outcome.kind !== 'accepted')
      throw new ProblemException(502, 'Not emailed', `The outgoing server did not take it: ${outcome.words}`);
  }

  @Get('settings/summary')
  @ApiOperation({ summary: 'When the summary is emailed' })
  readSettings(): SettingsView {
    return this.settings.view();
  }

  @Put('settings/summary')
  @ApiOperation({ summary: 'Change when the summary is emailed' })
  async saveSettings(@Body() dto: SummarySettingsDto): Promise<SettingsView> {
    this.settings.save({ ...dto });
    await this.mail.check();
    return this.settings.view();
  }
}
