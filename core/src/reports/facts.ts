/**
 * What is true of a message, each a bit of one number: reports count very many messages, and by this the messages of each
 * combination are counted in one step.
 */
export const FACTS = {
  /** Its opens are tracked. */
  isTracked: 1,
  /** It has tracked links, tracked files. */
  hasLinks: 2,
  hasFiles: 4,
  /** By any sign: images may be blocked where a link is clicked. */
  wasRead: 8,
  wasClicked: 16,
  wasViewed: 32,
  wasReplied: 64,
} as const;
export type Fact = keyof typeof FACTS;

export const FACT_NAMES = Object.keys(FACTS) as Fact[];
/** So many combinations there are. */
export const FACT_COMBINATIONS = 2 ** FACT_NAMES.length;
