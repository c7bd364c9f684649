import { Injectable } from '@nestjs/common';
import type {
  CheckName,
  EventView,
  MissedNotifications,
  NotificationView,
  NotificationSettingsView,
} from '@kiraku/core/contract';
import { notificationOf, notificationOfReminder, channelsOf } from '@kiraku/core/notifications';
import { checkNotification } from '@kiraku/core/sentences';
import { Clock } from '../environment/clock.js';
import { FollowupsRepository } from '../followups/followups.repository.js';
import { ChecksRepository } from '../settings/checks.repository.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { Changes, type Change } from '../store/changes.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { NotificationsSettings } from './notifications.settings.js';

const SEEN = 'notifications.seen';
/** Of what was missed, so many events are looked at, and so many notifications listed. */
const MAX_MISSED_EVENTS = 400;
const MAX_MISSED_SHOWN = 20;

/** Says which notifications events make, and keeps up to where it was seen. */
@Injectable()
export class NotificationsService {
  constructor(
    private readonly events: EventsRepository,
    private readonly followups: FollowupsRepository,
    private readonly checks: ChecksRepository,
    private readonly settings: NotificationsSettings,
    private readonly store: SettingsRepository,
    private readonly changes: Changes,
    private readonly clock: Clock,
  ) {}

  /** In the order of the events; those that do not notify are left out. */
  of(events: EventView[], settings: NotificationSettingsView = this.settings.view()): NotificationView[] {
    const notified = events.filter((event) => event.counted && event.notifies);
    if (notified.length === 0) return [];
    const now = this.clock.now();
    const activity = this.events.counted([...new Set(notified.map(({ messageId }) => messageId))]);
    return notified.flatMap((event) => {
      const before = (activity.get(event.copyId) ?? []).filter(
        ({ at, eventId }) => at < event.at || (at === event.at && eventId < event.eventId),
      );
      const notification = notificationOf(event, before);
      return notification ? { ...notification, by: channelsOf(notification, settings, now) } : [];
    });
  }

  private ofReminders(ids: number[], settings: NotificationSettingsView): NotificationView[] {
    const now = this.clock.now();
    return this.followups.notified(ids).map((reminder) => {
      const notification = notificationOfReminder(reminder);
      return { ...notification, by: channelsOf(notification, settings, now) };
    });
  }

  /** Of what has changed besides events: reminders that ask for something, and checks that fail. */
  ofChanges(changes: readonly Change[], settings: NotificationSettingsView = this.settings.view()): NotificationView[] {
    return [
      ...this.ofReminders(remindersOf(changes), settings),
      ...this.ofChecks(new Set(changes.flatMap(({ checkName }) => checkName ?? [])), settings),
    ];
  }

  private ofChecks(names: ReadonlySet<CheckName>, settings: NotificationSettingsView): NotificationView[] {
    if (names.size === 0) return [];
    const now = this.clock.now();
    const failing = this.checks.all().filter(({ name, state }) => names.has(name) && state === 'failing');
    return failing.map((check) => {
      const notification = checkNotification(check);
      return { ...notification, by: channelsOf(notification, settings, now) };
    });
  }

  /** The last event that somebody has seen the notification of, or looked after. */
  seen(): number {
    const seen = this.store.get<number>(SEEN);
    if (seen !== undefined) return seen;
    this.store.set(SEEN, this.changes.lastEventId());
    return this.changes.lastEventId();
  }

  /** It never goes back: windows may tell in any order. */
  markSeen(eventId: number): void {
    if (eventId > this.seen()) this.store.set(SEEN, Math.min(eventId, this.changes.lastEventId()));
  }

  /** What would have notified since somebody was here last, the latest of what belongs together, newest first. */
  missed(): MissedNotifications {
    const { channels } = this.settings.view();
    const newest = new Map<string, NotificationView>();
    for (const notification of this.of(this.events.notifiable(this.seen(), MAX_MISSED_EVENTS))) {
      if (notification.kind !== null && channels[notification.kind].length === 0) continue;
      // One of a burst says how many there were.
      newest.delete(notification.tag);
      newest.set(notification.tag, notification);
    }
    const notifications = [...newest.values()].reverse();
    return {
      notifications: notifications.slice(0, MAX_MISSED_SHOWN),
      leftOut: Math.max(0, notifications.length - MAX_MISSED_SHOWN),
    };
  }
}

/** The reminders among what has changed. */
export function remindersOf(changes: readonly Change[]): number[] {
  return changes.flatMap(({ reminderId }) => reminderId ?? []);
}
