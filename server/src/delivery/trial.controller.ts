import { Body, Controller, HttpCode, Post } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Trial } from '@kiraku/core/contract';
import { AccountDto } from '../settings/account.dto.js';
import { AccountService } from '../settings/account.service.js';
import { trySmtp } from './smtpTrial.js';

@ApiTags('settings')
@Controller('api/settings/account')
export class TrialController {
  constructor(private readonly accounts: AccountService) {}

  @Post('try')
  @HttpCode(200)
  @ApiOperation({ summary: 'Try an outgoing server, saved or not, with a short message to the sender' })
  try(@Body() dto: AccountDto): Promise<Trial> {
    return trySmtp(this.accounts.accessWith(dto), { name: dto.name, address: dto.address });
  }
}
