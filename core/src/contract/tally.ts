/** The counts of a copy, or of a message over its copies. Times are UTC epoch milliseconds. */
export interface Tally {
  opens: number;
  clicks: number;
  fileViews: number;
  replies: number;
  /** Of the opens, clicks and views, those of which it is uncertain whether they are a person’s. */
  uncertainOpens: number;
  uncertainClicks: number;
  uncertainViews: number;
  /** Hits that were kept but do not count. */
  notCounted: number;
  firstOpenAt: number | null;
  lastOpenAt: number | null;
  firstClickAt: number | null;
  lastClickAt: number | null;
  /** The first reply, and the last. */
  repliedAt: number | null;
  lastReplyAt: number | null;
  /** The last counted event of any kind. */
  lastEventAt: number | null;
}
