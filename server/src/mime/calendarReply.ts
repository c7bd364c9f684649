import ICAL from 'ical.js';
import type { CalendarReply, CalendarStatus } from '@kiraku/core/incoming';

const MAX_CALENDAR_FIELD_CHARS = 300;
const STATUSES: Readonly<Record<string, CalendarStatus>> = {
  ACCEPTED: 'accepted',
  DECLINED: 'declined',
  TENTATIVE: 'tentative',
  DELEGATED: 'delegated',
};

/**
 * Reads what a calendar says of an invitation (RFC 5546, sections 3.2.3 and 3.2.7; RFC 5545).
 *
 * @returns null for a calendar that is no reply, and for what is no calendar
 */
export function readCalendarReply(bytes: Buffer | undefined): CalendarReply | null {
  if (!bytes) return null;
  try {
    const calendar = new ICAL.Component(ICAL.parse(bytes.toString('utf8')) as string | unknown[]);
    const method = textOf(calendar.getFirstPropertyValue('method')).toUpperCase();
    const event = calendar.getFirstSubcomponent('vevent');
    if (!event || (method !== 'REPLY' && method !== 'COUNTER')) return null;
    const replied = event.getFirstProperty('attendee')?.getFirstParameter('partstat').toUpperCase() ?? '';
    const status = method === 'COUNTER' ? 'counter' : STATUSES[replied];
    if (!status) return null;
    const start = event.getFirstPropertyValue('dtstart');
    const startsAt = start instanceof ICAL.Time ? start.toUnixTime() * 1000 : null;
    return {
      status,
      summary: textOf(event.getFirstPropertyValue('summary')),
      startsAt: startsAt !== null && Number.isFinite(startsAt) ? startsAt : null,
      isAllDay: start instanceof ICAL.Time && start.isDate,
      comment: textOf(event.getFirstPropertyValue('comment')),
    };
  } catch {
    return null;
  }
}

function textOf(value: unknown): string {
  return typeof value === 'string' ? value.replace(/\s+/g, ' ').trim().slice(0, MAX_CALENDAR_FIELD_CHARS) : '';
}
