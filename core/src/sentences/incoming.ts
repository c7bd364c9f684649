import type { IncomingVerdict, MailboxFailure, MailboxView } from '../contract/index.js';
import { counted, whenWords } from '../time/words.js';
import { isolated } from './words.js';

/** What is only probable of a reply, or what was decided about it. `doubt` is the reason, as a sentence without its stop. */
export function doubtSentence(doubt: string, verdict: IncomingVerdict | null): string {
  if (verdict === 'confirmed') return 'You said that it is a reply.';
  if (verdict === 'rejected') return 'You said that it is no reply to this message. It is not counted.';
  return `${doubt}. Follow-ups wait until you say whether it is a reply.`;
}

/** When the mailbox was read last. */
export function mailboxCheckedSentence({ seenAt }: Pick<MailboxView['state'], 'seenAt'>, now: number): string {
  return seenAt === null ? 'Not checked yet.' : `Checked ${whenWords(seenAt, now)}.`;
}

/** Which mail could not be read: “Offer, from marit@lindqvist.example, in INBOX”. */
export function unreadMailText({ subject, fromAddress, folder }: MailboxFailure): string {
  return `${isolated(subject || 'No subject')}, from ${fromAddress || 'an unknown sender'}, in ${folder}`;
}

/** Why a mail could not be read, and how often that was tried. */
export function unreadMailProblem({ problem, attempts, lastAttemptAt }: MailboxFailure, now: number): string {
  return `${problem}. Tried ${counted(attempts, 'time')}, last ${whenWords(lastAttemptAt, now)}.`;
}
