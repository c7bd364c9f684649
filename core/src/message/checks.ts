import type { Mailbox } from '../contract/mailbox.js';
import type { RecipientView } from '../contract/person.js';
import { counted } from '../time/words.js';
import { domainOf } from './address.js';
import { attachmentClaim } from './attachmentClaim.js';
import { fillPlaceholders, type Known } from './placeholders.js';

/** A link as the message has it: its words, and where it leads. */
export interface CheckedLink {
  url: string;
  words: string;
}

/** What is looked at before a message goes. */
export interface CheckedMessage {
  recipients: readonly Mailbox[];
  /** What is known of them, as far as it has been asked for. */
  directory: readonly RecipientView[];
  subject: string;
  /** The body as plain text. */
  text: string;
  /** Length of the body's HTML in bytes. */
  htmlBytes: number;
  links: readonly CheckedLink[];
  /** How many pictures it shows. */
  pictures: number;
  /** How many files travel with it, as links or as an attachment. */
  files: number;
  /** What the places of a template can be filled with. */
  known: Known;
  tracked: boolean;
  /** The address of the public site, as it will stand in the mail. */
  publicUrl: string;
}

/** What can be done about it in one press. */
export type Fix =
  | { kind: 'name-link'; link: number; words: string }
  | { kind: 'fill'; words: string }
  | { kind: 'secure-link'; link: number; url: string }
  | { kind: 'address'; address: string; words: string };

export interface Advice {
  rule: string;
  /** What was seen, and why it matters. */
  words: string;
  fix: Fix | null;
}

interface Rule {
  name: string;
  check(message: CheckedMessage): Omit<Advice, 'rule'>[];
}

/** Widely used mail hosts cut the HTML of a message off at about 102 kB, and hide the rest behind a link. */
const CUT_OFF_BYTES = 102_000;
/** Fewer signs than this say nothing beside a picture. */
const FEW_WORDS = 40;
const MANY_RECIPIENTS = 25;
/** Names that never leave a test (RFC 2606, RFC 6761). */
const RESERVED = /(^|\.)(example|test|invalid|localhost)$/;
const LOOPBACK = /^(localhost|127\.|\[::1\]$|0\.0\.0\.0$)/;

const advise = (words: string, fix: Fix | null = null) => ({ words, fix });

/** Each rule advises; none forbids. In the order in which they are shown. */
export const CHECKS: readonly Rule[] = [
  {
    name: 'no-subject',
    check: ({ subject }) =>
      subject.trim() === '' ? [advise('It has no subject. Many programs show such mail last, or as spam.')] : [],
  },
  {
    name: 'no-body',
    check: ({ text, pictures }) =>
      text.trim() === '' && pictures === 0 ? [advise('There is nothing to read in it yet.')] : [],
  },
  {
    name: 'placeholder',
    check: ({ subject, text, known }) =>
      [...new Set(PLACEHOLDERS.flatMap((place) => `${subject}\n${text}`.match(place) ?? []))].map((found) => {
        const filled = fillPlaceholders(found, known);
        const fix: Fix | null = filled === found ? null : { kind: 'fill', words: filled };
        return advise(`“${found.trim()}” looks like a placeholder that was not filled in.`, fix);
      }),
  },
  {
    name: 'only-a-picture',
    check: ({ text, pictures }) =>
      pictures > 0 && text.trim().length < FEW_WORDS
        ? [advise('It is a picture with hardly any text: filters distrust it, and many see nothing at first.')]
        : [],
  },
  {
    name: 'address-as-words',
    check: ({ links, tracked }) =>
      links.flatMap(({ url, words }, link) => {
        if (!tracked || !looksLikeAddress(words)) return [];
        const name = wordsFromUrl(url);
        const reason = 'Its text is a web address: filters distrust a tracked link that leads elsewhere than it says.';
        return [advise(`“${shorten(words)}”. ${reason}`, { kind: 'name-link', link, words: name })];
      }),
  },
  {
    name: 'wordless-link',
    check: ({ links }) =>
      links.flatMap(({ url, words }, link) =>
        words === '' ? [advise('A link has no text.', { kind: 'name-link', link, words: wordsFromUrl(url) })] : [],
      ),
  },
  {
    name: 'not-a-site',
    check: ({ links }) =>
      links
        .filter(({ url }) => !isReachable(url))
        .map(({ url, words }) =>
          advise(`“${shorten(words || url)}” leads to ${shorten(url)}, which others cannot reach.`),
        ),
  },
  {
    name: 'not-secure',
    check: ({ links }) =>
      links.flatMap(({ url, words }, link) =>
        url.startsWith('http:') && isReachable(url)
          ? [
              advise(`“${shorten(words || url)}” leads to http: browsers warn of such pages.`, {
                kind: 'secure-link',
                link,
                url: url.replace(/^http:/, 'https:'),
              }),
            ]
          : [],
      ),
  },
  {
    name: 'attachment-missing',
    check: ({ text, files }) => {
      const claim = files === 0 ? attachmentClaim(text) : null;
      return claim === null ? [] : [advise(`You write “${shorten(claim)}”, and nothing is attached.`)];
    },
  },
  {
    name: 'cut-off',
    check: ({ htmlBytes }) =>
      htmlBytes > CUT_OFF_BYTES
        ? [
            advise(
              `It is ${Math.round(htmlBytes / 1000)} kB long: mail providers cut off what is over ${CUT_OFF_BYTES / 1000} kB.`,
            ),
          ]
        : [],
  },
  {
    name: 'lookalike',
    check: ({ directory }) =>
      directory.flatMap(({ address, lookalike }) =>
        lookalike === null
          ? []
          : [
              advise(`You have never written to ${address}, and know people at ${domainOf(lookalike)}.`, {
                kind: 'address',
                address,
                words: lookalike,
              }),
            ],
      ),
  },
  {
    name: 'first-time',
    check: ({ directory }) => {
      const fresh = directory.filter(({ messages, lookalike }) => messages === 0 && lookalike === null);
      if (fresh.length === 0 || !directory.some(({ messages }) => messages > 0)) return [];
      const [first, ...others] = fresh;
      const names = others.length === 0 ? first!.address : `${first!.address} and ${counted(others.length, 'other')}`;
      return [advise(`You have never written to ${names}, only to the rest.`)];
    },
  },
  {
    name: 'twice',
    check: ({ directory, recipients }) => {
      const named = recipients.map((one) => {
        const known = directory.find(({ address }) => address === one.address);
        return { address: one.address, who: known?.personId ?? null, name: one.name || known?.name || '' };
      });
      return named.flatMap((one, index) => {
        const before = named.slice(0, index).find(({ who, name }) => isSame(who, one.who) || isSame(name, one.name));
        return before
          ? [advise(`${one.name || one.address} gets it twice, at ${before.address} and ${one.address}.`)]
          : [];
      });
    },
  },
  {
    name: 'many-recipients',
    check: ({ recipients }) =>
      recipients.length > MANY_RECIPIENTS
        ? [advise(`It goes to ${counted(recipients.length, 'recipient')}: mail providers may treat it as advertising.`)]
        : [],
  },
  {
    name: 'private-public-url',
    check: ({ tracked, publicUrl, recipients }) => {
      const outside = recipients.some(({ address }) => !RESERVED.test(domainOf(address)));
      return tracked && outside && LOOPBACK.test(new URL(publicUrl).hostname)
        ? [
            advise(
              `Recipients cannot reach ${publicUrl}: nothing will be known, and tracked links will not work for them.`,
            ),
          ]
        : [];
    },
  },
];

