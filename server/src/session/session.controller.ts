import { Body, Controller, Delete, Get, HttpCode, Inject, Post, Req, Res } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { CookieOptions, Request, Response } from 'express';
import type { SessionView } from '@kiraku/core/contract';
import { CONFIG, type Config } from '../config.js';
import { AccountService } from '../settings/account.service.js';
import { SetUpDto, SignInDto } from './session.dto.js';
import { OpenToEverybody, SESSION_COOKIE } from './session.guard.js';
import { SESSION_LENGTH_MS, SessionService } from './session.service.js';

@ApiTags('session')
@OpenToEverybody()
@Controller('api/session')
export class SessionController {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly sessions: SessionService,
    private readonly accounts: AccountService,
  ) {}

  @Get()
  @ApiOperation({ summary: 'Whether Kiraku is set up, and whether this browser is signed in' })
  read(@Req() request: Request): SessionView {
    return this.view(this.sessions.isOpen(request.cookies[SESSION_COOKIE]));
  }

  @Post()
  @HttpCode(200)
  @ApiOperation({ summary: 'Sign in; sets the session cookie' })
  async signIn(@Body() dto: SignInDto, @Req() request: Request, @Res({ passthrough: true }) response: Response) {
    this.setCookie(request, response, await this.sessions.signIn(dto.passphrase, request.ip ?? ''));
    return this.view(true);
  }

  @Post('set-up')
  @HttpCode(200)
  @ApiOperation({ summary: 'Choose the passphrase and say who you are, at the first start; signs in' })
  async setUp(@Body() dto: SetUpDto, @Req() request: Request, @Res({ passthrough: true }) response: Response) {
    await this.sessions.checkSetUp(dto.code, request.ip ?? '');
    this.accounts.save(dto.account);
    await this.sessions.choosePassphrase(dto.passphrase);
    this.setCookie(request, response, this.sessions.open());
    return this.view(true);
  }

  @Delete()
  @ApiOperation({ summary: 'Sign out' })
  signOut(@Req() request: Request, @Res({ passthrough: true }) response: Response): SessionView {
    this.sessions.signOut(request.cookies[SESSION_COOKIE]);
    response.clearCookie(SESSION_COOKIE, cookieOptions(request));
    return this.view(false);
  }

  private view(signedIn: boolean): SessionView {
    return {
      setUp: this.sessions.isSetUp(),
      signedIn,
      account: signedIn ? this.accounts.view() : null,
      publicUrl: signedIn ? this.config.publicUrl : '',
    };
  }

  private setCookie(request: Request, response: Response, token: string): void {
    response.cookie(SESSION_COOKIE, token, { ...cookieOptions(request), maxAge: SESSION_LENGTH_MS });
  }
}

/** `secure` wherever the browser came over TLS; on loopback without it the cookie would not be kept. */
function cookieOptions(request: Request): CookieOptions {
  return { httpOnly: true, sameSite: 'strict', path: '/', secure: request.secure };
}
