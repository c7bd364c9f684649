import { Injectable } from '@nestjs/common';
import { stringify } from 'csv-stringify';
import type { ListFilterQuery } from '../sent/list.dto.js';
import { ListService } from '../sent/list.service.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { eventRow, type EventRow } from './eventRows.js';
import { messageRow, type MessageRow } from './messageRows.js';

/** As many as are read at once: an export of millions needs no more memory than one of hundreds. */
const EVENTS_PER_CHUNK = 1000;
const MESSAGES_AT_ONCE = 100;

/** The rows of exports, read as they are wanted. */
@Injectable()
export class ExportRows {
  constructor(
    private readonly events: EventsRepository,
    private readonly list: ListService,
  ) {}

  /** Every event of the messages that a filter shows, in the order of their recording. */
  *ofEvents(filter: ListFilterQuery): Generator<EventRow> {
    const shown = this.list.isEverything(filter) ? null : this.list.idsOf(filter);
    for (let last = 0; ;) {
      const events = this.events.after(last, EVENTS_PER_CHUNK);
      if (events.length === 0) return;
      yield* events.filter(({ messageId }) => shown === null || shown.has(messageId)).map(eventRow);
      last = events.at(-1)!.eventId;
    }
  }

  /** The messages that a filter shows. */
  *ofMessages(filter: ListFilterQuery): Generator<MessageRow> {
    for (const messages of this.list.all(filter, MESSAGES_AT_ONCE)) yield* messages.map(messageRow);
  }
}

/** What writes rows as a sheet (RFC 4180); a value that a spreadsheet would take for a formula is given an apostrophe. */
export function csvWriter() {
  return stringify({ header: true, escape_formulas: true, record_delimiter: 'windows', cast: { boolean: String } });
}

/** One JSON object a line. */
export function* jsonLines(rows: Iterable<object>): Generator<string> {
  for (const row of rows) yield `${JSON.stringify(row)}\n`;
}
