import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post } from '@nestjs/common';
import { ApiOperation, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import { IsOptional, IsString } from 'class-validator';
import type { OutboxCopy, RetryRequest } from '@kiraku/core/contract';
import { DAY } from '@kiraku/core/time';
import { OutboxRepository } from '../delivery/outbox.repository.js';
import { Clock } from '../environment/clock.js';
import { RetryingService } from './retrying.service.js';

/** A copy that failed is shown in the outbox for as long. */
const SHOWN_FAILED_MS = 30 * DAY;

class RetryDto implements RetryRequest {
  @ApiPropertyOptional({ description: 'The address as it should have been; the same as before where left out' })
  @IsOptional()
  @IsString()
  address?: string;
}

@ApiTags('sending')
@Controller('api/outbox')
export class OutboxController {
  constructor(
    private readonly outbox: OutboxRepository,
    private readonly retrying: RetryingService,
    private readonly clock: Clock,
  ) {}

  @Get()
  @ApiOperation({ summary: 'Copies that have not left, and those that failed in the past thirty days' })
  list(): OutboxCopy[] {
    return this.outbox.waiting(this.clock.now() - SHOWN_FAILED_MS);
  }

  @Post(':copyId/retry')
  @HttpCode(202)
  @ApiOperation({ summary: 'Try a copy now, to another address where one is given; the other copies are left alone' })
  async retry(@Param('copyId', ParseIntPipe) copyId: number, @Body() { address }: RetryDto): Promise<void> {
    await this.retrying.retry(copyId, address);
  }
}
