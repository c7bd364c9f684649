import { bisector } from 'd3-array';
import type { HitKind } from '../activity/kinds.js';
import type { ColleagueChoice } from '../contract/judging.js';
import { HOUR, MINUTE, SECOND } from '../time/words.js';
import type { Agent } from './agent.js';
import { isInNetwork, isLoopback, type Network } from './network.js';

/** A request at the public site that named a token we gave out: the facts, as they are kept. */
export interface Hit {
  /** Grows in the order of arrival; parts hits of the same millisecond. */
  id: number;
  at: number;
  kind: HitKind;
  copyId: number;
  /** Null for all but a link. */
  linkId: number | null;
  /** The file as it was sent; null for all but a file. */
  sentFileId: number | null;
  /** IP address in text form. */
  ip: string;
  /** The network of one device that the address stands in. */
  network: string;
  userAgent: string;
  agent: Agent;
  /** GET, or one of those by which programs ask without loading: HEAD, OPTIONS (RFC 9110, section 9.3). */
  method: string;
  /** Value of `Sec-Purpose` or `Purpose`; empty where neither was sent. */
  purpose: string;
  /** It carried the mark of a browser that the sender had named as theirs. */
  ownDevice: boolean;
  /** It carried `DNT: 1` or `Sec-GPC: 1`. */
  dnt: boolean;
  /** It came from a network of machines in a data centre. */
  hosted: boolean;
  /** Somebody was seen to act there afterwards: to scroll, to press, to type. Known of files alone. */
  active: boolean;
}

/** One recipient’s copy, as far as it matters here. */
export interface JudgedCopy {
  /** When it was accepted by the outgoing mail server; null while that is not known. */
  sentAt: number | null;
  /** Its recipient has an address of the sender’s own domain. */
  colleague: boolean;
}

/** What hits of one message are judged with, besides each other. */
export interface Situation {
  copies: ReadonlyMap<number, JudgedCopy>;
  ownNetworks: readonly Network[];
  colleagues: ColleagueChoice;
  /** Whether readers who ask by header not to be tracked are not counted. */
  respectDnt: boolean;
  /** After this age of a copy, activity is not counted; null where it never ends. */
  trackForMs: number | null;
  /** After this age, opens count but do not notify; null where they always do. */
  notifyForMs: number | null;
}

export interface Verdict {
  counted: boolean;
  /** Name of the rule by which it is not counted; null where it counts. */
  reason: string | null;
  /** Whether it is to be notified at once. What is not counted never is. */
  notifies: boolean;
}

/** Hits of one message that came over the same network, in the order of their times. */
type Company = readonly Hit[];

/** Everything of one message that came over one network, with what decides whether a closer look can show anything. */
interface Group {
  hits: Hit[];
  copies: number;
  links: number;
}

interface View {
  hit: Hit;
  /** What came over its network. */
  group: Group;
  /** What came of its copy, over whatever network. */
  ofCopy: readonly Hit[];
  situation: Situation;
  /** Time since the copy was sent; null while that is not known. */
  ageMs: number | null;
}

interface Rule {
  name: string;
  /** Why it does not count, as the page says it. */
  words: string;
  /** The evidence: what of the hit it goes by, as the page says it. */
  evidence: string;
  source: string;
  /** It is a guess, which is dropped where somebody was seen to act. */
  guess?: true;
  applies(view: View): boolean;
}

