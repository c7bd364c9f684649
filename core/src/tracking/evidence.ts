import { HOUR, MINUTE, SECOND } from '../time/words.js';
import type { Reason } from './facts.js';
import { pressedOf, type Hit, type Situation } from './hit.js';
import { isLoopback } from './network.js';
import { takenFor } from './networkMemory.js';
import { COPY_REACH_MS, NETWORK_REACH_MS, type Surroundings } from './surroundings.js';

/** A hit with what is looked at around it. */
export interface View {
  hit: Hit;
  situation: Situation;
  surroundings: Surroundings;
  /** Time since the copy was sent; null while that is not known. */
  ageMs: number | null;
  /** It came from a data centre over which, as far as the user has said, no people read. */
  hosted: boolean;
  /** What came over its network within {@link NETWORK_REACH_MS}, of all copies. */
  overNetwork: readonly Hit[];
  /** What of that is of its own copy. */
  here: readonly Hit[];
  /** How many different links and files were followed there, that to the page to opt out among them in a data centre. */
  followed: number;
  /** That one was. */
  optOutAsked: boolean;
  /** The message was opened over this network before the link was followed, and not in the same instant. */
  openedFirst: boolean;
}

/** Something that speaks for a person, or for a machine. How much it weighs is in `WEIGHTS`. */
export interface Evidence extends Reason {
  speaksFor: 'person' | 'machine';
  applies(view: View): boolean;
}

/** Sooner than this nobody reads; and a link is not followed sooner than `click`, unless its reader was seen to open. */
const TOO_SOON_MS = { any: 2 * SECOND, click: 4 * SECOND };
/** Until so long after sending, filters look at most of what they look at. */
const AT_DELIVERY_MS = 30 * SECOND;
/** Nobody follows a link sooner after the image was loaded. */
const READS_FOR_MS = 1500;
/** So many different links of one copy within so short a time are not pressed by hand. */
const MANY_LINKS = [
  { number: 2, withinMs: 700 },
  { number: 3, withinMs: 2 * SECOND },
  { number: 5, withinMs: 10 * SECOND },
];
/** Nor these in a data centre, where nobody was seen to read. */
const MANY_LINKS_UNREAD = [...MANY_LINKS, { number: 2, withinMs: 2 * SECOND }];
/** Around a hit, this is the same moment. */
export const MOMENT_MS = 10 * SECOND;
/** So many links over one network of a data centre are a filter’s, however slowly it goes. */
const LINKS_OF_A_FILTER = 3;
/** A filter follows the link that a person follows from a moment before until a minute after. */
const SHADOW_MS = { before: 15 * SECOND, after: COPY_REACH_MS };
/** So many recipients’ copies over one network within so short a time are not opened by their recipients. */
const BURSTS = [
  { number: 2, withinMs: 2 * SECOND, sameAgent: false },
  { number: 3, withinMs: 10 * SECOND, sameAgent: true },
];
/** Later in an office, not even that is people’s: they are some seconds apart, or have programs of their own. */
const OFFICE_BURSTS = [{ number: 3, withinMs: SECOND, sameAgent: true }];
/** Sooner after sending than this, copies that come together are opened by a filter; later, by people of one office. */
const OFFICE_AGE_MS = 10 * SECOND;

