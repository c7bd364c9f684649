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
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsString, MaxLength } from 'class-validator';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import type { Draft, EventView, MessageDetail } from '@kiraku/core/contract';
import { LETTER_CSP, shownLetter } from './letter.js';
import { MailsService } from './mails.service.js';
import { SentService } from './sent.service.js';

class EventsQuery {
  @ApiProperty({ description: '“at.eventId” of the oldest event that is known' })
  @IsString()
  @MaxLength(40)
  before: string;
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
  @ApiOperation({ summary: 'Older events of a message, newest first' })
  events(@Param('id', ParseIntPipe) id: number, @Query() { before }: EventsQuery): EventView[] {
    return this.sent.eventsBefore(id, before);
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