/** Sooner than this nobody reads; and a link is not followed sooner than `click`, unless its reader was seen to open. */
const TOO_SOON_MS = { any: 2 * SECOND, click: 4 * SECOND };
/** So many different links of one copy within so short a time are not pressed by hand. */
const MANY_LINKS = [
  { links: 2, withinMs: 700 },
  { links: 3, withinMs: 2 * SECOND },
  { links: 5, withinMs: 10 * SECOND },
];
/** In a data centre a filter may take its time; who reads there by their company’s proxy presses a link, or two. */
const MANY_LINKS_HOSTED = [...MANY_LINKS, { links: 3, withinMs: MINUTE }];
/** Links over several networks of data centres within this time: a filter that changes its address. */
const ROTATING_MS = 10 * SECOND;
/** Sooner after sending than this, copies that come together are opened by a filter; later, by people of one office. */
const BURST_AGE_MS = 10 * SECOND;
/** So many recipients’ copies over one network within so short a time are not opened by their recipients. */
const BURSTS = [
  { copies: 2, withinMs: 2 * SECOND, sameAgent: false },
  { copies: 3, withinMs: 10 * SECOND, sameAgent: true },
];
/** Of one office, who open a message that was just spoken of: some seconds apart, or with programs of their own. */
const OFFICE_BURSTS = [{ copies: 3, withinMs: 1500, sameAgent: true }];
/** Relays load in advance within about an hour of delivery; later, somebody is behind it. */
const RELAY_PREFETCH_MS = HOUR;
const REPEAT_MS: Record<HitKind, number> = {
  opened: MINUTE,
  // A page that is slow to come is pressed for again.
  clicked: 30 * SECOND,
  file_viewed: 5 * SECOND,
  downloaded: 5 * SECOND,
};
/** Around a hit, this is the same moment. */
const COMPANY_MS = 10 * SECOND;
/** Farther from each other than this, no two hits are seen together; a repeat looks at what another one saw. */
export const REACH_MS = MINUTE;

/**
 * By the first rule that applies the hit is not counted; a hit that no rule applies to counts. `repeat` comes last and looks at
 * what the others said, so it stands apart.
 */
const FIRST_RULES: readonly Rule[] = [
  {
    name: 'own-device',
    words: 'your own browser or network',
    evidence: 'your own browsers and networks, as you named them',
    source: 'named in the settings',
    applies: ({ hit, situation }) => hit.ownDevice || isInNetwork(hit.ip, situation.ownNetworks),
  },
  {
    name: 'colleague',
    words: 'a colleague: the address is at your own domain',
    evidence: 'the recipient’s address',
    source: 'chosen in the settings',
    applies: ({ hit, situation }) =>
      situation.colleagues === 'not-counted' && situation.copies.get(hit.copyId)?.colleague === true,
  },
  {
    name: 'late',
    words: 'it came after the time for which you count',
    evidence: 'the time since sending',
    source: 'chosen in the settings',
    applies: ({ ageMs, situation: { trackForMs } }) => trackForMs !== null && ageMs !== null && ageMs > trackForMs,
  },
  {
    name: 'dnt',
    words: 'the browser asks not to be tracked',
    evidence: 'the headers DNT and Sec-GPC',
    source: 'W3C Tracking Preference Expression, section 5; Global Privacy Control, section 3',
    applies: ({ hit, situation }) => situation.respectDnt && hit.dnt,
  },
  {
    name: 'not-get',
    words: 'a program only checked whether it is there',
    evidence: 'the method of the request',
    source: 'RFC 9110, sections 9.3.2 and 9.3.7',
    applies: ({ hit }) => hit.method !== 'GET',
  },
  {
    name: 'prefetch',
    words: 'a browser loaded it in advance',
    evidence: 'the headers Sec-Purpose and Purpose',
    source: 'WICG, Speculative loading, “Sec-Purpose”',
    applies: ({ hit }) => /prefetch|prerender|preview/i.test(hit.purpose),
  },
  {
    name: 'robot',
    words: 'a program that loads every message or page',
    evidence: 'the header User-Agent',
    source: 'RFC 9110, section 10.1.5, against the list of the isbot package',
    applies: ({ hit: { agent, kind } }) =>
      agent.nature === 'robot' || (kind !== 'opened' && agent.nature !== 'program'),
  },
  {
    name: 'too-soon',
    words: 'too soon after sending for a person: a filter on the way',
    evidence: 'the time since sending, and for a link whether the message was opened before',
    source: 'delivery itself takes about as long',
    guess: true,
    applies: (view) => isTooSoon(view),
  },
  {
    name: 'image-proxy',
    words: 'a mail provider loaded the image in advance, within an hour of sending',
    evidence: 'the header User-Agent, and the time since sending',
    source: 'mail providers that hide their users’ addresses fetch images at delivery',
    guess: true,
    applies: ({ hit, ageMs }) => hit.agent.nature === 'relay' && ageMs !== null && ageMs < RELAY_PREFETCH_MS,
  },
  {
    name: 'data-centre',
    words: 'a security filter in a data centre followed the link',
    evidence: 'the network’s owner, the time since sending, and what else came over it',
    source: 'security filters run in data centres; people seldom read there',
    guess: true,
    applies: ({ hit, ageMs, group }) =>
      hit.kind !== 'opened' && hit.hosted && ageMs !== null && ageMs < HOUR && !isOpenedBefore(hit, group),
  },
  {
    name: 'shadow',
    words: 'a security filter followed a link that a person follows',
    evidence: 'the network’s owner, and who followed the same link within a minute',
    source: 'filters look at a link at the moment in which it is followed',
    guess: true,
    applies: isShadow,
  },
  {
    name: 'many-links',
    words: 'a security filter followed several links at once',
    evidence: 'the other links clicked around the same time, and the owners of their networks',
    source: 'nobody presses that fast, or from several networks at once',
    guess: true,
    applies: followsManyLinks,
  },
  {
    name: 'burst',
    words: 'a filter opened the copies of several recipients at once',
    evidence: 'the other copies opened from the same network, its owner, and the time since sending',
    source: 'filters look at all copies at delivery; people of one office open the message, and press a link then',
    guess: true,
    applies: isInBurst,
  },
];

