import { Controller, Get, Header, Param, ParseIntPipe } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { IncomingView } from '@kiraku/core/contract';
import { notFound } from '../http/problem.js';
import { LETTER_CSP, shownLetter } from '../messages/letter.js';
import { SentService } from '../messages/sent.service.js';
import { InboxRepository } from './inbox.repository.js';

@ApiTags('messages')
@Controller('api')
export class InboxController {
  constructor(
    private readonly inbox: InboxRepository,
    private readonly sent: SentService,
  ) {}

  @Get('messages/:id/incoming')
  @ApiOperation({ summary: 'What came back in a message’s conversation, the oldest first' })
  of(@Param('id', ParseIntPipe) id: number): IncomingView[] {
    return this.inbox.of(this.sent.conversationIds(id));
  }

  @Get('incoming/:id/letter')
  @Header('Content-Type', 'text/html; charset=utf-8')
  @Header('Content-Security-Policy', LETTER_CSP)
  @Header('X-Frame-Options', 'SAMEORIGIN')
  @ApiOperation({ summary: 'What somebody answered, as a document for a sandboxed frame' })
  letter(@Param('id', ParseIntPipe) id: number): string {
    const row = this.inbox.row(id);
    if (!row || row.html === '') throw notFound('answer');
    return shownLetter(row.html);
  }
}
