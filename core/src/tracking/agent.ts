import { isbotMatches } from 'isbot';
import { UAParser } from 'ua-parser-js';

/** What a User-Agent header (RFC 9110, section 10.1.5) tells. Null where it does not tell. */
export interface Agent {
  device: 'phone' | 'tablet' | 'computer' | null;
  system: string | null;
  program: string | null;
  nature: AgentNature;
}

/**
 * What stands behind a User-Agent: somebody's program; a mail host's cache, which fetches when somebody reads; a mail
 * host's relay, which loads in advance for whom it does not name; a robot; or what names itself so shortly that it may be
 * either: many mail programs do when they load an image, and hand links to a browser.
 */
export type AgentNature = 'program' | 'cache' | 'relay' | 'robot' | 'unknown';

interface Known {
  pattern: RegExp;
  program: string | null;
  nature: AgentNature;
}

/** Agents that the libraries do not tell apart, most telling first. */
const KNOWN: readonly Known[] = [
  { pattern: /GoogleImageProxy|YahooMailProxy/i, program: 'a mail provider’s image cache', nature: 'cache' },
  // A bare product, without the comment in which every browser names its system.
  { pattern: /^Mozilla\/\d+\.\d+$/, program: 'a mail provider’s privacy relay', nature: 'relay' },
  // What office programs send before they hand a link to a browser.
  { pattern: /(existence|protocol) discovery/i, program: null, nature: 'robot' },
  { pattern: /\b(link|url)[ -]?(scan|check|inspect|defen[cs]e)/i, program: null, nature: 'robot' },
];

/** Programs that people read with, of which lists of robots know nothing but a short product name. */
const READERS =
  /\b(Thunderbird|Outlook|Evolution|KMail|Kontact|Claws Mail|Sylpheed|Mutt|NeoMutt|Alpine|Geary|Trojita|Lynx|w3m|ELinks|edbrowse|Dillo|NetSurf|Emacs)\b/i;
/** What a short name of something that people read with has in it. */
const READS = /mail|browser|notes|reader/i;
/** Programs that load for programs, by a short name; what loads for a mail program on a phone may be called so as well. */
const LIBRARIES =
  /^(axios|curl|deno|bun|got|guzzle|insomnia|lwp|node|perl|php|ruby|rust|scrapy|undici|wget|zgrab)\b|libwww|nmap|zmeu/i;
/** Mail programs on phones load images with it. */
const PHONE_LIBRARY = /^okhttp\b/i;
const DEVICES: Record<string, Agent['device']> = { mobile: 'phone', tablet: 'tablet' };

/** Turns a User-Agent header into words. Never throws; an empty header gives nothing but “robot”. */
export function describeAgent(userAgent: string): Agent {
  const known = KNOWN.find(({ pattern }) => pattern.test(userAgent));
  if (known) return { device: null, system: null, program: known.program, nature: known.nature };
  const reader = READERS.exec(userAgent)?.[1];
  const { browser, os, device } = new UAParser(userAgent).getResult();
  return {
    device: DEVICES[device.type ?? ''] ?? (os.name ? 'computer' : null),
    system: os.name ?? null,
    program: reader ?? browser.name ?? null,
    nature: reader ? 'program' : natureOf(userAgent),
  };
}

function natureOf(userAgent: string): AgentNature {
  if (userAgent === '' || LIBRARIES.test(userAgent)) return 'robot';
  if (PHONE_LIBRARY.test(userAgent)) return 'unknown';
  const marks = isbotMatches(userAgent);
  if (marks.length === 0) return 'program';
  // Where nothing of it stands for a robot but its being short, as a whole.
  if (marks.some((mark) => mark.length < userAgent.length)) return 'robot';
  return READS.test(userAgent) ? 'program' : 'unknown';
}
