import { Body, Controller, Get, Put } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { AccountView } from '@kiraku/core/contract';
import { AccountDto } from './account.dto.js';
import { AccountService } from './account.service.js';

@ApiTags('settings')
@Controller('api/settings/account')
export class AccountController {
  constructor(private readonly accounts: AccountService) {}

  @Get()
  @ApiOperation({ summary: 'Who sends, and through which server; never the password' })
  read(): AccountView | null {
    return this.accounts.view();
  }

  @Put()
  @ApiOperation({ summary: 'Change the sender or the outgoing server' })
  save(@Body() dto: AccountDto): AccountView {
    return this.accounts.save(dto);
  }
}
