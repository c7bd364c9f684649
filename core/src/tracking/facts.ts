import type { Hit, Situation } from './hit.js';
import { isInNetwork } from './network.js';

/** Why something counts or does not. */
export interface Reason {
  name: string;
  /** Why, or what was seen, as the page says it. */
  words: string;
  /** What of the hit it goes by, as the page says it. */
  evidence: string;
  source: string;
}

/** A reason that decides alone, whatever else speaks for or against it. */
interface Fact extends Reason {
  applies(hit: Hit, situation: Situation): boolean;
}

/** The first that applies decides. */
export const FACTS: readonly Fact[] = [
  {
    name: 'own-device',
    words: 'your own browser or network',
    evidence: 'your own browsers and networks, as you named them',
    source: 'named in the settings',
    applies: ({ ownDevice, ip }, { ownNetworks }) => ownDevice || isInNetwork(ip, ownNetworks),
  },
  {
    name: 'colleague',
    words: 'a colleague: the address is at your own domain',
    evidence: 'the recipient’s address',
    source: 'chosen in the settings',
    applies: ({ copyId }, { colleagues, copies }) =>
      colleagues === 'not-counted' && copies.get(copyId)?.colleague === true,
  },
  {
    name: 'late',
    words: 'it came after the time for which you count',
    evidence: 'the time since sending',
    source: 'chosen in the settings',
    applies: (hit, situation) => isOlderThan(situation.trackForMs, hit, situation),
  },
  {
    name: 'dnt',
    words: 'the browser asks not to be tracked',
    evidence: 'the headers DNT and Sec-GPC',
    source: 'W3C Tracking Preference Expression, section 5; Global Privacy Control, section 3',
    applies: ({ dnt }, { respectDnt }) => respectDnt && dnt,
  },
  {
    name: 'not-get',
    words: 'a program only checked whether it is there',
    evidence: 'the method of the request',
    source: 'RFC 9110, sections 9.3.2 and 9.3.7',
    applies: ({ method }) => method !== 'GET',
  },
  {
    name: 'prefetch',
    words: 'a browser loaded it in advance',
    evidence: 'the headers Sec-Purpose and Purpose',
    source: 'WICG, Speculative loading, “Sec-Purpose”',
    applies: ({ purpose }) => /prefetch|prerender|preview/i.test(purpose),
  },
  {
    name: 'robot',
    words: 'a program that loads every message or page',
    evidence: 'the header User-Agent',
    source: 'RFC 9110, section 10.1.5, against the list of the isbot package',
    applies: ({ agent }) => agent.nature === 'robot',
  },
  {
    name: 'named-filter',
    words: 'a network that you named as a security filter',
    evidence: 'the networks that you named',
    source: 'chosen in the settings',
    applies: (hit, { networkFrom }) => networkFrom(hit).namedAs === 'filter',
  },
];

/** Whether a hit came later after sending than some time; never where either is not known. */
export function isOlderThan(ageMs: number | null, { at, copyId }: Hit, { copies }: Situation): boolean {
  const sentAt = copies.get(copyId)?.sentAt ?? null;
  return ageMs !== null && sentAt !== null && at - sentAt > ageMs;
}
