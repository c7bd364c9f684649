/** A part of a long list. All long lists are asked for by `cursor`, and how many at most by `limit`. */
export interface Page {
  /** Hand this back as `cursor` for what comes after; null where nothing does. */
  nextCursor: string | null;
}
