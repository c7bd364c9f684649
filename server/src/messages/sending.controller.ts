import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsInt, IsOptional, IsString, Max, Min, ValidateNested } from 'class-validator';
import type {
  Draft,
  MessageSummary,
  SendingView,
  Recurrence,
  RescheduleRequest,
  SendRequest,
} from '@kiraku/core/contract';
import { RevisionDto } from './drafts.dto.js';
import { SendingService } from './sending.service.js';
import { SendingSettings } from '../settings/sending.settings.js';
import { SummariesRepository } from './summaries.repository.js';

/** Epoch milliseconds up to the year 5138: beyond, dates lose their exactness. */
const LAST_MOMENT = 1e14;

class RecurrenceDto implements Recurrence {
  @ApiProperty({ example: 'FREQ=MONTHLY;BYDAY=-1WE;COUNT=6', description: 'An RRULE value (RFC 5545)' })
  @IsString()
  rule: string;

  @ApiProperty({ example: 'Europe/Helsinki', description: 'By whose clocks' })
  @IsString()
  zone: string;
}

class SendDto extends RevisionDto implements SendRequest {
  @ApiPropertyOptional({ description: 'When it is to leave, in epoch milliseconds; at once where left out' })
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(LAST_MOMENT)
  at?: number;

  @ApiPropertyOptional({ description: 'How it repeats from then on' })
  @IsOptional()
  @ValidateNested()
  @Type(() => RecurrenceDto)
  recurrence?: RecurrenceDto;
}

class TimeDto implements RescheduleRequest {
  @ApiPropertyOptional({ description: 'When it is to leave, in epoch milliseconds; now where left out' })
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(LAST_MOMENT)
  at?: number;
}

class SendingDto implements SendingView {
  @ApiProperty({ description: 'For how many seconds after Send it can be undone', maximum: 120 })
  @IsInt({ message: 'Say a whole number of seconds' })
  @Min(0, { message: 'Say 0 or more seconds' })
  @Max(120, { message: 'At most 120 seconds are possible' })
  undoSendSeconds: number;

  @ApiProperty({ description: 'For how many hours a copy that was refused for now is tried again', maximum: 168 })
  @IsInt({ message: 'Say a whole number of hours' })
  @Min(1, { message: 'Say 1 or more hours' })
  @Max(168, { message: 'At most 168 hours, a week, are possible' })
  giveUpHours: number;
}

@ApiTags('sending')
@Controller('api')
export class SendingController {
  constructor(
    private readonly sending: SendingService,
    private readonly summaries: SummariesRepository,
    private readonly settings: SendingSettings,
  ) {}

  @Post('drafts/:id/send')
  @HttpCode(202)
  @ApiOperation({ summary: 'Send a draft, at once or at a time: it is queued when this returns' })
  async send(
    @Param('id', ParseIntPipe) id: number,
    @Body() { revision, at, recurrence }: SendDto,
  ): Promise<MessageSummary> {
    await this.sending.send(id, revision, at, recurrence);
    return this.summaries.of([id])[0]!;
  }

  @Post('messages/:id/recall')
  @HttpCode(200)
  @ApiOperation({ summary: 'Return a message that has not left to the drafts' })
  recall(@Param('id', ParseIntPipe) id: number): Draft {
    return this.sending.recall(id);
  }

  @Post('messages/:id/reschedule')
  @HttpCode(200)
  @ApiOperation({ summary: 'Give a message that has not left another time, or let it leave now' })
  async reschedule(@Param('id', ParseIntPipe) id: number, @Body() { at }: TimeDto): Promise<MessageSummary> {
    await this.sending.reschedule(id, at);
    return this.summaries.of([id])[0]!;
  }

  @Get('settings/sending')
  @ApiOperation({ summary: 'How messages leave' })
  read(): SendingView {
    return this.settings.view();
  }

  @Put('settings/sending')
  @ApiOperation({ summary: 'Change how messages leave' })
  save(@Body() dto: SendingDto): SendingView {
    this.settings.save(dto);
    return this.settings.view();
  }
}
