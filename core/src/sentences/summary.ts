import { isOf } from '../activity/kinds.js';
import type { EventKind, TrailEvent } from '../contract/event.js';
import type { ReminderView } from '../contract/followup.js';
import type { MessageSummary } from '../contract/message.js';
import type { RateName, ReportView } from '../contract/report.js';
import type { RoundRow } from '../contract/round.js';
import type { SummaryLine, SummaryPart, SummaryView } from '../contract/summary.js';
import type { Proposal } from '../contract/today.js';
import { escapeHtml } from '../message/placeholders.js';
import { capital, counted, dateWords, appointmentWords, DAY } from '../time/words.js';
import { reminderText } from './followup.js';
import { noSignText } from './list.js';
import { changeSentence, RATE_LABELS, rateSentence } from './report.js';
import { roundText } from './round.js';
import { joined, peopleText, personText, quoted, times } from './words.js';

/** The headings of a summary, and what stands below what it cuts short. */
export const SUMMARY_TEXTS = {
  contact: 'Contact next',
  due: 'Due',
  activity: (from: number, to: number, zone: string) => `Since ${whenOf(from, to, zone)}`,
  noSign: 'No sign of reading',
  rounds: 'Rounds under way',
  rates: 'The last 30 days',
  more: (left: number) => `And ${left} more`,
};

/** “3 people to contact, 1 reminder due, activity on 5 messages”. */
export function summaryTitle(contact: number, due: number, active: number): string {
  const parts = [
    contact > 0 && `${counted(contact, 'person', 'people')} to contact`,
    due > 0 && `${counted(due, 'reminder')} due`,
    active > 0 && `activity on ${counted(active, 'message')}`,
  ];
  return capital(joined(parts, ', ')) || 'Nothing to do, and nothing new';
}

/** Somebody to contact, and the strongest reason. */
export function contactLine({ person, message, parts }: Proposal): SummaryLine {
  return {
    text: joined([personText(person), person.company], ', '),
    detail: `${parts[0]!.words}: ${quoted(message.subject || 'No subject')}`,
    path: `/sent/${message.id}`,
  };
}

/** A reminder that is due, or will be today. */
export function dueLine(
  { condition, note, message, person, dueAt }: ReminderView,
  now: number,
  zone: string,
): SummaryLine {
  const [title, more] = reminderText({ condition, note, subject: message?.subject ?? null, person });
  const when = dueAt <= now ? `Due since ${appointmentWords(dueAt, zone)}` : `Due ${appointmentWords(dueAt, zone)}`;
  return {
    text: title,
    detail: joined([when, more], '. '),
    path: message ? `/sent/${message.id}` : '/followups',
  };
}

/** A round that is under way, and how far it has come. */
export function roundLine({ id, name, replied, ...round }: RoundRow): SummaryLine {
  const parts = [roundText(round), replied > 0 && `${replied} replied`, round.state === 'paused' && 'paused'];
  return { text: name, detail: joined(parts, ' · '), path: `/rounds/${id}` };
}

/** What has happened to one message: “Opened 3 times, clicked once, replied once”. */
export function activityLine(message: MessageSummary, events: readonly TrailEvent[]): SummaryLine {
  const done = ACTIVITY_VERBS.flatMap(([kind, verb]) => {
    const count = events.filter((event) => event.kind === kind).length;
    return count === 0 ? [] : [times(verb, count)];
  });
  return {
    text: `${quoted(message.subject || 'No subject')} to ${peopleText(message.recipients, 'nobody')}`,
    detail: capital(done.join(', ')),
    path: `/sent/${message.id}`,
  };
}

/** In the order of what they say. */
const ACTIVITY_VERBS: readonly (readonly [EventKind, string])[] = [
  ['replied', 'replied'],
  ['clicked', 'clicked'],
  ['file_viewed', 'file viewed'],
  ['downloaded', 'downloaded'],
  ['opened', 'opened'],
];

/** Whether a summary speaks of an event. */
export function isInSummary({ kind, counted: isCounted }: TrailEvent): boolean {
  return isCounted && (isOf('activity', kind) || kind === 'replied');
}

/** How many messages show no sign; no line where there is none. */
export function noSignLine(total: number, path: string): SummaryLine[] {
  return total === 0 ? [] : [{ text: noSignText(total), detail: 'They may have been read all the same.', path }];
}

/** One share, with its interval and what it was before; no line where there is nothing to count. */
export function rateLine(name: RateName, report: ReportView, path: string): SummaryLine[] {
  const { before } = report;
  if (report[name].share === null) return [];
  const change = before ? changeSentence(before[name], before.changes[name]) : '';
  return [{ text: `${RATE_LABELS[name]}: ${rateSentence(report[name])}`, detail: change, path }];
}

/**
 * A summary as it is emailed to the user: nothing in it is tracked.
 *
 * @param deskUrl where Kiraku is opened, without a slash at its end
 */
export function summaryEmail(
  { title, parts }: SummaryView,
  deskUrl: string,
): { subject: string; text: string; html: string } {
  const linesOf = ({ lines, more }: SummaryPart) => (more ? [...lines, more] : lines);
  const text = parts.map((one) =>
    [
      one.title,
      ...linesOf(one).map(({ text: line, detail, path }) =>
        joined([`- ${line}`, detail && `  ${detail}`, `  ${deskUrl}${path}`], '\n'),
      ),
    ].join('\n\n'),
  );
  const html = parts.map(
    (one) =>
      `<h2 style="font-size:17px;margin:24px 0 8px">${escapeHtml(one.title)}</h2>\n<ul>\n${linesOf(one)
        .map((line) => itemOf(line, deskUrl))
        .join('\n')}\n</ul>`,
  );
  return {
    subject: `Summary: ${title}`,
    text: [`${title}.`, ...text, `All of it: ${deskUrl}/summary`].join('\n\n') + '\n',
    html: [
      '<div style="font-family:sans-serif;font-size:15px;line-height:1.5">',
      `<p>${escapeHtml(title)}.</p>`,
      ...html,
      `<p><a href="${escapeHtml(`${deskUrl}/summary`)}">Open the summary in Kiraku</a></p>`,
      '</div>',
    ].join('\n'),
  };
}

function itemOf({ text, detail, path }: SummaryLine, deskUrl: string): string {
  const link = `<a href="${escapeHtml(deskUrl + path)}">${escapeHtml(text)}</a>`;
  return `<li>${link}${detail === '' ? '' : `<br>${escapeHtml(detail)}`}</li>`;
}

function whenOf(at: number, now: number, zone: string): string {
  return now - at <= DAY ? appointmentWords(at, zone) : dateWords(at, now, zone);
}
