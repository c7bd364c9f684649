import type { MessageSummary } from '@kiraku/core/contract';

/** One message as the export gives it away: a row, in the order of these fields. Empty where nothing is known. */
export interface MessageRow {
  message: number;
  /** ISO 8601, UTC. */
  sent_at: string;
  state: string;
  recipients: string;
  firm: string;
  subject: string;
  opens: number;
  clicks: number;
  file_views: number;
  answers: number;
  set_aside: number;
  first_open_at: string;
  last_open_at: string;
  first_click_at: string;
  last_click_at: string;
  answered_at: string;
  tracked: boolean;
}

export function messageRow(message: MessageSummary): MessageRow {
  const { tally } = message;
  return {
    message: message.id,
    sent_at: isoOf(message.sentAt),
    state: message.state,
    recipients: message.recipients.map(({ address }) => address).join(', '),
    firm: message.firm,
    subject: message.subject,
    opens: tally.opens,
    clicks: tally.clicks,
    file_views: tally.fileViews,
    answers: tally.answers,
    set_aside: tally.setAside,
    first_open_at: isoOf(tally.firstOpenAt),
    last_open_at: isoOf(tally.lastOpenAt),
    first_click_at: isoOf(tally.firstClickAt),
    last_click_at: isoOf(tally.lastClickAt),
    answered_at: isoOf(tally.answeredAt),
    tracked: message.untracked === null && (message.trackOpens || message.trackLinks),
  };
}

function isoOf(at: number | null): string {
  return at === null ? '' : new Date(at).toISOString();
}
