import { Injectable } from '@nestjs/common';
import { setImmediate as nextTurn } from 'node:timers/promises';
import { bodyText } from '../messages/messageBody.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { Changes } from '../store/changes.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { SearchRepository } from './search.repository.js';

/** The last change that was taken in; kept, so that nothing is missed over a restart. */
const INDEXED_UP_TO = 'search.indexedUpTo';
const MESSAGES_PER_RUN = 50;
const SEARCH_INDEX_PAUSE_MS = 50;

/** Follows what changes, and keeps the full-text index true to it: a message that was sent, mended, given a note. */
@Injectable()
export class SearchIndex {
  private readonly due: DueWork;
  /** The last change that was looked at; what comes after a start begins where the last one was taken in. */
  private indexedUpTo: number | undefined;

  constructor(
    private readonly search: SearchRepository,
    private readonly settings: SettingsRepository,
    private readonly changes: Changes,
    private readonly unit: UnitOfWork,
    works: Works,
  ) {
    this.due = works.add({
      name: 'search index',
      commitPauseMs: SEARCH_INDEX_PAUSE_MS,
      run: (stopping) => this.follow(stopping),
    });
  }

  /** Resolves when all that was committed until now can be found. */
  done(): Promise<void> {
    this.due.wake();
    return this.due.idle();
  }

  private async follow(stopping: AbortSignal): Promise<null> {
    this.indexedUpTo ??= this.settings.get<number>(INDEXED_UP_TO) ?? (await this.build(stopping));
    const last = this.changes.lastId();
    while (!stopping.aborted) {
      const changes = this.changes.ofMessagesAfter(this.indexedUpTo, MESSAGES_PER_RUN);
      if (changes.length === 0) {
        this.indexedUpTo = Math.max(this.indexedUpTo, last);
        break;
      }
      this.take(new Set(changes.map(({ messageId }) => messageId)), changes.at(-1)!.id);
      await nextTurn();
    }
    return null;
  }

  /** From nothing, a part at a time: the desk stays awake. Returns the last change before. */
  private async build(stopping: AbortSignal): Promise<number> {
    const indexedUpTo = this.changes.lastId();
    for (let last = 0; !stopping.aborted;) {
      const ids = this.search.sentAfter(last, MESSAGES_PER_RUN);
      if (ids.length === 0) {
        this.settings.set(INDEXED_UP_TO, indexedUpTo);
        break;
      }
      this.unit.commitUnseen(() => ids.forEach((id) => this.index(id)));
      last = ids.at(-1)!;
      await nextTurn();
    }
    return indexedUpTo;
  }

  /** What some messages say now, and that it is taken in up to a change. */
  private take(messageIds: ReadonlySet<number>, upTo: number): void {
    this.unit.commitUnseen(() => {
      for (const id of messageIds) this.index(id);
      this.settings.set(INDEXED_UP_TO, upTo);
    });
    this.indexedUpTo = upTo;
  }

  private index(messageId: number): void {
    const source = this.search.source(messageId);
    if (!source) return this.search.remove(messageId);
    const { subject, note, html, recipients, known } = source;
    // As they were written to, and as they are known by now.
    const people = [...recipients.map(({ name, address }) => `${name} ${address}`), ...known].join('; ');
    this.search.set(messageId, { subject, note, people, body: bodyText(html) });
  }
}
