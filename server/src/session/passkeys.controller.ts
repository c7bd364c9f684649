import { Body, Controller, Delete, Get, HttpCode, Inject, Param, Post, Put, Req, Res } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsObject, IsString, Length } from 'class-validator';
import type { Request, Response } from 'express';
import type { NewPasskeyRequest, PasskeyOptions, PasskeyReply, PasskeyView } from '@kiraku/core/contract';
import { CONFIG, type Config } from '../environment/config.js';
import { isOverTls } from '../http/hosts.js';
import { invalid } from '../http/problem.js';
import { AccountService } from '../settings/account.service.js';
import { Passkeys, type Place } from './passkeys.js';
import { ConfirmDto } from './session.dto.js';
import { OpenToEverybody } from './session.guard.js';
import { SessionService } from './session.service.js';
import { setSessionCookie } from './sessionCookie.js';

const MAX_PASSKEY_NAME_CHARS = 60;

class PasskeyReplyDto implements PasskeyReply {
  @ApiProperty({ type: Object, description: 'What the browser replied' })
  @IsObject()
  reply: object;
}

class NewPasskeyDto extends PasskeyReplyDto implements NewPasskeyRequest {
  @ApiProperty({ description: 'What to call it' })
  @IsString()
  @Length(1, MAX_PASSKEY_NAME_CHARS, { message: 'Give it a name of up to 60 characters' })
  name: string;
}

@ApiTags('session')
@Controller('api/settings/passkeys')
export class PasskeysController {
  constructor(
    private readonly passkeys: Passkeys,
    private readonly sessions: SessionService,
    private readonly accounts: AccountService,
  ) {}

  @Get()
  @ApiOperation({ summary: 'The passkeys that sign in' })
  list(): PasskeyView[] {
    return this.passkeys.list();
  }

  @Post()
  @HttpCode(200)
  @ApiOperation({ summary: 'What a browser is asked with that is to make a passkey' })
  async begin(@Body() { passphrase }: ConfirmDto, @Req() request: Request): Promise<PasskeyOptions> {
    await this.sessions.confirm(passphrase, request.ip ?? '');
    return { options: await this.passkeys.begin(placeOf(request), this.accounts.sender().address) };
  }

  @Put()
  @ApiOperation({ summary: 'Take the passkey that a browser has made' })
  async add(@Body() { name, reply }: NewPasskeyDto, @Req() request: Request): Promise<PasskeyView[]> {
    await this.passkeys.add(name, reply, placeOf(request));
    return this.passkeys.list();
  }

  @Delete(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Remove a passkey: it signs in no more' })
  remove(@Param('id') id: string): void {
    this.passkeys.remove(id);
  }
}

/** The way in with one. */
@ApiTags('session')
@OpenToEverybody()
@Controller('api/session/passkey')
export class PasskeySignInController {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly passkeys: Passkeys,
    private readonly sessions: SessionService,
  ) {}

  @Get()
  @ApiOperation({ summary: 'Whether there is a passkey that is good at this name' })
  read(@Req() request: Request): { isThere: boolean } {
    return { isThere: this.passkeys.isThere(request.hostname) };
  }

  @Post()
  @HttpCode(200)
  @ApiOperation({ summary: 'What a browser is asked with that is to sign in' })
  async ask(@Req() request: Request): Promise<PasskeyOptions> {
    return { options: await this.passkeys.ask(placeOf(request)) };
  }

  @Put()
  @HttpCode(204)
  @ApiOperation({ summary: 'Sign in with what the browser replied; sets the session cookie' })
  async signIn(
    @Body() { reply }: PasskeyReplyDto,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<void> {
    const check = () => this.passkeys.take(reply, placeOf(request));
    const token = await this.sessions.signInBy(check, request.ip ?? '', request.headers['user-agent'] ?? '');
    setSessionCookie(response, token, isOverTls(request, this.config));
  }
}

/** The origin is one of the desk's own: requests of others are refused before. */
function placeOf({ hostname, headers: { origin } }: Request): Place {
  if (origin === undefined) throw invalid('Passkeys are used by browsers.');
  return { host: hostname, origin };
}
