import type { WordsByLanguage } from './anyOf.js';

/** What a calendar says of an invitation (RFC 5546, section 3.2.3), read out of its part of the mail. */
export interface CalendarReply {
  /** RFC 5545, section 3.2.12. */
  status: CalendarStatus;
  /** What it is about; empty where it says nothing. */
  summary: string;
  /** When that begins; null where it is not said. */
  startsAt: number | null;
  /** Whether it takes the whole day: then only the day of `startsAt`, in UTC, counts. */
  isAllDay: boolean;
  /** What its writer adds; empty for nothing. */
  comment: string;
}

export type CalendarStatus = 'accepted' | 'declined' | 'tentative' | 'delegated' | 'counter';

/** What calendars put before a subject, by language (BCP 47) and in lower case. */
export const CALENDAR_PREFIXES: WordsByLanguage = {
  cs: ['přijato', 'odmítnuto', 'nezávazně'],
  da: ['accepteret', 'afslået', 'foreløbig'],
  de: ['zugesagt', 'angenommen', 'abgesagt', 'abgelehnt', 'mit vorbehalt', 'vorläufig'],
  en: [
    'accepted',
    'declined',
    'tentative',
    'tentatively accepted',
    'invitation',
    'updated invitation',
    'new time proposed',
  ],
  es: ['aceptada', 'aceptado', 'rechazada', 'rechazado', 'provisional'],
  fi: ['hyväksytty', 'hylätty', 'alustava'],
  fr: ['accepté', 'acceptée', 'refusé', 'refusée', 'provisoire'],
  it: ['accettato', 'accettata', 'rifiutato', 'rifiutata', 'provvisorio'],
  ja: ['承諾', '辞退', '仮承諾', '承諾済み'],
  ko: ['수락됨', '거절됨', '미정'],
  nb: ['godtatt', 'avslått', 'foreløpig'],
  nl: ['geaccepteerd', 'geweigerd', 'voorlopig', 'afgewezen'],
  pl: ['zaakceptowano', 'odrzucono', 'wstępnie'],
  pt: ['aceite', 'aceito', 'recusado', 'provisório'],
  ru: ['принято', 'отклонено', 'под вопросом'],
  sv: ['accepterat', 'avböjt', 'preliminärt'],
  tr: ['kabul edildi', 'reddedildi', 'kesin değil'],
  zh: ['已接受', '已拒绝', '已拒絕', '暂定', '暫定'],
};

const STATUS_WORDS: Record<CalendarStatus, string> = {
  accepted: 'Accepted',
  declined: 'Declined',
  tentative: 'Accepted tentatively',
  delegated: 'Passed on to somebody else',
  counter: 'Proposed another time',
};

/**
 * A calendar reply in one sentence.
 *
 * @param when the time of a calendar reply in the user’s words
 * @example 'Accepted: Sample panels, 3 March 2026 10:00. “See you there”'
 */
export function calendarWords(reply: CalendarReply, when: (reply: CalendarReply) => string): string {
  const about = [reply.summary, reply.startsAt === null ? '' : when(reply)].filter(Boolean).join(', ');
  const said = reply.comment === '' ? '' : ` “${reply.comment}”`;
  return `${STATUS_WORDS[reply.status]}${about === '' ? '' : `: ${about}`}.${said}`;
}
