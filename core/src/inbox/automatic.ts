import type { ReceivedMail } from './received.js';

/** Header fields by which a program says that nobody wrote this: the standard’s, and those that came before it. */
const SIGNS: readonly [header: string, value: RegExp][] = [
  // RFC 3834, section 5: anything but “no”.
  ['auto-submitted', /^(?!no\b)./i],
  ['x-autoreply', /./],
  ['x-autorespond', /./],
  ['x-autoresponse', /./],
  ['x-auto-response-suppress', /\b(all|oof|autoreply)\b/i],
  ['precedence', /\b(bulk|junk|auto_reply|list)\b/i],
  ['list-id', /./],
  ['x-mailer', /\bvacation\b/i],
];

/** What such mails are called by programs that say nothing in their header. */
const SUBJECTS =
  /^\s*(auto(matic|mated)?[ -]?(reply|response|antwort|svar)\b|autosvar|out of (the )?office|abwesen|automatische antwort|réponse automatique|respuesta automática|risposta automatica|frånvaro|poissa|vastaus: olen poissa|on (holiday|vacation|leave)\b)/i;

/** Whether a machine gave this answer (RFC 3834), as far as its header tells. */
export function isAutomatic({ headers, subject, returnPath }: ReceivedMail): boolean {
  if (returnPath === '') return true;
  if (SIGNS.some(([name, value]) => value.test(headers.get(name) ?? ''))) return true;
  return SUBJECTS.test(subject.replace(/^(re|aw|sv|vs)\s*:\s*/i, ''));
}
