import { Injectable } from '@nestjs/common';
import type {
  ChartMark,
  CopyView,
  EventView,
  HistoryFilter,
  HistoryScope,
  MessageDetail,
  MessageSummary,
} from '@kiraku/core/contract';
import { withFileBlocks } from '@kiraku/core/files';
import { conversationOf } from '@kiraku/core/message';
import { recurrenceProblem } from '@kiraku/core/time';
import { passedOn, readersOf } from '@kiraku/core/tracking';
import { FilesService } from '../files/files.service.js';
import { invalid, notFound } from '../http/problem.js';
import { Changes } from '../store/changes.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { picturesIn, withPictures } from './letter.js';
import { PicturesRepository } from './pictures.repository.js';
import { SummariesRepository } from './summaries.repository.js';
import { TemplatesRepository } from './templates.repository.js';
import { MessagesRepository, type WholeMessage } from './messages.repository.js';

export const EVENTS_AT_ONCE = 100;
/** Of somebody’s letters, so many are looked through for a conversation. */
const MOST_RELATIVES = 500;
const WHOLE_HISTORY: HistoryFilter = {
  ...({ scope: 'letter', aside: true } as const),
  ...{ kind: null, copy: null, link: null, from: null, to: null },
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
    private readonly changes: Changes,
  ) {}

  detail(id: number): MessageDetail {
    const row = this.row(id);
    return {
      summary: this.summaries.of([id])[0]!,
      note: row.note,
      template: this.templates.nameOf(row.templateId),
      disclose: row.disclose,
      readReceipt: row.readReceipt,
      trackForDays: row.trackForDays,
      recurrenceProblem: row.recurrence && recurrenceProblem(row.recurrence),
      removedFields: row.removedFields,
      sender: { name: row.senderName, address: row.senderAddress },
      copies: this.copies(id),
      links: this.messages.links(id),
      files: this.files.sentOf(id),
      events: this.events.ofMessages([id], EVENTS_AT_ONCE, WHOLE_HISTORY),
      eventsTotal: this.events.countOfMessage(id),
    };
  }

  /** The letter's body, without tracking, showing its pictures by itself. */
  letter(id: number): string {
    // As a link to where the desk tells of it: opening it there counts nowhere.
    const html = withFileBlocks(this.row(id).html, this.files.sentOf(id), ({ fileId }) => `/files/${fileId}`);
    return withPictures(html, this.pictures.find(picturesIn(html)));
  }

  setNote(id: number, note: string): void {
    this.row(id);
    this.messages.transaction(() => {
      this.messages.setNote(id, note);
      this.changes.note({ messageId: id });
    });
    this.changes.announce();
  }

  /** The history as a filter shows it, newest first; after an event that is shown already, if one is named. */
  history(id: number, filter: HistoryFilter, before: string | undefined): EventView[] {
    const place = before === undefined ? undefined : placeOf(before);
    return this.events.ofMessages(this.scope(id, filter.scope), EVENTS_AT_ONCE, filter, place);
  }

  /** The marks of the chart, oldest first; of very many, the newest. */
  marks(id: number, scope: HistoryScope): ChartMark[] {
    return this.events.chart(this.scope(id, scope));
  }

  /** The letters of the conversation that a letter belongs to, the oldest first; itself among them. */
  conversation(id: number): MessageSummary[] {
    return this.summaries.of(this.scope(id, 'conversation'));
  }

  /** The numbers of these letters. */
  conversationIds(id: number): number[] {
    return this.scope(id, 'conversation');
  }

  private scope(id: number, scope: HistoryScope): number[] {
    this.row(id);
    return scope === 'letter' ? [id] : conversationOf(id, this.messages.relatives(id, MOST_RELATIVES));
  }

  private copies(id: number): CopyView[] {
    const looks = this.events.looks(id);
    return this.messages.copies(id).map((copy) => {
      const own = looks.get(copy.id) ?? [];
      return { ...copy, readers: readersOf(own), passedOn: passedOn(own) };
    });
  }

  private row(id: number): WholeMessage {
    const row = this.messages.row(id);
    if (!row || row.state === 'draft') throw notFound('sent message');
    return row;
  }
}

/** A place in the history as the page hands it back: “time.number”. */
function placeOf(before: string): { at: number; id: number } {
  const match = /^(\d{1,15})\.(\d{1,15})$/.exec(before);
  if (!match) throw invalid('This place in the history is not known. Load it again from its start.');
  return { at: Number(match[1]), id: Number(match[2]) };
}
