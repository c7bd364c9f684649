import { Body, Controller, Delete, Get, HttpCode, Post, Put, Req } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import type { CodesSecret, CodesView, RecoveryCodes } from '@kiraku/core/contract';
import { AccountService } from '../settings/account.service.js';
import { Codes } from './codes.js';
import { CodeDto, ConfirmDto } from './session.dto.js';
import { SessionService } from './session.service.js';

@ApiTags('session')
@Controller('api/settings/codes')
export class CodesController {
  constructor(
    private readonly codes: Codes,
    private readonly sessions: SessionService,
    private readonly accounts: AccountService,
  ) {}

  @Get()
  @ApiOperation({ summary: 'Whether a code from the phone is asked for besides the passphrase' })
  read(): CodesView {
    return this.codes.view();
  }

  @Post()
  @HttpCode(200)
  @ApiOperation({ summary: 'A new secret for the phone; it is in use once a code of it has been given' })
  async begin(@Body() { passphrase }: ConfirmDto, @Req() request: Request): Promise<CodesSecret> {
    await this.sessions.confirm(passphrase, request.ip ?? '');
    return this.codes.begin(this.accounts.sender().address);
  }

  @Put()
  @ApiOperation({ summary: 'Ask for codes from now on; returns recovery codes, once' })
  confirm(@Body() { code }: CodeDto): RecoveryCodes {
    return this.codes.confirm(code);
  }

  @Delete()
  @HttpCode(204)
  @ApiOperation({ summary: 'Ask for no codes any more' })
  async turnOff(@Body() { passphrase }: ConfirmDto, @Req() request: Request): Promise<void> {
    await this.sessions.confirm(passphrase, request.ip ?? '');
    this.codes.turnOff();
  }
}
