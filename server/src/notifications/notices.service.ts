import { Injectable } from '@nestjs/common';
import type { EventView, MissedNotices, Notice, NoticesView } from '@kiraku/core/contract';
import { noticeOf, noticeOfReminder, waysOf } from '@kiraku/core/notifications';
import { Clock } from '../clock.js';
import { FollowupsRepository } from '../followups/followups.repository.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { NoticesSettings } from './notices.settings.js';

const SEEN = 'notices.seen';
/** Of what was missed, so many events are looked at, and so many notices listed. */
const MOST_EVENTS = 400;
const MOST_MISSED = 20;

/** Says of events what is to be told of them, and keeps up to where it was seen. */
@Injectable()
export class NoticesService {
  constructor(
    private readonly events: EventsRepository,
    private readonly followups: FollowupsRepository,
    private readonly settings: NoticesSettings,
    private readonly store: SettingsRepository,
    private readonly clock: Clock,
  ) {}

  /** In the order of the events; those that are not told are left out. */
  of(events: EventView[], settings: NoticesView = this.settings.view()): Notice[] {
    const told = events.filter((event) => event.counted && event.rings);
    if (told.length === 0) return [];
    const now = this.clock.now();
    const doings = this.events.counted([...new Set(told.map(({ messageId }) => messageId))]);
    return told.flatMap((event) => {
      const before = (doings.get(event.copyId) ?? []).filter(
        ({ at, eventId }) => at < event.at || (at === event.at && eventId < event.eventId),
      );
      const notice = noticeOf(event, before);
      return notice ? { ...notice, by: waysOf(notice, settings, now) } : [];
    });
  }

  /** Of reminders that ask for something. */
  ofReminders(ids: number[], settings: NoticesView = this.settings.view()): Notice[] {
    const now = this.clock.now();
    return this.followups.told(ids).map((reminder) => {
      const notice = noticeOfReminder(reminder);
      return { ...notice, by: waysOf(notice, settings, now) };
    });
  }

  /** The last event that somebody has seen the notice of, or looked after. */
  seen(): number {
    const seen = this.store.get<number>(SEEN);
    if (seen !== undefined) return seen;
    this.store.set(SEEN, this.events.lastId());
    return this.events.lastId();
  }

  /** It never goes back: windows may tell in any order. */
  markSeen(eventId: number): void {
    if (eventId > this.seen()) this.store.set(SEEN, Math.min(eventId, this.events.lastId()));
  }

  /** What would have been told since somebody looked last, the latest of what belongs together, newest first. */
  missed(): MissedNotices {
    const { rings } = this.settings.view();
    const newest = new Map<string, Notice>();
    for (const notice of this.of(this.events.tellable(this.seen(), MOST_EVENTS))) {
      if (notice.kind !== null && rings[notice.kind].length === 0) continue;
      // One of a burst says how many there were.
      newest.delete(notice.tag);
      newest.set(notice.tag, notice);
    }
    const notices = [...newest.values()].reverse();
    return { notices: notices.slice(0, MOST_MISSED), leftOut: Math.max(0, notices.length - MOST_MISSED) };
  }
}
