import type { MessageSummary } from '@kiraku/core/contract';

/** One message as the export gives it away: a row, in the order of these fields. Empty where nothing is known. */
export interface MessageRow {
  message: number;
  /** ISO 8601, UTC. */
  sent_at: string;
  state: string;
  recipients: string;
  company: string;
  subject: string;
  opens: number;
  clicks: number;
  file_views: number;
  replies: number;
  not_counted: number;
  first_open_at: string;
  last_open_at: string;
  first_click_at: string;
  last_click_at: string;
  replied_at: string;
  tracked: boolean;
}

export function messageRow(message: MessageSummary): MessageRow {
  const { tally } = message;
  return {
    message: message.id,
    sent_at: isoOf(message.sentAt),
    state: message.state,
    recipients: message.recipients.map(({ address }) => address).join(', '),
    company: message.company,
    subject: message.subject,
    opens: tally.opens,
    clicks: tally.clicks,
    file_views: tally.fileViews,
    replies: tally.replies,
    not_counted: tally.notCounted,
    first_open_at: isoOf(tally.firstOpenAt),
    last_open_at: isoOf(tally.lastOpenAt),
    first_click_at: isoOf(tally.firstClickAt),
    last_click_at: isoOf(tally.lastClickAt),
    replied_at: isoOf(tally.repliedAt),
    tracked: message.untrackedReason === null && (message.trackOpens || message.trackClicks),
  };
}

function isoOf(at: number | null): string {
  return at === null ? '' : new Date(at).toISOString();
}
