import type { DraftFile } from '../contract/file.js';
import { MINUTE, SECOND } from '../time/words.js';

/** What one file, and what is said of its reading, may come to. Each limit is named to the person who reaches it. */
export const FILE_LIMITS = {
  /** Of one file, until the user says otherwise, and at most. */
  defaultMaxFileBytes: 100_000_000,
  maxFileBytes: 2_000_000_000,
  maxNameChars: 120,
  maxFilesPerMessage: 20,
  /** Of one message the ordinary way, all together: more is refused by most mail servers. */
  maxAttachedBytes: 20 * 1024 * 1024,
  maxOpenForDays: 3650,
  /** Visits of one reading: more turning of pages than this is nobody’s reading. */
  maxVisits: 500,
  maxPages: 20_000,
  /** One visit to a page is at most so long. */
  maxVisitMs: 30 * MINUTE,
  /** Of one report: as many as fit into it. */
  maxVisitsPerReport: 120,
  /** A report, as JSON: whoever sends it is nobody we know. */
  maxReportBytes: 8 * 1024,
} as const;

/** How a file travels until something else is said. */
export const AS_LINK: Omit<DraftFile, 'fileId'> = {
  versionId: null,
  way: 'link',
  followsNewest: false,
  mayDownload: true,
  openForDays: null,
  asksAddress: false,
};

/** A page is read while its reader did something within this time. */
export const IDLE_MS = MINUTE;
/** What is passed over faster is not read. */
export const SKIMMED_MS = 0.5 * SECOND;
/** While a page is read, its time is reported this often. */
export const REPORT_EVERY_MS = 5 * SECOND;
