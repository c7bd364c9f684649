import type { Page } from './page.js';

/** What became of opens by colleagues: they count, they count without notifying, or they are not counted. */
export const COLLEAGUE_CHOICES = ['count', 'muted', 'not-counted'] as const;
export type ColleagueChoice = (typeof COLLEAGUE_CHOICES)[number];

/** How closely the place of a reader’s address is known. */
export const PLACE_CHOICES = ['none', 'country', 'city'] as const;
export type PlaceChoice = (typeof PLACE_CHOICES)[number];

/** How events are judged, as the sender has chosen. */
export interface JudgingView {
  /** Addresses and networks (CIDR) of the sender’s own. */
  ownNetworks: string[];
  colleagues: ColleagueChoice;
  /** Whether readers whose browser asks not to be tracked are not counted. */
  respectDnt: boolean;
  /** Days after sending after which activity is not counted; null where they always count. */
  trackForDays: number | null;
  /** Days after sending after which activity does not notify; null where they always do. */
  notifyForDays: number | null;
  place: PlaceChoice;
  /** Proxies that are trusted when they name whom they forward for. */
  proxies: string[];
}

/** What a network was seen to be: one over which machines look at messages, or one over which people read. */
export const NETWORK_KINDS = ['filter', 'people'] as const;
export type NetworkKind = (typeof NETWORK_KINDS)[number];

/** A network as judging remembers it. */
export interface NetworkView {
  id: number;
  /** An address, or a prefix in CIDR notation. */
  prefix: string;
  /** The operator of the data centre that it belongs to; null where it belongs to none. */
  owner: string | null;
  /** How often it was seen as a filter, and how often people were seen to read over it, lately. */
  filter: number;
  people: number;
  /** What that makes it; null where it is not plain. */
  seenAs: NetworkKind | null;
  /** What the user says that it is; null where they have said nothing. */
  namedAs: NetworkKind | null;
  /** When something was last learnt of it. */
  at: number;
}

export interface NetworkPage extends Page {
  networks: NetworkView[];
}

/** Past hits that are like one that was corrected, and are not decided on yet. */
export interface SimilarHits {
  /** The newest first; of very many, the newest. */
  eventIds: number[];
}

/** How far judging everything again has come. */
export interface JudgingProgress {
  done: number;
  total: number;
  /** How many verdicts came out otherwise than before. */
  changed: number;
}
