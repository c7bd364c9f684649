import { Injectable } from '@nestjs/common';
import { setImmediate as nextTurn } from 'node:timers/promises';
import { bodyText } from '../messages/messageBody.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { Changes } from '../store/changes.js';
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

  constructor(
    private readonly search: SearchRepository,
    private readonly settings: SettingsRepository,
    private readonly changes: Changes,
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
    let indexedUpTo: number = this.settings.get<number>(INDEXED_UP_TO) ?? (await this.build(stopping));
    for (;;) {
      const changes = stopping.aborted ? [] : this.changes.after(indexedUpTo, MESSAGES_PER_RUN);
      if (changes.length === 0) return null;
      const ids = changes.flatMap(({ messageId, eventId }) =>
        messageId === null || eventId !== null ? [] : messageId,
      );
      for (const id of new Set(ids)) this.index(id);
      indexedUpTo = changes.at(-1)!.id;
      this.settings.set(INDEXED_UP_TO, indexedUpTo);
      await nextTurn();
    }
  }

  /** From nothing, a part at a time: the desk stays awake. Returns the last change before. */
  private async build(stopping: AbortSignal): Promise<number> {
    const indexedUpTo = this.changes.lastId();
    for (let last = 0; !stopping.aborted;) {
      const ids = this.search.sentAfter(last, MESSAGES_PER_RUN);
      if (ids.length === 0) {
        this.settings.set(INDEXED_UP_TO, indexedUpTo);
        return indexedUpTo;
      }
      for (const id of ids) this.index(id);
      last = ids.at(-1)!;
      await nextTurn();
    }
    return indexedUpTo;
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