const REPEAT = {
  name: 'repeat',
  words: 'the same reader again within moments',
  evidence: 'what the same network and program did just before',
  source: 'programs load an image again when a window is resized or a message is shown twice',
};

/** Not among what is judged: whoever records it knows it from how much has come. */
export const FLOOD = {
  name: 'flood',
  words: 'more requests at once than a person makes',
  evidence: 'how often the same network came',
  source: 'so that one visitor cannot fill the history',
};

export const AUTOMATIC_REPLY = {
  name: 'automatic-reply',
  words: 'an automatic reply',
  evidence: 'what its header says about who wrote it',
  source: 'RFC 3834, section 5',
};

export const PERHAPS_AUTOMATIC = {
  name: 'perhaps-automatic',
  words: 'perhaps an automatic reply: it counts once you confirm it',
  evidence: 'what its header and its first words say',
  source: 'RFC 3834, section 5, and how programs word an absence',
};

export const OVERRIDDEN = {
  name: 'override',
  words: 'you decided so',
  evidence: 'your own decision, which stands over every rule',
  source: 'chosen on the message’s page',
};

/** The verdict on the pages of a reading, by that on its opening: a mere repeat of it was a reading all the same. */
export function verdictOfPages({ counted, reason }: Omit<Verdict, 'notifies'>): Omit<Verdict, 'notifies'> {
  return reason === REPEAT.name ? { counted: true, reason: null } : { counted, reason };
}

/** Every reason why a hit is not counted, in the order in which they are tried. */
export const REASONS: readonly Omit<Rule, 'applies'>[] = [
  ...FIRST_RULES,
  REPEAT,
  FLOOD,
  OVERRIDDEN,
  AUTOMATIC_REPLY,
  PERHAPS_AUTOMATIC,
];

/** What is said of a reason; undefined where a rule has gone since. */
export function reasonOf(name: string): Omit<Rule, 'applies'> | undefined {
  return REASONS.find((reason) => reason.name === name);
}

/**
 * Judges hits of one message in each other’s company. Pure: the same hits in the same situation always get the same
 * verdicts, in whichever order they are given.
 *
 * A verdict depends on no hit farther away than twice `REACH_MS`, so that a part of a history can be judged by
 * itself where both its ends are at least so quiet.
 *
 * @returns the verdicts in the order of the hits given
 */
