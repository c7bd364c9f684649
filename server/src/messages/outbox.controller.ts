import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post } from '@nestjs/common';
import { ApiOperation, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import { IsOptional, IsString } from 'class-validator';
import type { OutboxCopy } from '@kiraku/core/contract';
import { SendingService } from './sending.service.js';

class RetryDto {
  @ApiPropertyOptional({ description: 'The address as it should have been; the same as before where left out' })
  @IsOptional()
  @IsString()
  address?: string;
}

@ApiTags('sending')
@Controller('api/outbox')
export class OutboxController {
  constructor(private readonly sending: SendingService) {}

  @Get()
  @ApiOperation({ summary: 'Copies that have not left, and those that failed in the past thirty days' })
  list(): OutboxCopy[] {
    return this.sending.outboxCopies();
  }

  @Post(':copyId/retry')
  @HttpCode(202)
  @ApiOperation({ summary: 'Try a copy now, to another address where one is given; the other copies are left alone' })
  async retry(@Param('copyId', ParseIntPipe) copyId: number, @Body() { address }: RetryDto): Promise<void> {
    await this.sending.retry(copyId, address);
  }
}
