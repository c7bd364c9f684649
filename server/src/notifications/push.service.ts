import { Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import webpush from 'web-push';
import type { NotificationView, PushDevice } from '@kiraku/core/contract';
import { manyText } from '@kiraku/core/sentences';
import { HOUR, SECOND } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { invalid } from '../http/problem.js';
import { Changes } from '../store/changes.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { Works } from '../work/works.js';
import { NotificationsService } from './notifications.service.js';
import { PushRepository, type PushDeviceRow } from './push.repository.js';
import { Vapid } from './vapid.js';

const MAX_PUSH_DEVICES = 20;
/** So many at once notify one by one; more notify as one. */
const MAX_PARALLEL_PUSHES = 3;
const MAX_EVENTS_PER_PUSH = 100;
const PUSH_PAUSE_MS = SECOND;
const PUSH_TIMEOUT_MS = 10 * SECOND;
/** A push service that does not reach the device within this time lets it be (RFC 8030, section 5.2). */
const TTL_SECONDS = HOUR / SECOND;
/** RFC 8030, section 7.3, and what services answer in practice: the browser is not there any more. */
const GONE = new Set([404, 410]);

/** What the service worker gets. */
export interface PushMessage {
  title: string;
  detail: string;
  tag: string;
  path: string;
}

/**
 * Notifies browsers in which no window of Kiraku is open, by their push services: RFC 8030, encrypted for the browser
 * (RFC 8291), signed with a key of this desk’s (VAPID, RFC 8292). What is missed while the desk is off is not notified late.
 */
@Injectable()
export class PushService implements OnApplicationBootstrap {
  private readonly logger = new Logger(PushService.name);
  private notifiedUpTo = 0;
  private changedUpTo = 0;

  constructor(
    private readonly devices: PushRepository,
    private readonly events: EventsRepository,
    private readonly notifications: NotificationsService,
    private readonly vapid: Vapid,
    private readonly changes: Changes,
    private readonly clock: Clock,
    works: Works,
  ) {
    works.add({ name: 'push notifications', commitPauseMs: PUSH_PAUSE_MS, run: () => this.notify() });
  }

  onApplicationBootstrap(): void {
    this.notifiedUpTo = this.changes.lastEventId();
    this.changedUpTo = this.changes.lastId();
  }

  view(): PushDevice[] {
    return this.devices.all().map(({ id, name, createdAt, notifiedAt }) => ({ id, name, createdAt, notifiedAt }));
  }

  add(device: Pick<PushDeviceRow, 'name' | 'endpoint' | 'p256dh' | 'auth'>): number {
    const known = this.devices.all();
    if (known.length >= MAX_PUSH_DEVICES && !known.some(({ endpoint }) => endpoint === device.endpoint))
      throw invalid(`There are ${MAX_PUSH_DEVICES} devices already. Remove one that you do not use any more.`);
    return this.devices.save({ ...device, createdAt: this.clock.now() });
  }

  remove(id: number): boolean {
    return this.devices.remove(id);
  }

  /** Tells one device that it works. Resolves to what went wrong, or null. */
  async trial(id: number): Promise<string | null> {
    const device = this.devices.all().find((one) => one.id === id);
    if (!device) return 'There is no such device.';
    return this.send(device, {
      title: 'Notifications work on this device',
      detail: 'A test from Kiraku',
      tag: 'trial',
      path: '/today',
    });
  }

  private async notify(): Promise<null> {
    const devices = this.devices.all();
    const events = devices.length === 0 ? [] : this.events.after(this.notifiedUpTo, MAX_EVENTS_PER_PUSH);
    this.notifiedUpTo =
      events.length > 0 && events.length < MAX_EVENTS_PER_PUSH ? events.at(-1)!.eventId : this.changes.lastEventId();
    const changes = devices.length === 0 ? [] : this.changes.after(this.changedUpTo, MAX_EVENTS_PER_PUSH);
    this.changedUpTo = this.changes.lastId();
    const notifications = [...this.notifications.of(events), ...this.notifications.ofChanges(changes)];
    const messages = messagesOf(notifications.filter(({ by }) => by.includes('push')));
    await Promise.all(devices.flatMap((device) => messages.map((message) => this.send(device, message))));
    return null;
  }

  private async send(device: PushDeviceRow, message: PushMessage): Promise<string | null> {
    const { endpoint, p256dh, auth } = device;
    try {
      const request = webpush.generateRequestDetails({ endpoint, keys: { p256dh, auth } }, JSON.stringify(message), {
        vapidDetails: this.vapid.details(),
        TTL: TTL_SECONDS,
        urgency: 'high',
      });
      const { status } = await fetch(endpoint, {
        method: 'POST',
        headers: request.headers as Record<string, string>,
        body: new Uint8Array(request.body!),
        redirect: 'error',
        signal: AbortSignal.timeout(PUSH_TIMEOUT_MS),
      });
      if (status < 300) {
        this.devices.notified(device.id, this.clock.now());
        return null;
      }
      if (GONE.has(status)) this.devices.remove(device.id);
      return `Its push service returned ${status}.`;
    } catch (error) {
      this.logger.warn(`Device ${device.id} could not be notified: ${String(error)}`);
      return 'Its push service could not be reached.';
    }
  }
}

/** The latest of what belongs together; of very many, that there were many. */
function messagesOf(notifications: NotificationView[]): PushMessage[] {
  const latest = [...new Map(notifications.map((notification) => [notification.tag, notification])).values()];
  if (latest.length > MAX_PARALLEL_PUSHES)
    return [{ title: manyText(latest.length), detail: latest.at(-1)!.title, tag: 'many', path: '/sent' }];
  return latest.map(({ title, detail, tag, path }) => ({ title, detail, tag, path }));
}
