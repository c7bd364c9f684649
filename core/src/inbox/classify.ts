import type { IncomingKind } from '../contract/incoming.js';
import { isAutomatic } from './automatic.js';
import { readDeliveryStatus, type DeliveryStatus } from './deliveryStatus.js';
import { readDisposition, type DispositionReport } from './disposition.js';
import type { ReceivedMail } from './received.js';

/** What a mail is that came in. */
export type Classified =
  | ({ kind: Extract<IncomingKind, 'delivery'> } & DeliveryStatus)
  | ({ kind: Extract<IncomingKind, 'receipt'> } & DispositionReport)
  | { kind: Extract<IncomingKind, 'answer' | 'automatic'>; words: string };

/** Tells reports from answers, and answers from what machines answer. What it belongs to is another question. */
export function classify(mail: ReceivedMail): Classified {
  const delivery = readDeliveryStatus(mail);
  if (delivery) return { kind: 'delivery', ...delivery };
  const disposition = readDisposition(mail);
  if (disposition) return { kind: 'receipt', ...disposition };
  return { kind: isAutomatic(mail) ? 'automatic' : 'answer', words: firstWords(mail.text) };
}

const MOST_WORDS = 240;
/** Where what was written ends and what is quoted begins, as programs of many languages mark it. */
const QUOTE_BEGINS =
  /^(>|-{2,}\s*(original|ursprüngliche|forwarded|weitergeleitete|message d'origine)|_{10,}|(from|von|de|från|lähettäjä):\s.*@|.{0,200}(?<!\p{L})(wrote|schrieb|écrit|skrev|kirjoitti|escribió|ha scritto)(?!\p{L}).{0,80}:\s*$)/imu;

/** How an answer begins, without what it quotes. */
export function firstWords(text: string): string {
  const begins = QUOTE_BEGINS.exec(text)?.index ?? text.length;
  const own = text.slice(0, begins).replace(/\s+/g, ' ').trim();
  const words = own === '' ? text.replace(/\s+/g, ' ').trim() : own;
  return words.length > MOST_WORDS ? `${words.slice(0, MOST_WORDS - 1)}…` : words;
}
