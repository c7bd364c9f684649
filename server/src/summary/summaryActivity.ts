import { Injectable } from '@nestjs/common';
import type { MessageSummary } from '@kiraku/core/contract';
import { isInSummary } from '@kiraku/core/sentences';
import { MAX_SUMMARY_LINES, type SummarySource } from '@kiraku/core/summary';
import { SummariesRepository } from '../messages/summaries.repository.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { SummaryRepository } from './summary.repository.js';

/** What has happened to messages since a time. */
@Injectable()
export class SummaryActivity {
  constructor(
    private readonly repository: SummaryRepository,
    private readonly summaries: SummariesRepository,
    private readonly events: EventsRepository,
  ) {}

  since(from: number): Pick<SummarySource, 'active' | 'activeTotal'> {
    const ids = this.repository.activeSince(from, MAX_SUMMARY_LINES);
    return {
      active: this.summaries.of(ids).map((message) => ({ message, events: this.eventsOf(message, from) })),
      activeTotal: this.repository.countActiveSince(from),
    };
  }

  private eventsOf({ id }: MessageSummary, from: number) {
    const events = [...this.events.counted([id]).values()].flat();
    return events.filter((event) => event.at >= from && isInSummary(event));
  }
}
