/** What is checked, in the order in which it is shown. */
export const CHECK_NAMES = [
  'outgoing',
  'mailbox',
  'submission',
  'public-address',
  'proxy',
  'certificate',
  'spf',
  'dkim',
  'dmarc',
  'link-domain',
  'work',
  'backup',
  'database',
  'disk',
  'clock',
  'office',
  'version',
] as const;
export type CheckName = (typeof CHECK_NAMES)[number];

/**
 * `attention`: it works, and something should be done about it. `unknown`: it could not be checked. `off`: it is not in use.
 */
export type CheckState = 'ok' | 'attention' | 'failing' | 'unknown' | 'off';

/** A record to publish in the DNS. */
export interface DnsRecord {
  name: string;
  type: 'TXT';
  value: string;
}

/** What one check found. */
export interface Finding {
  state: CheckState;
  /** In one sentence. */
  detail: string;
  /** What to do; null where nothing is. */
  advice: string | null;
  /** What to publish for it. */
  records: DnsRecord[];
}

export interface CheckView extends Finding {
  name: CheckName;
  /** Since when it is in this state, in epoch milliseconds. */
  since: number;
  /** When it was checked last. */
  at: number;
}

export interface CheckupView {
  isUnderWay: boolean;
  /** Those that were checked before: what does not work first. */
  checks: CheckView[];
  /** For this browser to ask as well: it responds where the public address can be reached from here. */
  reachUrl: string;
}
