import type { IncomingKind } from '../contract/incoming.js';
import { automaticOf } from './automatic.js';
import { calendarWords } from './calendarReply.js';
import { appointmentWords } from '../time/index.js';
import { readDeliveryStatus, type DeliveryStatus } from './deliveryStatus.js';
import { readDisposition, type DispositionReport } from './disposition.js';
import { ownWords } from './ownWords.js';
import type { ReceivedMail } from './received.js';

/** What a mail is that came in. */
export type Classified =
  | ({ kind: Extract<IncomingKind, 'dsn'> } & DeliveryStatus)
  | ({ kind: Extract<IncomingKind, 'mdn'> } & DispositionReport)
  | Reply;

/** What somebody wrote back, or a program of theirs. */
export interface Reply {
  kind: Extract<IncomingKind, 'reply' | 'automatic' | 'perhaps-automatic'>;
  /** What its writer wrote, without quote and signature. */
  words: string;
  /** Why it is perhaps automatic; null where nothing is doubtful about it. */
  doubt: string | null;
}

/** Distinguishes reports from replies, and replies from what programs reply. What it belongs to is another question. */
export function classify(mail: ReceivedMail): Classified {
  const delivery = readDeliveryStatus(mail);
  if (delivery) return { kind: 'dsn', ...delivery };
  const disposition = readDisposition(mail);
  if (disposition) return { kind: 'mdn', ...disposition };
  // Whoever pressed Accept did so themselves, whatever their calendar’s header says.
  if (mail.calendar) return { kind: 'reply', words: calendarWords(mail.calendar, whenOf), doubt: null };
  const automatic = automaticOf(mail);
  const words = shortened(ownWords(mail.text).own) || NO_OWN_WORDS;
  if (automatic.is === 'no') return { kind: 'reply', words, doubt: null };
  if (automatic.is === 'yes') return { kind: 'automatic', words, doubt: null };
  return { kind: 'perhaps-automatic', words, doubt: `It is perhaps automatic: ${automatic.why}` };
}

function whenOf({ startsAt, isAllDay }: NonNullable<ReceivedMail['calendar']>): string {
  return isAllDay ? new Date(startsAt!).toISOString().slice(0, 10) : appointmentWords(startsAt!);
}

const MAX_WORDS_CHARS = 4000;
const NO_OWN_WORDS = 'It has no words of its own: see the message.';

function shortened(words: string): string {
  return words.length > MAX_WORDS_CHARS ? `${words.slice(0, MAX_WORDS_CHARS - 1)}…` : words;
}