/**
 * `{{first name}}`, `[Company]`, `XXX`, `TODO`, and a salutation whose name is missing. “Hello,” is a salutation as it
 * stands, and so are norms and marks in brackets: `[DIN]`, `[EXTERNAL]`.
 */
const PLACEHOLDERS = [
  /\{\{[^{}\n]{0,60}\}\}/gu,
  /\[(?:(?:your|their|first|last|full|insert|recipient|contact|company)[ _-][^[\]\n]{1,40}|(?:first|last)?name|company|date|time|city|title|product|amount|price|number|link|phone)\]/giu,
  /(?<![\p{L}\p{N}])(?:X{3,}|TODO)(?![\p{L}\p{N}])/gu,
  /^(?:(?:Dear|Hello|Hi)\s+,|Dear,)/gmu,
];

/** Everything that should be thought of before the message goes; empty where all is well. */
export function checkMessage(message: CheckedMessage): Advice[] {
  return CHECKS.flatMap((rule) => rule.check(message).map((advice) => ({ rule: rule.name, ...advice })));
}

/** Whether words read as a web address: “https://…”, “www.…”, “tallowreed.example/felt”. */
export function looksLikeAddress(words: string): boolean {
  const text = words.trim();
  return /^(https?:\/\/|www\.)\S+$/i.test(text) || /^[\p{L}\p{N}-]+(\.[\p{L}\p{N}-]+)+(\/\S*)?$/u.test(text);
}

/** Words for a link out of its address: the last parts of the path that say something, else whose site it is. Never an address again. */
export function wordsFromUrl(url: string): string {
  const { hostname, pathname } = new URL(url);
  const parts = decoded(pathname)
    .split('/')
    .map((part) =>
      part
        .replace(/\.(html?|php|aspx?|pdf)$/i, '')
        .replace(/[-_+.]+/g, ' ')
        .trim(),
    )
    .filter((part) => /[\p{L}\p{N}]/u.test(part) && !/^(index|home|[0-9a-f]{16,})$/i.test(part));
  if (parts.length === 0) return `the site of ${hostname.replace(/^www\./, '').split('.')[0]}`;
  const [last, ...before] = parts.slice(-3).reverse();
  return (before.length === 0 ? last! : `${before.reverse().join(', ')}: ${last}`).slice(0, 60);
}

/** Whether two are known, and the same. */
function isSame<T extends string | number | null>(one: T, other: T): boolean {
  return Boolean(one) && one === other;
}

function isReachable(url: string): boolean {
  const { hostname } = new URL(url);
  return !LOOPBACK.test(hostname) && (hostname.includes('.') || hostname.startsWith('['));
}

function decoded(path: string): string {
  try {
    return decodeURIComponent(path);
  } catch {
    return path;
  }
}

function shorten(text: string): string {
  return text.length > 60 ? `${text.slice(0, 59)}…` : text;
}
