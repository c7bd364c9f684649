import { Body, Controller, Delete, Get, Header, HttpCode, Param, ParseIntPipe, Post, Put, Query } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import { Transform } from 'class-transformer';
import { ArrayMaxSize, IsArray, IsInt, IsOptional, IsString, IsTimeZone, Max, MaxLength, Min } from 'class-validator';
import {
  MAX_DATE_MS,
  MAX_SELECTED,
  type BestSendTime,
  type DraftContent,
  type FollowupsView,
  type PlanView,
  type ReminderView,
  type NewReminderRequest,
  type RestoreReminderRequest,
  type SnoozeReminderRequest,
  type StepRequest,
} from '@kiraku/core/contract';
import { Sends } from '../http/sends.js';
import { ReminderDto } from '../messages/drafts.dto.js';
import { CalendarService } from './calendar.service.js';
import { FollowupsService } from '../followups/followups.service.js';
import { FollowupViews } from './followupViews.js';
import { PlansService } from './plans.service.js';
import { RemindersService } from './reminders.service.js';

const asNumber = ({ value }: { value: unknown }) => (value === undefined ? null : Number(value));

class WhichQuery {
  @ApiPropertyOptional({ description: 'Number of a message: what belongs to its conversation' })
  @IsOptional()
  @Transform(asNumber)
  @IsInt()
  message: number | null = null;
}

class BestSendTimeQuery {
  @ApiPropertyOptional({ description: 'Number of a person' })
  @IsOptional()
  @Transform(asNumber)
  @IsInt()
  person: number | null = null;

  @ApiProperty({ description: 'By whose clocks where theirs are not known' })
  @IsString()
  @IsTimeZone({ message: 'There is no such time zone' })
  zone: string;
}

class NewReminderDto extends ReminderDto implements NewReminderRequest {
  @ApiPropertyOptional({ description: 'Numbers of messages: one reminder for each' })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MAX_SELECTED)
  @IsInt({ each: true })
  messageIds: number[] = [];

  @ApiPropertyOptional({ description: 'Number of a person, where it is about no message' })
  @IsOptional()
  @IsInt()
  personId: number | null = null;
}

class WhenDto implements SnoozeReminderRequest {
  @ApiProperty({ example: 'next Monday' })
  @IsString()
  @MaxLength(100)
  when: string;

  @ApiProperty({ example: 'Europe/Helsinki' })
  @IsString()
  @IsTimeZone({ message: 'There is no such time zone' })
  zone: string;
}

class DueAtDto implements RestoreReminderRequest {
  @ApiProperty({ description: 'Epoch milliseconds' })
  @IsInt()
  @Min(0)
  @Max(MAX_DATE_MS)
  dueAt: number;
}

class StepChangeDto implements StepRequest {
  @ApiPropertyOptional({ example: 'Thursday 9:00' })
  @IsOptional()
  @IsString()
  @MaxLength(100)
  when?: string;

  @ApiPropertyOptional()
  @IsOptional()
  @IsTimeZone({ message: 'There is no such time zone' })
  zone?: string;

  @ApiPropertyOptional({ description: 'Number of a template' })
  @IsOptional()
  @IsInt()
  templateId?: number;
}

@ApiTags('follow-ups')
@Controller('api')
export class FollowupsController {
  constructor(
    private readonly views: FollowupViews,
    private readonly reminders: RemindersService,
    private readonly plans: PlansService,
    private readonly followups: FollowupsService,
    private readonly calendar: CalendarService,
  ) {}

  @Get('followups')
  @ApiOperation({ summary: 'Reminders and planned follow-ups; those that ended lately among them' })
  view(@Query() { message }: WhichQuery): FollowupsView {
    return this.views.view(message);
  }

  @Get('followups/best-send-time')
  @ApiOperation({ summary: 'When somebody is most likely to read: a likelihood, with what it rests on' })
  bestSendTime(@Query() { person, zone }: BestSendTimeQuery): { best: BestSendTime | null } {
    return { best: this.followups.bestSendTime(person, zone) };
  }

  @Post('reminders')
  @ApiOperation({ summary: 'Be reminded of messages, of a person, or of anything' })
  add(@Body() request: NewReminderDto): ReminderView[] {
    return this.reminders.add(request);
  }

  @Put('reminders/:id')
  @ApiOperation({ summary: 'Change a reminder' })
  save(@Param('id', ParseIntPipe) id: number, @Body() input: ReminderDto): ReminderView {
    return this.reminders.save(id, input);
  }

  @Post('reminders/:id/snooze')
  @HttpCode(200)
  @ApiOperation({ summary: 'Be reminded at another time' })
  snooze(@Param('id', ParseIntPipe) id: number, @Body() when: WhenDto): ReminderView {
    return this.reminders.snooze(id, when);
  }

  @Put('reminders/:id/due-at')
  @ApiOperation({ summary: 'Take a snooze back: due at the time that it had' })
  restore(@Param('id', ParseIntPipe) id: number, @Body() { dueAt }: DueAtDto): ReminderView {
    return this.reminders.restore(id, dueAt);
  }

  @Post('reminders/:id/done')
  @HttpCode(200)
  @ApiOperation({ summary: 'Mark a reminder as done' })
  done(@Param('id', ParseIntPipe) id: number): ReminderView {
    return this.reminders.setDone(id, true);
  }

  @Delete('reminders/:id/done')
  @ApiOperation({ summary: 'Mark a reminder as not done' })
  undone(@Param('id', ParseIntPipe) id: number): ReminderView {
    return this.reminders.setDone(id, false);
  }

  @Delete('reminders/:id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Delete a reminder' })
  remove(@Param('id', ParseIntPipe) id: number): void {
    this.reminders.remove(id);
  }

  @Get('reminders/:id/reminder.ics')
  @Sends('text/calendar; charset=utf-8')
  @Header('Content-Disposition', 'attachment; filename="reminder.ics"')
  @ApiOperation({ summary: 'A reminder for a calendar (RFC 5545)' })
  ics(@Param('id', ParseIntPipe) id: number): string {
    return this.calendar.one(id);
  }

  @Post('plans/:id/stop')
  @HttpCode(200)
  @ApiOperation({ summary: 'Stop a follow-up plan' })
  stop(@Param('id', ParseIntPipe) id: number): PlanView {
    return this.plans.stop(id);
  }

  @Put('plan-steps/:id')
  @ApiOperation({ summary: 'Give a follow-up another time or template' })
  saveStep(@Param('id', ParseIntPipe) id: number, @Body() change: StepChangeDto): PlanView {
    return this.plans.saveStep(id, change);
  }

  @Delete('plan-steps/:id')
  @ApiOperation({ summary: 'Remove one follow-up from a plan' })
  leaveOut(@Param('id', ParseIntPipe) id: number): PlanView {
    return this.plans.leaveOut(id);
  }

  @Get('plan-steps/:id/body')
  @ApiOperation({ summary: 'A follow-up as it would be sent now' })
  messageBody(@Param('id', ParseIntPipe) id: number): Pick<DraftContent, 'subject' | 'html'> {
    return this.plans.stepBody(id);
  }
}
