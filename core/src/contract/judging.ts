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

/** How far judging everything again has come. */
export interface JudgingProgress {
  done: number;
  total: number;
  /** How many verdicts came out otherwise than before. */
  changed: number;
}
