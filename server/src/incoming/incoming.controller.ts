import { Body, Controller, Get, Header, HttpCode, Param, ParseIntPipe, Put, StreamableFile } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import { IsIn, IsInt, IsOptional } from 'class-validator';
import { INCOMING_VERDICTS, type IncomingVerdict, type IncomingView, type VerdictRequest } from '@kiraku/core/contract';
import { notFound } from '../http/problem.js';
import { Sends } from '../http/sends.js';
import { BODY_CSP, shownBody } from '../messages/messageBody.js';
import { SentService } from '../messages/sent.service.js';
import { IncomingRepository } from './incoming.repository.js';
import { Consequences } from './consequences.js';

class VerdictDto implements VerdictRequest {
  @ApiProperty({ enum: INCOMING_VERDICTS })
  @IsIn(INCOMING_VERDICTS)
  verdict: IncomingVerdict;

  /** Whose reply it is, where that was not known. */
  @ApiPropertyOptional()
  @IsOptional()
  @IsInt()
  copyId?: number;
}

@ApiTags('messages')
@Controller('api')
export class IncomingController {
  constructor(
    private readonly inbox: IncomingRepository,
    private readonly consequences: Consequences,
    private readonly sent: SentService,
  ) {}

  @Get('messages/:id/incoming')
  @ApiOperation({ summary: 'Replies and receipts in a message’s conversation, the oldest first' })
  of(@Param('id', ParseIntPipe) id: number): IncomingView[] {
    return this.inbox.of(this.sent.conversationIds(id));
  }

  @Get('incoming/:id/body')
  @Sends('text/html; charset=utf-8')
  @Header('Content-Security-Policy', BODY_CSP)
  @Header('X-Frame-Options', 'SAMEORIGIN')
  @ApiOperation({ summary: 'A reply, as a document for a sandboxed frame' })
  messageBody(@Param('id', ParseIntPipe) id: number): string {
    const row = this.inbox.row(id);
    if (!row || row.html === '') throw notFound('reply');
    return shownBody(row.html);
  }

  @Get('incoming/:id/original.eml')
  @Sends('message/rfc822')
  @Header('Content-Disposition', 'attachment; filename="original.eml"')
  @ApiOperation({ summary: 'A mail of which not all can be shown, as it came' })
  original(@Param('id', ParseIntPipe) id: number): StreamableFile {
    const raw = this.inbox.original(id);
    if (!raw) throw notFound('original');
    return new StreamableFile(raw);
  }

  @Put('incoming/:id/verdict')
  @HttpCode(204)
  @ApiOperation({ summary: 'Confirm or reject a probable reply' })
  decide(@Param('id', ParseIntPipe) id: number, @Body() { verdict, copyId }: VerdictDto): void {
    this.consequences.decide(id, verdict, copyId);
  }
}