export function judge(hits: readonly Hit[], situation: Situation): Verdict[] {
  const ordered = [...hits].sort(byArrival);
  const copies = groupBy(ordered, (hit) => hit.copyId);
  const groups = new Map<string, Group>();
  for (const [network, ofNetwork] of groupBy(ordered, (hit) => hit.network)) groups.set(network, groupOf(ofNetwork));
  const reasons = new Map<Hit, string | null>();
  for (const hit of ordered) {
    const sentAt = situation.copies.get(hit.copyId)?.sentAt ?? null;
    const group = groups.get(hit.network)!;
    const ofCopy = copies.get(hit.copyId)!;
    const view = { hit, group, ofCopy, situation, ageMs: sentAt === null ? null : hit.at - sentAt };
    const rule = FIRST_RULES.find(({ guess, applies }) => !(guess && hit.active) && applies(view));
    reasons.set(hit, rule?.name ?? null);
  }
  for (const hits of groupBy(ordered, readerAndTarget).values()) markRepeats(hits, reasons);
  return hits.map((hit) => verdictOf(hit, reasons.get(hit)!, situation));
}

function verdictOf(hit: Hit, reason: string | null, { copies, colleagues, notifyForMs }: Situation): Verdict {
  if (reason !== null) return { counted: false, reason, notifies: false };
  const copy = copies.get(hit.copyId);
  const isQuiet = colleagues === 'muted' && copy?.colleague === true;
  const isOld =
    notifyForMs !== null && copy !== undefined && copy.sentAt !== null && hit.at - copy.sentAt > notifyForMs;
  return { counted: true, reason: null, notifies: !isQuiet && !isOld };
}

/** Hits of one reader on one target: those that follow a hit of theirs closely, whether or not that one counts. */
function markRepeats(hits: readonly Hit[], reasons: Map<Hit, string | null>): void {
  let previous: Hit | undefined;
  for (const hit of hits) {
    if (reasons.get(hit) !== null) continue;
    if (previous && hit.at - previous.at < REPEAT_MS[hit.kind]) reasons.set(hit, REPEAT.name);
    previous = hit;
  }
}

/** A cache’s own addresses say nothing about who reads: its hits on a copy are one reader’s. */
function readerAndTarget(hit: Hit): string {
  const { agent, network, userAgent, copyId, kind } = hit;
  return [agent.nature === 'cache' ? '' : network, userAgent, copyId, kind, pressedOf(hit) ?? ''].join('\n');
}

function isTooSoon({ hit, group, ageMs }: View): boolean {
  // A hit before the sending was noted is of the same moment; much earlier, it cannot be judged.
  if (ageMs === null || ageMs < -MINUTE) return false;
  if (ageMs < TOO_SOON_MS.any) return true;
  if (hit.kind === 'opened' || ageMs >= TOO_SOON_MS.click) return false;
  const opensFrom = hit.at - ageMs + TOO_SOON_MS.any;
  return !companyOf(hit, group).some(
    ({ kind, copyId, at }) => kind === 'opened' && copyId === hit.copyId && at >= opensFrom && at <= hit.at,
  );
}

/** Whether the message was opened over the same network, in the minute before. */
function isOpenedBefore(hit: Hit, { hits }: Group): boolean {
  return around(hit, hits, REACH_MS).some(
    ({ kind, copyId, at }) => kind === 'opened' && copyId === hit.copyId && at <= hit.at,
  );
}

/** Somebody follows the same link, and not from a data centre. */
function isShadow({ hit, ofCopy }: View): boolean {
  const pressed = pressedOf(hit);
  if (!hit.hosted || pressed === null) return false;
  return around(hit, ofCopy, REACH_MS).some(
    (other) => !other.hosted && pressedOf(other) === pressed && other.agent.nature === 'program',
  );
}

/** Another link of the copy is followed from another data centre in the same moment. */
function isRotating(hit: Hit, ofCopy: Company): boolean {
  const pressed = pressedOf(hit);
  if (!hit.hosted || pressed === null) return false;
  return around(hit, ofCopy, ROTATING_MS).some(
    (other) => other.hosted && other.network !== hit.network && ![null, pressed].includes(pressedOf(other)),
  );
}

