import type { EventView } from '@kiraku/core/contract';

/** One event as the export gives it away: a row, in the order of these fields. Empty where nothing is known. */
export interface EventRow {
  event_id: number;
  /** ISO 8601, UTC. */
  at: string;
  kind: string;
  counted: boolean;
  reason: string;
  /** Message-ID of the copy (RFC 5322). */
  message_id: string;
  subject: string;
  recipient: string;
  link_text: string;
  link_url: string;
  file_name: string;
  page: number | '';
  seconds: number | '';
  ip: string;
  user_agent: string;
  device: string;
  system: string;
  program: string;
  place: string;
}

export function eventRow(event: EventView): EventRow {
  return {
    event_id: event.eventId,
    at: new Date(event.at).toISOString(),
    kind: event.kind,
    counted: event.counted,
    reason: event.reason ?? '',
    message_id: event.messageIdHeader,
    subject: event.subject,
    recipient: event.recipient.address,
    link_text: event.linkId === null ? '' : (event.label ?? ''),
    link_url: event.linkUrl ?? '',
    file_name: event.sentFileId === null ? '' : (event.label ?? ''),
    page: event.page ?? '',
    seconds: event.readMs === null ? '' : event.readMs / 1000,
    ip: event.ip ?? '',
    user_agent: event.userAgent ?? '',
    device: event.device ?? '',
    system: event.system ?? '',
    program: event.program ?? '',
    place: event.place ?? '',
  };
}