/** In the order in which the page shows it. What a piece of evidence is called is kept with events: a name stays. */
export const EVIDENCE = [
  {
    name: 'acted',
    speaksFor: 'person',
    words: 'somebody scrolled, pressed or typed there',
    evidence: 'what a reader does in the viewer of files',
    source: 'programs that look at files do not act in them',
    applies: ({ hit }) => hit.active,
  },
  {
    name: 'ordinary-network',
    speaksFor: 'person',
    words: 'it came over an ordinary connection',
    evidence: 'the network’s owner',
    source: 'homes, offices and phones are where people read',
    applies: ({ hosted }) => !hosted,
  },
  {
    name: 'opened-first',
    speaksFor: 'person',
    words: 'the message was opened there before the link was followed',
    evidence: 'the image, loaded over the same network in the ten minutes before',
    source: 'people read first, and then press; filters seldom load the image',
    applies: ({ openedFirst }) => openedFirst,
  },
  {
    name: 'after-delivery',
    speaksFor: 'person',
    words: 'it came later than filters mostly come',
    evidence: 'the time since sending',
    source: 'filters look at most messages at delivery',
    applies: ({ ageMs }) => ageMs === null || ageMs >= AT_DELIVERY_MS,
  },
  {
    name: 'people-network',
    speaksFor: 'person',
    words: 'people were seen to read over this network',
    evidence: 'what is remembered of the network',
    source: 'other messages, and other times',
    applies: ({ hit, situation }) => takenFor(situation.networkFrom(hit)) === 'people',
  },
  {
    name: 'too-soon',
    speaksFor: 'machine',
    words: 'too soon after sending for a person: a filter on the way',
    evidence: 'the time since sending, and for a link whether the message was opened before',
    source: 'delivery itself takes about as long',
    applies: isTooSoon,
  },
  {
    name: 'at-delivery',
    speaksFor: 'machine',
    words: 'a data centre asked for it within half a minute of sending',
    evidence: 'the network’s owner, and the time since sending',
    source:
      'filters look at most messages at delivery; mail providers’ caches are left out, since a reader may wait for it',
    applies: ({ hit, hosted, ageMs }) =>
      hosted && hit.agent.nature !== 'cache' && ageMs !== null && ageMs < AT_DELIVERY_MS,
  },
  {
    name: 'image-proxy',
    speaksFor: 'machine',
    words: 'a mail provider loaded the image in advance, within an hour of sending',
    evidence: 'the header User-Agent, and the time since sending',
    source: 'mail providers that hide their users’ addresses fetch images at delivery',
    applies: (view) => view.hit.agent.nature === 'relay' && isWithinTheHour(view),
  },
  {
    name: 'data-centre',
    speaksFor: 'machine',
    words: 'a security filter in a data centre followed the link',
    evidence: 'the network’s owner, the time since sending, and whether the message was opened over it before',
    source: 'security filters run in data centres, and have mostly looked within the hour',
    applies: (view) => isUnreadLinkInDataCentre(view) && isWithinTheHour(view),
  },
  {
    name: 'data-centre-later',
    speaksFor: 'machine',
    words: 'the link was followed in a data centre, where the message was not opened',
    evidence: 'the network’s owner, and whether the message was opened over it before',
    source: 'people read there as well, behind a proxy of their company, with images blocked',
    applies: (view) => isUnreadLinkInDataCentre(view) && !isWithinTheHour(view),
  },
  {
    name: 'shadow',
    speaksFor: 'machine',
    words: 'a security filter followed a link that a person follows',
    evidence: 'the network’s owner, and who followed the same link around the same time',
    source: 'filters look at a link at the moment in which it is followed',
    applies: isShadow,
  },
  {
    name: 'many-links',
    speaksFor: 'machine',
    words: 'a security filter followed several links at once',
    evidence: 'the other links followed around the same time',
    source: 'nobody presses that fast',
    applies: followsManyAtOnce,
  },
  {
    name: 'several-networks',
    speaksFor: 'machine',
    words: 'a security filter followed several links over several networks at once',
    evidence: 'the other links followed around the same time, and the owners of their networks',
    source: 'filters change their addresses; nobody reads at several data centres at once',
    applies: isRotating,
  },
  {
    name: 'links-in-turn',
    speaksFor: 'machine',
    words: 'a security filter in a data centre followed the links one after the other',
    evidence: 'how many of the copy’s links were followed over the same network within ten minutes',
    source: 'who reads over their company’s proxy presses a link, or two',
    applies: ({ hosted, followed }) => hosted && followed >= LINKS_OF_A_FILTER,
  },
  {
    name: 'every-link',
    speaksFor: 'machine',
    words: 'a security filter in a data centre followed every link of the message',
    evidence: 'the share of the copy’s links that were followed over the same network within ten minutes',
    source: 'people follow what they came for; filters leave none out, also not that to the page to opt out',
    applies: ({ hosted, followed, optOutAsked, situation: { links } }) =>
      hosted && followed >= 2 && followed >= (links ?? Infinity) + Number(optOutAsked),
  },
  {
    name: 'links-in-order',
    speaksFor: 'machine',
    words: 'links were followed in a data centre in the order in which they stand',
    evidence: 'the order of the links followed over the same network within ten minutes',
    source: 'people begin with what interests them',
    applies: ({ hosted, here }) => hosted && isInOrder(here),
  },
  {
    name: 'opt-out-page',
    speaksFor: 'machine',
    words: 'the page to opt out was asked for as well, in a data centre',
    evidence: 'what was asked for over the same network within ten minutes',
    source: 'filters follow every link, the one at the end too; hardly anybody looks at that page by the way',
    applies: ({ optOutAsked }) => optOutAsked,
  },
  {
    name: 'burst',
    speaksFor: 'machine',
    words: 'a filter opened the copies of several recipients at once',
    evidence: 'the other copies opened from the same network, its owner, and the time since sending',
    source: 'filters look at all copies at delivery; people of one office open the message, and press a link then',
    applies: isInBurst,
  },
  {
    name: 'no-browser',
    speaksFor: 'machine',
    words: 'what followed the link names no browser',
    evidence: 'the header User-Agent',
    source: 'mail programs hand links to a browser, and load only images themselves',
    applies: ({ hit }) => hit.kind !== 'opened' && hit.agent.nature !== 'program',
  },
  {
    name: 'filter-network',
    speaksFor: 'machine',
    words: 'its network behaved like a security filter before',
    evidence: 'what is remembered of the network, and outside data centres whether the message was opened there before',
    source: 'other messages, and other times; an office reads over the address that its own filter has',
    applies: ({ hit, hosted, openedFirst, situation }) =>
      takenFor(situation.networkFrom(hit)) === 'filter' && (hosted || (hit.kind !== 'opened' && !openedFirst)),
  },
] as const satisfies readonly Evidence[];