/** The image that is loaded along with a scan belongs to it. */
function followsManyLinks({ hit, group, ofCopy }: View): boolean {
  const isSeen = ({ kind }: Hit) => kind !== 'opened' || hit.kind === 'opened';
  const isOneOf = (hits: Company, links: number, withinMs: number) =>
    isWithinBurst(hit, hits, withinMs, (burst) => countDistinct(burst, pressedOf) >= links);
  if (isRotating(hit, ofCopy)) return true;
  if (group.links < MANY_LINKS[0]!.links) return false;
  const [bounds, reach] = hit.hosted ? [MANY_LINKS_HOSTED, REACH_MS] : [MANY_LINKS, COMPANY_MS];
  const company = around(hit, group.hits, reach).filter((other) => other.copyId === hit.copyId && isSeen(other));
  return bounds.some(({ links, withinMs }) => isOneOf(company, links, withinMs));
}

function isInBurst({ hit, group, ageMs }: View): boolean {
  // A cache asks over one network for everybody who reads at its host; and so does, seemingly, a proxy in front of the
  // site that was not named.
  if (group.copies < BURSTS[0]!.copies || hit.agent.nature === 'cache' || isLoopback(hit.network)) return false;
  const isOffice = !hit.hosted && ageMs !== null && ageMs >= BURST_AGE_MS;
  const mayBePeople = isOffice && (hit.kind === 'opened' || isOpenedBefore(hit, group));
  const others = companyOf(hit, group).filter(({ agent }) => agent.nature !== 'cache');
  return (mayBePeople ? OFFICE_BURSTS : BURSTS).some(({ copies, withinMs, sameAgent }) => {
    const alike = sameAgent ? others.filter(({ userAgent }) => userAgent === hit.userAgent) : others;
    return isWithinBurst(hit, alike, withinMs, (burst) => countDistinct(burst, ({ copyId }) => copyId) >= copies);
  });
}

/** Whether some stretch of time that the hit lies in holds enough of the others. */
function isWithinBurst(
  hit: Hit,
  others: Company,
  withinMs: number,
  isEnough: (burst: readonly Hit[]) => boolean,
): boolean {
  return others.some(
    ({ at }) =>
      at <= hit.at &&
      hit.at - at < withinMs &&
      isEnough(others.filter((other) => other.at >= at && other.at - at < withinMs)),
  );
}

/** What was pressed to come: a link, or a file; null for the image. */
function pressedOf({ linkId, sentFileId }: Hit): number | null {
  return linkId ?? (sentFileId === null ? null : -sentFileId);
}

function countDistinct(hits: readonly Hit[], of: (hit: Hit) => number | null): number {
  return new Set(hits.map(of).filter((value) => value !== null)).size;
}

const byTime = bisector((hit: Hit) => hit.at);

/** What came over the same network around the same time. */
function companyOf(hit: Hit, { hits }: Group): Company {
  return around(hit, hits, COMPANY_MS);
}

/** @param hits in the order of their times */
function around({ at }: Hit, hits: readonly Hit[], withinMs: number): Company {
  return hits.slice(byTime.left(hits, at - withinMs), byTime.right(hits, at + withinMs));
}

function byArrival(a: Hit, b: Hit): number {
  return a.at - b.at || a.id - b.id;
}

function groupOf(hits: Hit[]): Group {
  return {
    hits,
    copies: countDistinct(hits, ({ copyId }) => copyId),
    links: countDistinct(hits, pressedOf),
  };
}

function groupBy<K>(hits: readonly Hit[], keyOf: (hit: Hit) => K): Map<K, Hit[]> {
  const groups = new Map<K, Hit[]>();
  for (const hit of hits) {
    const key = keyOf(hit);
    const group = groups.get(key);
    if (group) group.push(hit);
    else groups.set(key, [hit]);
  }
  return groups;
}
