import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Put } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsBoolean, IsInt, Max, Min, ValidateIf } from 'class-validator';
import { MAX_DATE_MS, type TodayView } from '@kiraku/core/contract';
import { Clock } from '../clock.js';
import { notFound } from '../http/problem.js';
import { PeopleRepository } from '../people/people.repository.js';
import { TodayService } from './today.service.js';

class SnoozeDto {
  @ApiProperty({ type: Number, nullable: true, description: 'Epoch milliseconds; null proposes them again' })
  @ValidateIf((dto: SnoozeDto) => dto.until !== null)
  @IsInt()
  @Min(0)
  @Max(MAX_DATE_MS)
  until: number | null;
}

class DismissDto {
  @ApiProperty({ description: 'True: resolved up to now; false: undone' })
  @IsBoolean()
  resolved: boolean;
}

@ApiTags('today')
@Controller('api')
export class TodayController {
  constructor(
    private readonly today: TodayService,
    private readonly people: PeopleRepository,
    private readonly clock: Clock,
  ) {}

  @Get('today')
  @ApiOperation({ summary: 'Whom to get in touch with now, and why; and what shows no sign' })
  view(): TodayView {
    return this.today.view();
  }

  @Put('people/:id/snooze')
  @HttpCode(204)
  @ApiOperation({ summary: 'Snooze a person until a time' })
  snooze(@Param('id', ParseIntPipe) id: number, @Body() { until }: SnoozeDto): void {
    if (!this.people.set(id, { snoozedUntil: until })) throw notFound('person');
  }

  @Put('people/:id/resolved')
  @HttpCode(204)
  @ApiOperation({ summary: 'Resolve a person’s activity up to now, or undo that' })
  resolve(@Param('id', ParseIntPipe) id: number, @Body() { resolved }: DismissDto): void {
    if (!this.people.set(id, { resolvedAt: resolved ? this.clock.now() : null })) throw notFound('person');
  }
}
