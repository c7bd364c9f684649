import type { TrailEvent } from '../contract/event.js';
import type { ReminderView } from '../contract/followup.js';
import type { MessageSummary } from '../contract/message.js';
import type { ReportView } from '../contract/report.js';
import { RATES } from '../contract/report.js';
import type { RoundRow } from '../contract/round.js';
import type { SummaryLine, SummaryPart, SummaryView } from '../contract/summary.js';
import type { TodayView } from '../contract/today.js';
import { REPORT_VIEW, reportEntriesOf } from '../reports/view.js';
import { entriesOf, NO_SIGN_VIEW } from '../sent/view.js';
import {
  activityLine,
  contactLine,
  dueLine,
  noSignLine,
  rateLine,
  roundLine,
  SUMMARY_TEXTS,
  summaryTitle,
} from '../sentences/summary.js';

/** What a summary is made of. */
export interface SummarySource {
  /** Since when, and until when, in epoch milliseconds. */
  from: number;
  to: number;
  /** IANA name of the zone of its times. */
  zone: string;
  today: TodayView;
  /** Those that are due, or will be before the day is over; the earliest first. */
  reminders: readonly ReminderView[];
  /** Messages that something happened to, the latest first, with what it was; not all of them where there are many. */
  active: readonly { message: MessageSummary; events: readonly TrailEvent[] }[];
  activeTotal: number;
  /** Rounds of which something waits; the newest first. */
  rounds: readonly RoundRow[];
  report: ReportView;
}

/** The same period as the report that the line leads to. */
export const SUMMARY_REPORT_VIEW = { ...REPORT_VIEW, sent: '30-days' };
const REPORT_PATH = `/reports?${new URLSearchParams(reportEntriesOf(SUMMARY_REPORT_VIEW))}`;
const NO_SIGN_PATH = `/sent?${new URLSearchParams(entriesOf(NO_SIGN_VIEW))}`;

/** More lines than these nobody reads. */
export const MAX_SUMMARY_LINES = 10;

/**
 * What the user should know: whom to contact and why, what is due, what has happened, what shows no sign, how it is going.
 * Parts without a line are left out.
 */
export function summaryOf(source: SummarySource): SummaryView {
  const { from, to, zone, today, reminders, active, activeTotal, rounds, report } = source;
  const contact = today.proposals.map((proposal) => contactLine(proposal));
  const due = reminders.map((reminder) => dueLine(reminder, to, zone));
  const activity = active.map(({ message, events }) => activityLine(message, events));
  const title = summaryTitle(contact.length + today.more, due.length, activeTotal);
  return {
    from,
    to,
    title,
    isEmpty: contact.length + due.length + activity.length === 0,
    parts: [
      part(SUMMARY_TEXTS.contact, contact, contact.length + today.more, '/today'),
      part(SUMMARY_TEXTS.due, due, due.length, '/followups'),
      part(SUMMARY_TEXTS.activity(from, to, zone), activity, activeTotal, '/sent'),
      part(SUMMARY_TEXTS.noSign, noSignLine(today.noSignTotal, NO_SIGN_PATH), 1, NO_SIGN_PATH),
      part(SUMMARY_TEXTS.rounds, rounds.map(roundLine), rounds.length, '/rounds'),
      part(
        SUMMARY_TEXTS.rates,
        report.messages === 0 ? [] : RATES.flatMap((name) => rateLine(name, report, REPORT_PATH)),
        0,
        REPORT_PATH,
      ),
    ].filter(({ lines }) => lines.length > 0),
  };
}

/** @param total how many there are, the lines among them */
function part(title: string, lines: SummaryLine[], total: number, path: string): SummaryPart {
  const shown = lines.slice(0, MAX_SUMMARY_LINES);
  const left = total - shown.length;
  return { title, lines: shown, more: left > 0 ? { text: SUMMARY_TEXTS.more(left), detail: '', path } : null };
}
