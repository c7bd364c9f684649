/** More hits than these around the same time are told as one: of one copy over one network, of one message. */
const MOST = { ofCopyOverNetwork: 30, ofMessage: 600 };

/** How much came around the time of a hit. */
export interface Crowding {
  /** Hits of the same copy over the same network. */
  ofCopyOverNetwork: number;
  /** All hits of the message. */
  ofMessage: number;
}

/**
 * Whether a hit comes among more than anybody makes. It is then told with the others as one, and not judged, so that a
 * flood costs neither room nor time.
 */
export function isFlood({ ofCopyOverNetwork, ofMessage }: Crowding): boolean {
  return ofCopyOverNetwork >= MOST.ofCopyOverNetwork || ofMessage >= MOST.ofMessage;
}
