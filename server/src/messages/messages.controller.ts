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
  EVENT_KINDS,
  HISTORY_SCOPES,
  type ChartMark,
  type Draft,
  type EventKind,
  type EventView,
  type HistoryFilter,
  type HistoryScope,
  type MessageDetail,
  type MessageSummary,
} from '@kiraku/core/contract';
import { LETTER_CSP, shownLetter } from './letter.js';
import { MailsService } from './mails.service.js';
import { SentService } from './sent.service.js';

const LATEST_MS = 8.64e15;
const asNumber = (value: unknown) => (value === undefined ? null : Number(value));

class ScopeQuery {
  @ApiPropertyOptional({ enum: HISTORY_SCOPES, default: 'letter' })
  @IsOptional()
  @IsIn(HISTORY_SCOPES)
  scope: HistoryScope = 'letter';
}

class HistoryQuery extends ScopeQuery implements HistoryFilter {
  @ApiPropertyOptional({ description: '“at.eventId” of the oldest event that is known' })
  @IsOptional()
  @IsString()
  @MaxLength(40)
  before?: string;

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

  @ApiPropertyOptional({ default: true, description: 'With what was set aside' })
  @IsOptional()
  @Transform(({ value }) => value !== 'false')
  @IsBoolean()
  aside = true;

  @ApiPropertyOptional({ description: 'From this time on; epoch milliseconds' })
  @IsOptional()
  @Transform(({ value }) => asNumber(value))
  @IsInt()
  @Min(0)
  @Max(LATEST_MS)
  from: number | null = null;

  @ApiPropertyOptional({ description: 'Before this time; epoch milliseconds' })
  @IsOptional()
  @Transform(({ value }) => asNumber(value))
  @IsInt()
  @Min(0)
  @Max(LATEST_MS)
  to: number | null = null;
}

class NoteDto {
  @ApiProperty()
  @IsString()
  @MaxLength(MESSAGE_LIMITS.noteLength, { message: `A note has at most ${MESSAGE_LIMITS.noteLength} characters` })
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
  @ApiOperation({ summary: 'What happened to a message, or to its conversation, newest first' })
  history(@Param('id', ParseIntPipe) id: number, @Query() { before, ...filter }: HistoryQuery): EventView[] {
    return this.sent.history(id, filter, before);
  }

  @Get(':id/marks')
  @ApiOperation({ summary: 'The marks of its chart, oldest first' })
  marks(@Param('id', ParseIntPipe) id: number, @Query() { scope }: ScopeQuery): ChartMark[] {
    return this.sent.marks(id, scope);
  }

  @Get(':id/conversation')
  @ApiOperation({ summary: 'The letters of its conversation, the oldest first' })
  conversation(@Param('id', ParseIntPipe) id: number): MessageSummary[] {
    return this.sent.conversation(id);
  }

  @Get(':id/mail.eml')
  @Header('Content-Type', 'message/rfc822')
  @Header('Content-Disposition', 'attachment; filename="mail.eml"')
  @ApiOperation({ summary: 'The sender’s own copy as a mail (RFC 5322), without tracking' })
  async mail(@Param('id', ParseIntPipe) id: number): Promise<StreamableFile> {
    return new StreamableFile(await this.mails.sentMail(id));
  }

  @Post(':id/answer')
  @ApiOperation({ summary: 'Begin a draft that goes on with the conversation' })
  answer(@Param('id', ParseIntPipe) id: number): Draft {
    return this.mails.answer(id);
  }

  @Put(':id/note')
  @HttpCode(204)
  @ApiOperation({ summary: 'Keep a private note on a message' })
  note(@Param('id', ParseIntPipe) id: number, @Body() { note }: NoteDto): void {
    this.sent.setNote(id, note);
  }

  @Get(':id/letter')
  @Header('Content-Type', 'text/html; charset=utf-8')
  @Header('Content-Security-Policy', LETTER_CSP)
  @Header('X-Frame-Options', 'SAMEORIGIN')
  @ApiOperation({ summary: 'The letter as a document for a sandboxed frame, without tracking' })
  letter(@Param('id', ParseIntPipe) id: number): string {
    return shownLetter(this.sent.letter(id));
  }
}
