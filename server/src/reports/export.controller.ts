import { pipeline } from 'node:stream/promises';
import { Controller, Get, Logger, Query, Res } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import { stringify } from 'csv-stringify';
import type { Response } from 'express';
import { ListFilterQuery } from '../sent/list.dto.js';
import { ListService } from '../sent/list.service.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { SendsItself } from '../http/sends.js';
import { eventRow, type EventRow } from './eventRows.js';
import { messageRow, type MessageRow } from './messageRows.js';

/** As many as are read at once: an export of millions needs no more memory than one of hundreds. */
const EVENTS_PER_CHUNK = 1000;
const MESSAGES_AT_ONCE = 100;

@ApiTags('export')
@Controller('api/export')
export class ExportController {
  private readonly logger = new Logger(ExportController.name);

  constructor(
    private readonly events: EventsRepository,
    private readonly list: ListService,
  ) {}

  @Get('events.csv')
  @SendsItself('text/csv')
  @ApiOperation({
    summary: 'Every event of the messages that a filter shows, one a row, in the order of their recording',
  })
  eventsCsv(@Query() filter: ListFilterQuery, @Res() response: Response): Promise<void> {
    return this.csv('events.csv', this.eventRows(filter), response);
  }

  @Get('events.jsonl')
  @SendsItself('application/jsonl')
  @ApiOperation({ summary: 'The same, one JSON object a line' })
  eventsJsonLines(@Query() filter: ListFilterQuery, @Res() response: Response): Promise<void> {
    return this.jsonLines('events.jsonl', this.eventRows(filter), response);
  }

  @Get('messages.csv')
  @SendsItself('text/csv')
  @ApiOperation({ summary: 'The messages that a filter shows with their counts, one a row' })
  messagesCsv(@Query() filter: ListFilterQuery, @Res() response: Response): Promise<void> {
    return this.csv('messages.csv', this.messageRows(filter), response);
  }

  @Get('messages.jsonl')
  @SendsItself('application/jsonl')
  @ApiOperation({ summary: 'The same, one JSON object a line' })
  messagesJsonLines(@Query() filter: ListFilterQuery, @Res() response: Response): Promise<void> {
    return this.jsonLines('messages.jsonl', this.messageRows(filter), response);
  }

  private *eventRows(filter: ListFilterQuery): Generator<EventRow> {
    const shown = this.list.isEverything(filter) ? null : this.list.idsOf(filter);
    for (let last = 0; ;) {
      const events = this.events.after(last, EVENTS_PER_CHUNK);
      if (events.length === 0) return;
      yield* events.filter(({ messageId }) => shown === null || shown.has(messageId)).map(eventRow);
      last = events.at(-1)!.eventId;
    }
  }

  private *messageRows(filter: ListFilterQuery): Generator<MessageRow> {
    for (const messages of this.list.all(filter, MESSAGES_AT_ONCE)) yield* messages.map(messageRow);
  }

  /** RFC 4180; a value that a spreadsheet would take for a formula is given an apostrophe. */
  private csv(file: string, rows: Iterable<object>, response: Response): Promise<void> {
    response.attachment(file).type('text/csv; charset=utf-8');
    const csv = stringify({
      header: true,
      escape_formulas: true,
      record_delimiter: 'windows',
      cast: { boolean: String },
    });
    return this.send(pipeline(rows, csv, response));
  }

  private jsonLines(file: string, rows: Iterable<object>, response: Response): Promise<void> {
    response.attachment(file).type('application/jsonl');
    return this.send(pipeline(linesOf(rows), response));
  }

  /** A reader who goes away in the middle is no fault; what else goes wrong can only be logged, half is sent. */
  private async send(sending: Promise<void>): Promise<void> {
    await sending.catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'ERR_STREAM_PREMATURE_CLOSE') this.logger.error('Export', error.stack);
    });
  }
}

function* linesOf(rows: Iterable<object>): Generator<string> {
  for (const row of rows) yield `${JSON.stringify(row)}\n`;
}
