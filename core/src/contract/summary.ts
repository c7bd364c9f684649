/** When the summary is emailed to the user. */
export interface SummarySettings {
  /** On which weekdays, from Monday (0); none where it is not emailed. */
  weekdays: number[];
  /** At this time of their day, “07:30”. */
  time: string;
  /** By whose clocks (IANA). */
  zone: string;
  /** Whether it is emailed where there is nothing to say, too. */
  evenIfEmpty: boolean;
}

/** One line of a summary. */
export interface SummaryLine {
  text: string;
  /** What stands below it; may be empty. */
  detail: string;
  /** Where it leads in Kiraku, beginning with “/”. */
  path: string;
}

/** Lines of one sort, at least one. */
export interface SummaryPart {
  title: string;
  lines: SummaryLine[];
  /** What is left out, and where it is; null where nothing is. */
  more: SummaryLine | null;
}

/** What the user should know since the last summary. */
export interface SummaryView {
  /** In epoch milliseconds. */
  from: number;
  to: number;
  /** In one line. */
  title: string;
  /** Whether there is nobody to contact, nothing due and nothing new. */
  isEmpty: boolean;
  parts: SummaryPart[];
}
