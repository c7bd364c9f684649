import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { asyncScheduler, throttleTime, type Subscription } from 'rxjs';
import { setImmediate as nextTurn } from 'node:timers/promises';
import { bodyText } from '../messages/messageBody.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { Changes } from '../store/changes.js';
import { SearchRepository } from './search.repository.js';

/** The last change that was taken in; kept, so that nothing is missed over a restart. */
const INDEXED_UP_TO = 'search.indexedUpTo';
const MESSAGES_PER_RUN = 50;
const SEARCH_INDEX_PAUSE_MS = 50;

/** Follows what changes, and keeps the full-text index true to it: a message that was sent, mended, given a note. */
@Injectable()
export class SearchIndex implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly logger = new Logger(SearchIndex.name);
  private subscription: Subscription | undefined;
  private running: Promise<void> = Promise.resolve();
  private stopped = false;

  constructor(
    private readonly search: SearchRepository,
    private readonly settings: SettingsRepository,
    private readonly changes: Changes,
  ) {}

  onApplicationBootstrap(): void {
    this.subscription = this.changes.announced
      .pipe(throttleTime(SEARCH_INDEX_PAUSE_MS, asyncScheduler, { leading: true, trailing: true }))
      .subscribe(() => this.follow());
    this.follow();
  }

  async onApplicationShutdown(): Promise<void> {
    this.stopped = true;
    this.subscription?.unsubscribe();
    await this.running;
  }

  /** Resolves when all that was committed until now can be found. */
  async done(): Promise<void> {
    this.follow();
    await this.running;
  }

  private follow(): void {
    this.running = this.running
      .then(() => this.takeIn())
      .catch((error: Error) => this.logger.error('Search index', error.stack));
  }

  private async takeIn(): Promise<void> {
    let indexedUpTo: number = this.settings.get<number>(INDEXED_UP_TO) ?? (await this.build());
    for (;;) {
      const changes = this.stopped ? [] : this.changes.after(indexedUpTo, MESSAGES_PER_RUN);
      if (changes.length === 0) return;
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
  private async build(): Promise<number> {
    const indexedUpTo = this.changes.lastId();
    for (let last = 0; !this.stopped;) {
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
