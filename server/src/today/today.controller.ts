import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Put } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsBoolean, IsInt, Max, Min, ValidateIf } from 'class-validator';
import type { TodayView } from '@kiraku/core/contract';
import { Clock } from '../clock.js';
import { notFound } from '../http/problem.js';
import { PeopleRepository } from '../people/people.repository.js';
import { TodayService } from './today.service.js';

const LATEST_MS = 8.64e15;

class PutOffDto {
  @ApiProperty({ type: Number, nullable: true, description: 'Epoch milliseconds; null proposes them again' })
  @ValidateIf((dto: PutOffDto) => dto.until !== null)
  @IsInt()
  @Min(0)
  @Max(LATEST_MS)
  until: number | null;
}

class DismissDto {
  @ApiProperty({ description: 'Whether what happened until now is settled; false takes that back' })
  @IsBoolean()
  dismissed: boolean;
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

  @Put('people/:id/put-off')
  @HttpCode(204)
  @ApiOperation({ summary: 'Propose somebody only from a time on' })
  putOff(@Param('id', ParseIntPipe) id: number, @Body() { until }: PutOffDto): void {
    if (!this.people.set(id, { putOffUntil: until })) throw notFound('person');
  }

  @Put('people/:id/dismissed')
  @HttpCode(204)
  @ApiOperation({ summary: 'Take what somebody did until now as settled, or not' })
  dismiss(@Param('id', ParseIntPipe) id: number, @Body() { dismissed }: DismissDto): void {
    if (!this.people.set(id, { dismissedAt: dismissed ? this.clock.now() : null })) throw notFound('person');
  }
}
