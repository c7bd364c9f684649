/** Why a mail did not arrive, as far as one can act on it. */
export type Failing =
  | 'address-unknown'
  | 'domain-unknown'
  | 'mailbox-full'
  | 'mailbox-closed'
  | 'too-large'
  | 'refused-as-spam'
  | 'refused'
  | 'not-reached'
  | 'loop'
  | 'other';

const SENTENCES: Record<Failing, string> = {
  'address-unknown': 'There is no such address. Check the spelling, or whether they have left',
  'domain-unknown': 'There is no such mail domain. Check the spelling',
  'mailbox-full': 'Their mailbox is full. Try again later, or call',
  'mailbox-closed': 'Their mailbox accepts no more mail',
  'too-large': 'It is too large for their mail server. Send its files as links',
  'refused-as-spam': 'Their mail server took it for spam. Write it more personally, or with fewer links, or call',
  refused: 'Their mail server rejected it',
  'not-reached': 'Their mail server could not be reached',
  loop: 'Their mail server sends it in a loop',
  other: 'It could not be delivered',
};

/** By the code that servers agree on (RFC 3463 and its registry, RFC 5248); the first that fits stands. */
const BY_CODE: readonly [pattern: RegExp, failing: Failing][] = [
  [/^[45]\.1\.[136]$|^[45]\.1\.10$/, 'address-unknown'],
  [/^[45]\.1\.2$|^[45]\.4\.4$/, 'domain-unknown'],
  [/^[45]\.2\.2$/, 'mailbox-full'],
  [/^[45]\.2\.1$/, 'mailbox-closed'],
  [/^[45]\.2\.3$|^[45]\.3\.4$/, 'too-large'],
  [/^[45]\.7\.(1|7|26|27|28)$/, 'refused-as-spam'],
  [/^[45]\.4\.6$/, 'loop'],
  [/^[45]\.4\.\d+$/, 'not-reached'],
  [/^[45]\.7\.\d+$/, 'refused'],
];

/** By what servers say in words, where the code says nothing or too little. */
const BY_WORDS: readonly [pattern: RegExp, failing: Failing][] = [
  [
    /(user|mailbox|address|recipient|account)\b.{0,40}\b(unknown|not found|does(n.t| not) exist|invalid|not exist|unavailable)|unknown (user|recipient|address)|no such (user|mailbox|recipient|address|person)|no mailbox|not our customer/i,
    'address-unknown',
  ],
  [/(host|domain)( name)?\b.{0,30}\b(not found|unknown|does(n.t| not) exist)|NXDOMAIN/i, 'domain-unknown'],
  [/(mailbox|quota|inbox).{0,30}(full|exceeded|over)|over ?quota|exceeded.{0,30}quota/i, 'mailbox-full'],
  [/(account|mailbox)\b.{0,30}\b(disabled|inactive|closed|suspended)/i, 'mailbox-closed'],
  [/(too large|size (limit )?exceed|exceeds.{0,30}size)/i, 'too-large'],
  [/spam|unsolicited|block(ed |list)|reputation|policy|DMARC|content rejected/i, 'refused-as-spam'],
  [/timed? ?out|connection refused|could not be reached|no route|unreachable|try again later/i, 'not-reached'],
];

/** `code` of RFC 3463, such as “5.1.1”; empty where there was none. `said`: the server’s own words. */
export function failingOf(code: string, said: string): Failing {
  const byCode = BY_CODE.find(([pattern]) => pattern.test(code))?.[1];
  // “Refused” and “other” are what a server says that says no more: its words may tell.
  if (byCode && byCode !== 'refused') return byCode;
  return BY_WORDS.find(([pattern]) => pattern.test(said))?.[1] ?? byCode ?? 'other';
}

/** What happened in a sentence, with the server’s own words. */
export function failingWords(failing: Failing, said: string): string {
  const words = said.replace(/\s+/g, ' ').trim().slice(0, MAX_DIAGNOSTIC_CHARS);
  return words === '' ? `${SENTENCES[failing]}.` : `${SENTENCES[failing]}. Their server said: “${words}”`;
}

const MAX_DIAGNOSTIC_CHARS = 300;

/** The first code of RFC 3463 in a text. */
export function codeIn(text: string): string {
  return /\b[245]\.\d{1,3}\.\d{1,3}\b/.exec(text)?.[0] ?? '';
}
