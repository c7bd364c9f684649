import { Body, Controller, Delete, Get, HttpCode, Inject, Param, Post, Put, Req, Res } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { SET_UP_STEPS, type OpenSession, type SessionView } from '@kiraku/core/contract';
import { CONFIG, type Config } from '../environment/config.js';
import { AccountService } from '../settings/account.service.js';
import { TimeFormatSettings } from '../settings/timeFormat.settings.js';
import { sessionToken } from '../http/cookies.js';
import { isOverTls } from '../http/hosts.js';
import { Changes } from '../store/changes.js';
import { liveCursorText } from '../store/liveCursor.js';
import { PassphraseDto, SetUpDto, SetUpProgressDto, SignInDto } from './session.dto.js';
import { SetUpSettings } from './setUp.settings.js';
import { OpenToEverybody } from './session.guard.js';
import { SessionService } from './session.service.js';
import { clearSessionCookie, setSessionCookie } from './sessionCookie.js';

/** Before one is named. */
const NO_SERVER = { smtpHost: '', smtpPort: 587, smtpSecurity: 'starttls', smtpUser: '' } as const;

@ApiTags('session')
@OpenToEverybody()
@Controller('api/session')
export class SessionController {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly sessions: SessionService,
    private readonly accounts: AccountService,
    private readonly timeFormat: TimeFormatSettings,
    private readonly progress: SetUpSettings,
    private readonly changes: Changes,
  ) {}

  @Get()
  @ApiOperation({ summary: 'Whether Kiraku is set up, and whether this browser is signed in' })
  read(@Req() request: Request): SessionView {
    return this.view(this.sessions.isOpen(sessionToken(request)));
  }

  @Post()
  @HttpCode(200)
  @ApiOperation({ summary: 'Sign in; sets the session cookie' })
  async signIn(
    @Body() dto: SignInDto,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<SessionView> {
    this.setCookie(request, response, await this.signedIn(dto, request));
    return this.view(true);
  }

  @Post('set-up')
  @HttpCode(200)
  @ApiOperation({ summary: 'Choose the passphrase and say who you are, at the first start; signs in' })
  async setUp(
    @Body() dto: SetUpDto,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<SessionView> {
    await this.sessions.checkSetUp(dto.code, request.ip ?? '');
    await this.sessions.checkStrength(dto.passphrase, ownWords(dto.account));
    this.accounts.save({ ...NO_SERVER, ...given(dto.account) });
    this.progress.setStep(SET_UP_STEPS[0]);
    await this.sessions.choosePassphrase(dto.passphrase);
    this.setCookie(request, response, this.sessions.open(userAgentOf(request)));
    return this.view(true);
  }

  @Delete()
  @ApiOperation({ summary: 'Sign out' })
  signOut(@Req() request: Request, @Res({ passthrough: true }) response: Response): SessionView {
    this.sessions.signOut(sessionToken(request));
    clearSessionCookie(response, isOverTls(request, this.config));
    return this.view(false);
  }

  private view(signedIn: boolean): SessionView {
    return {
      setUp: this.sessions.isSetUp(),
      signedIn,
      setUpStep: signedIn ? this.progress.step() : null,
      account: signedIn ? this.accounts.view() : null,
      publicUrl: signedIn ? this.config.publicUrl : '',
      timeFormat: signedIn ? this.timeFormat.view() : null,
      liveAfter: signedIn ? liveCursorText(this.changes.end()) : '',
    };
  }

  private setCookie(request: Request, response: Response, token: string): void {
    setSessionCookie(response, token, isOverTls(request, this.config));
  }

  private signedIn(dto: SignInDto, request: Request): Promise<string> {
    return this.sessions.signIn(dto, request.ip ?? '', userAgentOf(request));
  }
}

/** Where one is signed in, and with which passphrase. */
@ApiTags('session')
@Controller('api')
export class SessionsController {
  constructor(
    private readonly sessions: SessionService,
    private readonly accounts: AccountService,
    private readonly progress: SetUpSettings,
  ) {}

  @Put('settings/set-up-step')
  @HttpCode(204)
  @ApiOperation({ summary: 'Where set-up goes on, or that it is over' })
  setStep(@Body() { step }: SetUpProgressDto): void {
    this.progress.setStep(step);
  }

  @Get('sessions')
  @ApiOperation({ summary: 'Where you are signed in, the last used first' })
  list(@Req() request: Request): OpenSession[] {
    return this.sessions.list(sessionToken(request));
  }

  @Delete('sessions/:id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Sign out there' })
  end(@Param('id') id: string): void {
    this.sessions.end(id);
  }

  @Delete('sessions')
  @HttpCode(204)
  @ApiOperation({ summary: 'Sign out everywhere, here too' })
  endAll(): void {
    this.sessions.endAll();
  }

  @Put('settings/passphrase')
  @HttpCode(204)
  @ApiOperation({ summary: 'Change the passphrase; signs out everywhere else' })
  async change(@Body() { current, next }: PassphraseDto, @Req() request: Request): Promise<void> {
    const account = this.accounts.view();
    await this.sessions.checkStrength(next, account ? ownWords(account) : []);
    await this.sessions.changePassphrase(current, next, sessionToken(request)!, request.ip ?? '');
  }
}

/** What was said, and nothing of what was left out. */
function given<T extends object>(fields: T): T {
  return Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined)) as T;
}

/** What a guesser who knows the user tries first. */
function ownWords({ name, address }: { name: string; address: string }): string[] {
  return [name, address, ...`${name} ${address}`.split(/[\s@.]+/), 'kiraku'];
}

function userAgentOf(request: Request): string {
  return request.headers['user-agent'] ?? '';
}