export type EvidenceName = (typeof EVIDENCE)[number]['name'];
/** Evidence that is remembered rather than seen: it teaches nothing. */
export const REMEMBERED: ReadonlySet<string> = new Set<EvidenceName>(['people-network', 'filter-network']);

/** What is looked at around a hit. */
export function viewOf(hit: Hit, situation: Situation, surroundings: Surroundings): View {
  const sentAt = situation.copies.get(hit.copyId)?.sentAt ?? null;
  const overNetwork = surroundings.overNetwork(hit, NETWORK_REACH_MS);
  const here = overNetwork.filter(({ copyId }) => copyId === hit.copyId);
  const hosted = isHosted(hit, situation);
  const optOutAsked = hosted && situation.optOutAsked(hit);
  return {
    hit,
    situation,
    surroundings,
    ageMs: sentAt === null ? null : hit.at - sentAt,
    hosted,
    overNetwork,
    here,
    followed: (here.length > 1 ? countDistinct(here) : Number(pressedOf(hit) !== null)) + Number(optOutAsked),
    optOutAsked,
    openedFirst: hit.kind !== 'opened' && here.some(({ kind, at }) => kind === 'opened' && at <= hit.at - READS_FOR_MS),
  };
}

function isHosted(hit: Hit, { networkFrom }: Situation): boolean {
  return hit.hosted && networkFrom(hit).namedAs !== 'people';
}

/** Relays load in advance, and filters look, within about an hour of delivery; later, somebody is behind it. */
function isWithinTheHour({ ageMs }: View): boolean {
  return ageMs !== null && ageMs < HOUR;
}

function isUnreadLinkInDataCentre({ hit, hosted, openedFirst }: View): boolean {
  return hosted && hit.kind !== 'opened' && !openedFirst;
}

function isTooSoon({ hit, here, ageMs }: View): boolean {
  // A hit before the sending was noted is of the same moment; much earlier, it cannot be judged.
  if (ageMs === null || ageMs < -MINUTE) return false;
  if (ageMs < TOO_SOON_MS.any) return true;
  if (hit.kind === 'opened' || ageMs >= TOO_SOON_MS.click) return false;
  const opensFrom = hit.at - ageMs + TOO_SOON_MS.any;
  return !here.some(({ kind, at }) => kind === 'opened' && at >= opensFrom && at <= hit.at);
}

