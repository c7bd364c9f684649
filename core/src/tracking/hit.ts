import type { HitKind } from '../activity/kinds.js';
import type { ColleagueChoice } from '../contract/judging.js';
import type { Agent } from './agent.js';
import type { Network } from './network.js';
import type { KnownNetwork, Lesson } from './networkMemory.js';

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
  /** The network that the address stands in, as `networkOf` says it. */
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
  /** How many tracked links each copy has; null where that is not known. */
  links: number | null;
  /** Whether the page to opt out was asked for with the copy of a hit over its network, around the same time. */
  optOutAsked(hit: Hit): boolean;
  /** What is known of the network of a hit from elsewhere: from other messages, and from other times. */
  networkFrom(hit: Hit): KnownNetwork;
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
  /** Name of what it is not counted for; null where it counts. */
  reason: string | null;
  /** Whether it is to be notified at once. What is not counted never is. */
  notifies: boolean;
  /** How likely it is a person, in percent, where evidence was weighed; null where a fact decides alone. */
  likelihood: number | null;
  /** Names of the strongest evidence for the verdict, at most two, strongest first; empty where a fact decides. */
  evidence: readonly string[];
  /** What it teaches of its network; null where it is not plain enough. */
  lesson: Lesson | null;
}

/** What was pressed to come: a link, or a file; null for the image. */
export function pressedOf({ linkId, sentFileId }: Pick<Hit, 'linkId' | 'sentFileId'>): number | null {
  return linkId ?? (sentFileId === null ? null : -sentFileId);
}
