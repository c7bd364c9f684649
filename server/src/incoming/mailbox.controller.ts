import { Body, Controller, Get, HttpCode, Inject, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { MailboxTrial, MailboxView, Trial } from '@kiraku/core/contract';
import { tryPort } from '../delivery/portTrial.js';
import { CONFIG, type Config } from '../environment/config.js';
import { notFound } from '../http/problem.js';
import { tryImap } from './imap.js';
import { LmtpServer } from './lmtp.server.js';
import { MailboxDto } from './mailbox.dto.js';
import { MailboxSettings } from './mailbox.settings.js';
import { MailboxFollower } from './mailboxFollower.js';

@ApiTags('settings')
@Controller('api/settings/mailbox')
export class MailboxController {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly settings: MailboxSettings,
    private readonly follower: MailboxFollower,
    private readonly lmtp: LmtpServer,
  ) {}

  @Get()
  @ApiOperation({ summary: 'Where replies are read from' })
  view(): MailboxView {
    return { ...this.settings.view(), lmtpPort: this.lmtp.port, state: this.follower.state() };
  }

  @Put()
  @ApiOperation({ summary: 'Choose where replies are read from' })
  async save(@Body() dto: MailboxDto): Promise<MailboxView> {
    const before = this.settings.view();
    this.settings.save(dto);
    await this.follower.reopen(before.host !== dto.host || before.user !== dto.user);
    return this.view();
  }

  @Post('failures/:id/retry')
  @HttpCode(204)
  @ApiOperation({ summary: 'Try again to read in a mail that could not be' })
  retry(@Param('id', ParseIntPipe) id: number): void {
    if (!this.follower.retry(id)) throw notFound('mail');
  }

  @Post('lmtp/try')
  @HttpCode(200)
  @ApiOperation({ summary: 'Connect to the port that a mail server delivers to, as one would' })
  tryLmtp(): Promise<Trial> {
    return tryPort(this.config.lmtpHost, this.lmtp.port, { lmtp: true });
  }

  @Post('try')
  @HttpCode(200)
  @ApiOperation({ summary: 'Try a mailbox, saved or not, and say which folders it has' })
  try(@Body() dto: MailboxDto): Promise<MailboxTrial> {
    return tryImap(this.settings.accessWith(dto));
  }
}
