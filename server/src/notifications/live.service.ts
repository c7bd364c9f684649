import { Injectable } from '@nestjs/common';
import { interval, merge, throttleTime, asyncScheduler, type Subscription } from 'rxjs';
import type { LiveUpdate } from '@kiraku/core/contract';
import { SECOND } from '@kiraku/core/time';
import { SummariesRepository } from '../messages/summaries.repository.js';
import { Changes, type Change } from '../store/changes.js';
import { liveCursorText, parseLiveCursor, type LiveCursor } from '../store/liveCursor.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { NotificationsService, remindersOf } from './notifications.service.js';

/** Through what the windows are updated; written so that the service does not depend on HTTP. */
export interface LiveSink {
  /** False while the window does not keep up: it is updated later, and all at once. */
  isReady(): boolean;
  send(cursor: string, update: LiveUpdate): void;
}

/** Under a burst of hits, windows are updated this often: sooner than an eye can follow, and cheap. */
const LIVE_PAUSE_MS = 30;
/** More events than this since the window’s last update are not sent one by one. */
const MAX_LIVE_EVENTS = 300;
const MAX_CHANGES_PER_PUSH = 1000;
/** Looks again although nothing was announced: what a slow window could not take is sent then. */
const RECHECK_MS = 5 * SECOND;

/**
 * Tells each open window what was committed since its last update. The source is the database, not memory: a window
 * that was away names the place up to which it knows, and misses nothing, also over a restart of the server.
 */
@Injectable()
export class LiveService {
  constructor(
    private readonly events: EventsRepository,
    private readonly summaries: SummariesRepository,
    private readonly changes: Changes,
    private readonly notifications: NotificationsService,
  ) {}

  /**
   * Updates a window from a place on; from now where it names none that is known.
   *
   * @param after “eventId.changeId” as it was given to the sink
   */
  subscribe(after: string | undefined, sink: LiveSink): Subscription {
    let cursor = parseLiveCursor(after) ?? this.changes.end();
    const notify = (evenNothing = false) => {
      if (!sink.isReady()) return;
      const next = this.update(cursor);
      if (isNothing(next.update) && !evenNothing) return;
      cursor = next.cursor;
      sink.send(liveCursorText(cursor), next.update);
    };
    // At once, so that the window knows its place even if nothing has happened yet.
    notify(true);
    const announced = this.changes.announced.pipe(
      throttleTime(LIVE_PAUSE_MS, asyncScheduler, { leading: true, trailing: true }),
    );
    return merge(announced, interval(RECHECK_MS)).subscribe(() => notify());
  }

  private update(cursor: LiveCursor): { cursor: LiveCursor; update: LiveUpdate } {
    const changes = this.changes.after(cursor.changeId, MAX_CHANGES_PER_PUSH);
    const events = this.events.after(cursor.eventId, MAX_LIVE_EVENTS);
    const gap = events.length === MAX_LIVE_EVENTS || changes.length === MAX_CHANGES_PER_PUSH;
    if (gap)
      return {
        cursor: this.changes.end(),
        update: {
          events: events.slice(-1),
          notifications: [],
          corrected: [],
          messages: [],
          isReminded: true,
          draftsChanged: true,
          gap,
        },
      };
    const ids = new Set([
      ...events.map((event) => event.messageId),
      ...changes.flatMap((change) => change.messageId ?? []),
    ]);
    const corrected = this.events.byIds(
      changes.flatMap(({ eventId }) => (eventId !== null && eventId <= cursor.eventId ? eventId : [])),
    );
    return {
      cursor: { eventId: events.at(-1)?.eventId ?? cursor.eventId, changeId: changes.at(-1)?.id ?? cursor.changeId },
      update: {
        events,
        // What is found to count only now is news, too.
        notifications: [
          ...this.notifications.of([
            ...events,
            ...corrected.filter(({ counted, override }) => counted && override === null),
          ]),
          ...this.notifications.ofChanges(changes),
        ],
        corrected,
        messages: this.summaries.of([...ids]),
        isReminded: remindersOf(changes).length > 0,
        draftsChanged: changes.some(isOfDrafts),
        gap,
      },
    };
  }
}

function isOfDrafts({ messageId, reminderId, checkName }: Change): boolean {
  return messageId === null && reminderId === null && checkName === null;
}

function isNothing({ events, messages, notifications, isReminded, draftsChanged, gap }: LiveUpdate): boolean {
  return [events, messages, notifications].every(({ length }) => length === 0) && !isReminded && !draftsChanged && !gap;
}
