import { Injectable } from '@nestjs/common';
import ICAL from 'ical.js';
import { CALENDAR_TITLES, conditionText, personText, reminderText } from '@kiraku/core/sentences';
import type { PlanView, ReminderView } from '@kiraku/core/contract';
import { MINUTE } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { FollowupViews } from './followupViews.js';

/** As long as a call, or writing a message, takes. */
const CALENDAR_ENTRY_MS = 15 * MINUTE;

/** Reminders and planned messages as a calendar (RFC 5545), for whoever subscribes to them. */
@Injectable()
export class CalendarService {
  constructor(
    private readonly views: FollowupViews,
    private readonly clock: Clock,
  ) {}

  /**
   * Everything that is to come, as to-dos and as events: calendar programs show one or the other.
   *
   * @param withNames whether it says of whom and of what it is, and not only when
   */
  feed(withNames = true): string {
    const { reminders, plans } = this.views.open();
    const calendar = empty();
    for (const reminder of reminders) {
      const [title, note] = withNames ? [reminderTitle(reminder), reminder.note] : [CALENDAR_TITLES.reminder, ''];
      calendar.addSubcomponent(this.todo(reminder, title, note));
      calendar.addSubcomponent(this.event(`reminder-${reminder.id}`, reminder.dueAt, title, note));
    }
    for (const plan of plans)
      for (const { id, dueAt, state, template, condition } of plan.steps) {
        if (state !== 'planned' || dueAt === null) continue;
        const named = [`“${template}” to ${namesOf(plan)}`, conditionText(condition)] as const;
        const [title, note] = withNames ? named : [CALENDAR_TITLES.followup, ''];
        calendar.addSubcomponent(this.event(`step-${id}`, dueAt, title, note));
      }
    return text(calendar);
  }

  /** One reminder, to be put into a calendar by hand. */
  one(id: number): string {
    const calendar = empty();
    const reminder = this.views.reminder(id);
    calendar.addSubcomponent(this.event(`reminder-${id}`, reminder.dueAt, reminderTitle(reminder), reminder.note));
    return text(calendar);
  }

  private todo({ id, dueAt }: ReminderView, title: string, note: string): ICAL.Component {
    const todo = this.component('vtodo', `todo-${id}`, title, note);
    todo.addPropertyWithValue('due', utc(dueAt));
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
