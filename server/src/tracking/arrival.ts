import type { ReadingReport } from '@kiraku/core/contract';
import type { HitTarget } from './targets.repository.js';

/** A request at the public site, with the token it named. */
export interface PublicHit {
  token: string;
  target: HitTarget;
  at: number;
  ip: string;
  userAgent: string;
  method: string;
  /** Value of `Sec-Purpose` or `Purpose`; empty where neither was sent. */
  purpose: string;
  /** Whether it carried the mark of a browser of the sender’s own. */
  ownDevice: boolean;
  /** Whether it carried `DNT: 1` or `Sec-GPC: 1`. */
  dnt: boolean;
  /** Of a file: the reading that begins with it, or that it belongs to. */
  reading?: NewReading | { key: string };
}

/** A reading that is about to begin. */
export interface NewReading {
  key: string;
  versionId: number;
  givenAddress: string | null;
}

/** What a reader’s window says of what was read, as it came to the public site. */
export interface PublicReport extends ReadingReport {
  /** Of the file, in this copy. */
  token: string;
  at: number;
}

/** What a recipient decides of being tracked, at the public site. */
export interface PublicChoice {
  choice: 'decline' | 'allow';
  /** Of the image in their copy. */
  token: string;
  at: number;
}

/** What is recorded of what comes to the public site. */
export type Arrival = PublicHit | PublicReport;
/** What the journal holds. */
export type JournalEntry = Arrival | PublicChoice;
