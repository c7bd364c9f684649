import { Injectable } from '@nestjs/common';
import {
  EVENTS_PER_PAGE,
  type ChartEvent,
  type CopyView,
  type HistoryFilter,
  type HistoryPage,
  type HistoryScope,
  type MessageDetail,
  type MessageSummary,
} from '@kiraku/core/contract';
import { withFileBlocks } from '@kiraku/core/files';
import { conversationOf } from '@kiraku/core/message';
import { recurrenceProblem } from '@kiraku/core/time';
import { passedOn, readersOf } from '@kiraku/core/tracking';
import { FilesService } from '../files/files.service.js';
import { cursorAfter, placeOf, type PageQuery } from '../http/paging.js';
import { notFound } from '../http/problem.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { picturesIn, withPictures } from './messageBody.js';
import { PicturesRepository } from './pictures.repository.js';
import { SummariesRepository } from './summaries.repository.js';
import { TemplatesRepository } from './templates.repository.js';
import { MessagesRepository, type WholeMessage } from './messages.repository.js';

/** Of somebody’s messages, so many are looked through for a conversation. */
const MAX_CONVERSATION_MESSAGES = 500;
const WHOLE_HISTORY: HistoryFilter = {
  scope: 'message',
  notCounted: true,
  kind: null,
  copy: null,
  link: null,
  from: null,
  to: null,
};

/** Reads what was sent, and what became of it. */
@Injectable()
export class SentService {
  constructor(
    private readonly messages: MessagesRepository,
    private readonly summaries: SummariesRepository,
    private readonly events: EventsRepository,
    private readonly pictures: PicturesRepository,
    private readonly templates: TemplatesRepository,
    private readonly files: FilesService,
    private readonly unit: UnitOfWork,
  ) {}

  detail(id: number): MessageDetail {
    const row = this.row(id);
    return {
      summary: this.summaries.of([id])[0]!,
      note: row.note,
      template: this.templates.nameOf(row.templateId),
      disclose: row.disclose,
      requestMdn: row.requestMdn,
      trackForDays: row.trackForDays,
      recurrenceProblem: row.recurrence && recurrenceProblem(row.recurrence),
      removedFields: row.removedFields,
      sender: { name: row.senderName, address: row.senderAddress },
      copies: this.copies(id),
      links: this.messages.links(id),
      files: this.files.sentOf(id),
      events: this.events.ofMessages([id], EVENTS_PER_PAGE, WHOLE_HISTORY),
      eventsTotal: this.events.countOfMessage(id),
    };
  }

  /** The message's body, without tracking, showing its pictures by itself. */
  messageBody(id: number): string {
    // As a link to where the desk tells of it: opening it there counts nowhere.
    const html = withFileBlocks(this.row(id).html, this.files.sentOf(id), ({ fileId }) => `/files/${fileId}`);
    return withPictures(html, this.pictures.find(picturesIn(html)));
  }

  setNote(id: number, note: string): void {
    this.row(id);
    this.unit.commit(() => {
      this.messages.setNote(id, note);
      this.unit.note({ messageId: id });
    });
  }

  /** A part of the history as a filter shows it, newest first. */
  history(id: number, filter: HistoryFilter, { cursor, limit }: PageQuery): HistoryPage {
    const events = this.events.ofMessages(this.scope(id, filter.scope), limit, filter, placeOf(cursor));
    const places = events.map(({ eventId, at }) => ({ value: at, id: eventId }));
    return { events, nextCursor: cursorAfter(places, limit) };
  }

  /** The marks of the chart, oldest first; of very many, the newest. */
  trailEvents(id: number, scope: HistoryScope): ChartEvent[] {
    return this.events.chart(this.scope(id, scope));
  }

  /** The messages of the conversation that a message belongs to, the oldest first; itself among them. */
  conversation(id: number): MessageSummary[] {
    return this.summaries.of(this.scope(id, 'conversation'));
  }

  /** The numbers of these messages. */
  conversationIds(id: number): number[] {
    return this.scope(id, 'conversation');
  }

  private scope(id: number, scope: HistoryScope): number[] {
    this.row(id);
    return scope === 'message' ? [id] : conversationOf(id, this.messages.relatives(id, MAX_CONVERSATION_MESSAGES));
  }

  private copies(id: number): CopyView[] {
    const hits = this.events.hits(id);
    return this.messages.copies(id).map((copy) => {
      const own = hits.get(copy.id) ?? [];
      return { ...copy, readers: readersOf(own), passedOn: passedOn(own) };
    });
  }

  private row(id: number): WholeMessage {
    const row = this.messages.row(id);
    if (!row || row.state === 'draft') throw notFound('sent message');
    return row;
  }
}
