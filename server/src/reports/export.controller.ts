import { pipeline } from 'node:stream/promises';
import { Controller, Get, Logger, Query, Res } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { ListFilterQuery } from '../sent/list.dto.js';
import { SendsItself } from '../http/sends.js';
import { csvWriter, ExportRows, jsonLines } from './exportRows.js';

@ApiTags('export')
@Controller('api/export')
export class ExportController {
  private readonly logger = new Logger(ExportController.name);

  constructor(private readonly rows: ExportRows) {}

  @Get('events.csv')
  @SendsItself('text/csv')
  @ApiOperation({
    summary: 'Every event of the messages that a filter shows, one a row, in the order of their recording',
  })
  eventsCsv(@Query() filter: ListFilterQuery, @Res() response: Response): Promise<void> {
    return this.csv('events.csv', this.rows.ofEvents(filter), response);
  }

  @Get('events.jsonl')
  @SendsItself('application/jsonl')
  @ApiOperation({ summary: 'The same, one JSON object a line' })
  eventsJsonLines(@Query() filter: ListFilterQuery, @Res() response: Response): Promise<void> {
    return this.jsonLines('events.jsonl', this.rows.ofEvents(filter), response);
  }

  @Get('messages.csv')
  @SendsItself('text/csv')
  @ApiOperation({ summary: 'The messages that a filter shows with their counts, one a row' })
  messagesCsv(@Query() filter: ListFilterQuery, @Res() response: Response): Promise<void> {
    return this.csv('messages.csv', this.rows.ofMessages(filter), response);
  }

  @Get('messages.jsonl')
  @SendsItself('application/jsonl')
  @ApiOperation({ summary: 'The same, one JSON object a line' })
  messagesJsonLines(@Query() filter: ListFilterQuery, @Res() response: Response): Promise<void> {
    return this.jsonLines('messages.jsonl', this.rows.ofMessages(filter), response);
  }

  private csv(file: string, rows: Iterable<object>, response: Response): Promise<void> {
    response.attachment(file).type('text/csv; charset=utf-8');
    return this.send(pipeline(rows, csvWriter(), response));
  }

  private jsonLines(file: string, rows: Iterable<object>, response: Response): Promise<void> {
    response.attachment(file).type('application/jsonl');
    return this.send(pipeline(jsonLines(rows), response));
  }

  /** A reader who goes away in the middle is no fault; what else goes wrong can only be logged, half is sent. */
  private async send(sending: Promise<void>): Promise<void> {
    await sending.catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'ERR_STREAM_PREMATURE_CLOSE') this.logger.error('Export', error.stack);
    });
  }
}