/** Somebody follows the same link over another network, and nothing was opened over this one. */
function isShadow({ hit, hosted, surroundings, openedFirst }: View): boolean {
  const pressed = pressedOf(hit);
  if (!hosted || pressed === null || openedFirst) return false;
  return surroundings
    .ofCopy(hit, SHADOW_MS.after, SHADOW_MS.before)
    .some((other) => other.network !== hit.network && pressedOf(other) === pressed && other.agent.nature === 'program');
}

/** Another link of the copy is followed from another data centre in the same moment. The image may come along. */
function isRotating({ hit, hosted, situation, surroundings }: View): boolean {
  if (!hosted) return false;
  const pressed = pressedOf(hit);
  const others = surroundings
    .ofCopy(hit, MOMENT_MS)
    .filter(
      (other) =>
        other.network !== hit.network && ![null, pressed].includes(pressedOf(other)) && isHosted(other, situation),
    );
  return others.length > 0 && (pressed !== null || countDistinct(others) > 1);
}

/** The image that is loaded along with a scan belongs to it. */
function followsManyAtOnce(view: View): boolean {
  const { hit, here, followed } = view;
  if (followed < MANY_LINKS[0]!.number) return false;
  const near = here.filter(({ at }) => Math.abs(at - hit.at) <= MOMENT_MS);
  if (near.length < MANY_LINKS[0]!.number) return false;
  const company = hit.kind === 'opened' ? near : near.filter(({ kind }) => kind !== 'opened');
  const bounds = isUnreadLinkInDataCentre(view) ? MANY_LINKS_UNREAD : MANY_LINKS;
  return bounds.some((burst) => isWithin(burst, hit, company, pressedOf));
}

function isInBurst({ hit, hosted, overNetwork, here, ageMs, openedFirst }: View): boolean {
  // A cache asks over one network for everybody who reads at its host; and so does, seemingly, a proxy in front of the
  // site that was not named.
  if (overNetwork.length === here.length || hit.agent.nature === 'cache' || isLoopback(hit.network)) return false;
  const isOffice = !hosted && (ageMs === null || ageMs >= OFFICE_AGE_MS);
  // Of one office, who open a message that was just spoken of, and then press a link.
  const mayBePeople = isOffice && (hit.kind === 'opened' || openedFirst);
  const others = overNetwork.filter(({ agent, at }) => agent.nature !== 'cache' && Math.abs(at - hit.at) <= MOMENT_MS);
  return (mayBePeople ? OFFICE_BURSTS : BURSTS).some((burst) => {
    const alike = burst.sameAgent ? others.filter(({ userAgent }) => userAgent === hit.userAgent) : others;
    return isWithin(burst, hit, alike, ({ copyId }) => copyId);
  });
}

/** Whether some stretch of time that the hit lies in holds so many different ones. */
function isWithin(
  { number, withinMs }: { number: number; withinMs: number },
  hit: Hit,
  company: readonly Hit[],
  of: (hit: Hit) => number | null,
): boolean {
  return company.some((first, index) => {
    if (first.at > hit.at || hit.at - first.at >= withinMs) return false;
    const different = new Set<number | null>([null]);
    for (let next = index; next < company.length && company[next]!.at - first.at < withinMs; next += 1) {
      different.add(of(company[next]!));
      if (different.size > number) return true;
    }
    return false;
  });
}

/** Whether several links were followed, each after those that stand before it. */
function isInOrder(hits: readonly Hit[]): boolean {
  const links = [...new Set(hits.map(({ linkId }) => linkId))].filter((linkId) => linkId !== null);
  return links.length > 1 && links.every((linkId, index) => index === 0 || linkId > links[index - 1]!);
}

function countDistinct(hits: readonly Hit[]): number {
  const pressed = new Set(hits.map(pressedOf));
  pressed.delete(null);
  return pressed.size;
}
