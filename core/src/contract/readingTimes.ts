/** When somebody reads, by weekday and hour of their zone. */
export interface ReadingTimes {
  /** Opens by weekday (from Monday) and hour: 7 rows of 24. */
  readTimes: number[][];
  total: number;
  /** On how many different days. */
  days: number;
  confidence: Confidence;
  /** The hour around which most was read; null where too little is known to speak of one. */
  busiest: { weekday: number; hour: number } | null;
}

/** How far the hours can be relied on. */
export type Confidence = 'nothing' | 'too-few' | 'a-hint' | 'fairly';
