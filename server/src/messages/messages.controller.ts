import {
  Body,
  Controller,
  Get,
  Header,
  HttpCode,
  Param,
  ParseIntPipe,
  Post,
  Put,
  Query,
  StreamableFile,
} from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import { Transform } from 'class-transformer';
import { IsBoolean, IsIn, IsInt, IsOptional, IsString, Max, MaxLength, Min } from 'class-validator';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import {
  ROWS_PER_PAGE,
  MAX_DATE_MS,
  EVENT_KINDS,
  HISTORY_SCOPES,
  type ChartEvent,
  type Draft,
  type EventKind,
  type HistoryFilter,
  type HistoryPage,
  type HistoryScope,
  type MessageDetail,
  type MessageSummary,
  type ReplyRequest,
} from '@kiraku/core/contract';
import { Cursor, Limit, type PageQuery } from '../http/paging.js';
import { Sends } from '../http/sends.js';
import { BODY_CSP, shownBody } from './messageBody.js';
import { MailsService } from './mails.service.js';
import { SentService } from './sent.service.js';

const asNumber = (value: unknown) => (value === undefined ? null : Number(value));

class ScopeQuery {
  @ApiPropertyOptional({ enum: HISTORY_SCOPES, default: 'message' })
  @IsOptional()
  @IsIn(HISTORY_SCOPES)
  scope: HistoryScope = 'message';
}

class HistoryQuery extends ScopeQuery implements HistoryFilter, PageQuery {
  @Cursor() cursor?: string;
  @Limit() limit = ROWS_PER_PAGE;

  @ApiPropertyOptional({ enum: EVENT_KINDS })
  @IsOptional()
  @IsIn(EVENT_KINDS)
  kind: EventKind | null = null;

  @ApiPropertyOptional({ description: 'Number of a recipient’s copy' })
  @IsOptional()
  @Transform(({ value }) => asNumber(value))
  @IsInt()
  copy: number | null = null;

  @ApiPropertyOptional({ description: 'Number of a link' })
  @IsOptional()
  @Transform(({ value }) => asNumber(value))
  @IsInt()
  link: number | null = null;

  @ApiPropertyOptional({ default: true, description: 'With what was not counted' })
  @IsOptional()
  @Transform(({ value }) => value !== 'false')
  @IsBoolean()
  notCounted = true;

  @ApiPropertyOptional({ description: 'From this time on; epoch milliseconds' })
  @IsOptional()
  @Transform(({ value }) => asNumber(value))
  @IsInt()
  @Min(0)
  @Max(MAX_DATE_MS)
  from: number | null = null;

  @ApiPropertyOptional({ description: 'Before this time; epoch milliseconds' })
  @IsOptional()
  @Transform(({ value }) => asNumber(value))
  @IsInt()
  @Min(0)
  @Max(MAX_DATE_MS)
  to: number | null = null;
}

class ReplyDto implements ReplyRequest {
  @ApiPropertyOptional({
    type: Number,
    nullable: true,
    default: null,
    description: 'To the recipient of one copy alone',
  })
  @IsOptional()
  @IsInt()
  copyId: number | null = null;
}

class NoteDto {
  @ApiProperty()
  @IsString()
  @MaxLength(MESSAGE_LIMITS.maxNoteChars, {
    message: `A note can have at most ${MESSAGE_LIMITS.maxNoteChars} characters`,
  })
  note: string;
}

@ApiTags('messages')
@Controller('api/messages')
export class MessagesController {
  constructor(
    private readonly sent: SentService,
    private readonly mails: MailsService,
  ) {}

  @Get(':id')
  @ApiOperation({ summary: 'One message with its copies, links and newest events' })
  detail(@Param('id', ParseIntPipe) id: number): MessageDetail {
    return this.sent.detail(id);
  }

  @Get(':id/events')
  @ApiOperation({ summary: 'The activity on a message, or on its conversation, newest first' })
  history(@Param('id', ParseIntPipe) id: number, @Query() { cursor, limit, ...filter }: HistoryQuery): HistoryPage {
    return this.sent.history(id, filter, { cursor, limit });
  }

  @Get(':id/chart')
  @ApiOperation({ summary: 'The events of its chart, oldest first' })
  trailEvents(@Param('id', ParseIntPipe) id: number, @Query() { scope }: ScopeQuery): ChartEvent[] {
    return this.sent.trailEvents(id, scope);
  }

  @Get(':id/conversation')
  @ApiOperation({ summary: 'The messages of its conversation, the oldest first' })
  conversation(@Param('id', ParseIntPipe) id: number): MessageSummary[] {
    return this.sent.conversation(id);
  }

  @Get(':id/mail.eml')
  @Sends('message/rfc822')
  @Header('Content-Disposition', 'attachment; filename="mail.eml"')
  @ApiOperation({ summary: 'The sender’s own copy as a mail (RFC 5322), without tracking' })
  async mail(@Param('id', ParseIntPipe) id: number): Promise<StreamableFile> {
    return new StreamableFile(await this.mails.sentMail(id));
  }

  @Post(':id/reply')
  @ApiOperation({ summary: 'Begin a draft that goes on with the conversation' })
  reply(@Param('id', ParseIntPipe) id: number, @Body() { copyId }: ReplyDto): Draft {
    return this.mails.reply(id, copyId);
  }

  @Put(':id/note')
  @HttpCode(204)
  @ApiOperation({ summary: 'Keep a private note on a message' })
  note(@Param('id', ParseIntPipe) id: number, @Body() { note }: NoteDto): void {
    this.sent.setNote(id, note);
  }

  @Get(':id/body')
  @Sends('text/html; charset=utf-8')
  @Header('Content-Security-Policy', BODY_CSP)
  @Header('X-Frame-Options', 'SAMEORIGIN')
  @ApiOperation({ summary: 'The message as a document for a sandboxed frame, without tracking' })
  messageBody(@Param('id', ParseIntPipe) id: number): string {
    return shownBody(this.sent.messageBody(id));
  }
}
