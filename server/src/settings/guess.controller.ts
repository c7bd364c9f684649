import { Controller, Get, Query } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsString, MaxLength } from 'class-validator';
import type { AccountGuess } from '@kiraku/core/contract';
import { GuessService } from './guess.service.js';

class GuessQuery {
  @ApiProperty({ example: 'ines@tallowreed.example' })
  @IsString()
  @MaxLength(254)
  address: string;
}

@ApiTags('settings')
@Controller('api/settings/account')
export class GuessController {
  constructor(private readonly servers: GuessService) {}

  @Get('guess')
  @ApiOperation({ summary: 'The outgoing server that an address’s own domain announces in the DNS (RFC 6186)' })
  async guess(@Query() { address }: GuessQuery): Promise<{ guess: AccountGuess | null }> {
    return { guess: await this.servers.guess(address) };
  }
}
