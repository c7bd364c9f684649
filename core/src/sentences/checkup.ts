import type { CheckName, CheckState, CheckView, NotificationView } from '../contract/index.js';
import { shortWords } from '../time/words.js';

/** What each check looks at. */
export const CHECK_LABELS: Record<CheckName, string> = {
  outgoing: 'Outgoing mail',
  mailbox: 'Mailbox for replies',
  submission: 'Port for other mail apps',
  'public-address': 'Public address',
  proxy: 'Proxy in front',
  certificate: 'Certificate of the public address',
  spf: 'Sender’s domain: SPF',
  dkim: 'Sender’s domain: DKIM',
  dmarc: 'Sender’s domain: DMARC',
  'link-domain': 'Domain of links',
  work: 'Work in the background',
  backup: 'Backups',
  database: 'Database',
  disk: 'Disk',
  clock: 'Clock',
  office: 'Slides and documents',
  version: 'Version',
};

/** How a check stands, in a word. */
export const CHECK_STATE_TEXTS: Record<CheckState, string> = {
  ok: 'Works',
  attention: 'Needs attention',
  failing: 'Does not work',
  unknown: 'Could not be checked',
  off: 'Not in use',
};

/** “Does not work since 14:02”; since when is said of what is not as it should be. */
export function checkStateSentence({ state, since }: Pick<CheckView, 'state' | 'since'>, now: number): string {
  const asks = state === 'failing' || state === 'attention';
  return asks ? `${CHECK_STATE_TEXTS[state]} since ${shortWords(since, now)}` : CHECK_STATE_TEXTS[state];
}

/** How all of them stand. */
export function checkupSentence(checks: readonly Pick<CheckView, 'state'>[]): string {
  const count = (state: CheckState) => checks.filter((check) => check.state === state).length;
  const [failing, attention] = [count('failing'), count('attention')];
  if (checks.length === 0) return 'Nothing has been checked yet.';
  if (failing + attention === 0) return 'Everything that could be checked works.';
  return [
    failing > 0 && `${failing} of ${checks.length} ${failing === 1 ? 'does' : 'do'} not work`,
    attention > 0 && `${attention} ${attention === 1 ? 'needs' : 'need'} attention`,
  ]
    .filter(Boolean)
    .join('; ')
    .concat('.');
}

/** A check that has found something that does not work, as it notifies. */
export function checkNotification({ name, detail, since }: CheckView): Omit<NotificationView, 'by'> {
  return {
    eventId: 0,
    at: since,
    path: '/settings/check-up',
    tag: `check ${name}`,
    kind: 'check_failed',
    title: `${CHECK_LABELS[name]}: does not work`,
    detail,
  };
}
