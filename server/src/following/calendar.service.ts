import { timingSafeEqual } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import ICAL from 'ical.js';
import { conditionText, personText, reminderText } from '@kiraku/core/sentences';
import type { PlanView, ReminderView } from '@kiraku/core/contract';
import { MINUTE } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { Secrets } from '../settings/secrets.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { newToken } from '../tracking/tokens.js';
import { FollowupViews } from './followupViews.js';

const KEY = 'followups.calendar';
/** As long as a call, or writing a message, takes. */
const CALENDAR_ENTRY_MS = 15 * MINUTE;

/** Reminders and planned messages as a calendar (RFC 5545), at a secret address that can be revoked. */
@Injectable()
export class CalendarService {
  constructor(
    private readonly views: FollowupViews,
    private readonly settings: SettingsRepository,
    private readonly secrets: Secrets,
    private readonly clock: Clock,
  ) {}

  /** What the address ends with; null where there is none. */
  key(): string | null {
    const sealed = this.settings.get<string>(KEY);
    return sealed ? this.secrets.open(sealed) : null;
  }

  /** Another address; the one before is good for nothing any more. */
  renew(): string {
    const key = newToken();
    this.settings.set(KEY, this.secrets.seal(key));
    return key;
  }

  revoke(): void {
    this.settings.remove(KEY);
  }

  isKey(given: string): boolean {
    const key = Buffer.from(this.key() ?? '');
    const other = Buffer.from(given);
    return key.length > 0 && key.length === other.length && timingSafeEqual(key, other);
  }

  /** Everything that is to come, as to-dos and as events: calendar programs show one or the other. */
  feed(): string {
    const { reminders, plans } = this.views.open();
    const calendar = empty();
    for (const reminder of reminders) {
      calendar.addSubcomponent(this.todo(reminder));
      calendar.addSubcomponent(
        this.event(`reminder-${reminder.id}`, reminder.dueAt, reminderTitle(reminder), reminder.note),
      );
    }
    for (const plan of plans)
      for (const { id, dueAt, state, template, condition } of plan.steps)
        if (state === 'planned' && dueAt !== null)
          calendar.addSubcomponent(
            this.event(`step-${id}`, dueAt, `“${template}” to ${namesOf(plan)}`, conditionText(condition)),
          );
    return text(calendar);
  }

  /** One reminder, to be put into a calendar by hand. */
  one(id: number): string {
    const calendar = empty();
    const reminder = this.views.reminder(id);
    calendar.addSubcomponent(this.event(`reminder-${id}`, reminder.dueAt, reminderTitle(reminder), reminder.note));
    return text(calendar);
  }

  private todo(reminder: ReminderView): ICAL.Component {
    const todo = this.component('vtodo', `todo-${reminder.id}`, reminderTitle(reminder), reminder.note);
    todo.addPropertyWithValue('due', utc(reminder.dueAt));
    todo.addPropertyWithValue('status', 'NEEDS-ACTION');
    return todo;
  }

  private event(uid: string, at: number, summary: string, description: string): ICAL.Component {
    const event = this.component('vevent', uid, summary, description);
    event.addPropertyWithValue('dtstart', utc(at));
    event.addPropertyWithValue('dtend', utc(at + CALENDAR_ENTRY_MS));
    // It takes nobody’s time away (RFC 5545, section 3.8.2.7).
    event.addPropertyWithValue('transp', 'TRANSPARENT');
    return event;
  }

  private component(name: 'vtodo' | 'vevent', uid: string, summary: string, description: string): ICAL.Component {
    const component = new ICAL.Component(name);
    component.addPropertyWithValue('uid', `${uid}@kiraku.invalid`);
    component.addPropertyWithValue('dtstamp', utc(this.clock.now()));
    component.addPropertyWithValue('summary', summary);
    if (description !== '') component.addPropertyWithValue('description', description);
    return component;
  }
}

function empty(): ICAL.Component {
  const calendar = new ICAL.Component('vcalendar');
  calendar.addPropertyWithValue('version', '2.0');
  calendar.addPropertyWithValue('prodid', '-//Kiraku//Follow-ups//EN');
  return calendar;
}

/** Lines end with CRLF (RFC 5545, section 3.1). */
function text(calendar: ICAL.Component): string {
  return `${calendar.toString()}\r\n`;
}

function utc(at: number): ICAL.Time {
  return ICAL.Time.fromJSDate(new Date(at), true);
}

function reminderTitle({ condition, note, message, person }: ReminderView): string {
  return reminderText({ condition, note, subject: message?.subject ?? null, person })[0];
}

function namesOf({ message }: PlanView): string {
  return message.recipients.map(personText).join(', ');
}
