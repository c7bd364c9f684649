import type { SentWith, Shown } from '../contract/list.js';
import { RATES, type RateName } from '../contract/report.js';
import type { ListView } from '../sent/view.js';
import { daysText, type Stretch } from '../time/period.js';

/** What a number of a report counts: all that was sent; of a share, those that it is of, or that it counts. */
export type Counted = 'sent' | 'wasRead' | `${RateName}.${'of' | 'n'}`;

const OF: Record<RateName, SentWith> = { read: 'opens', clicked: 'links', viewed: 'files', replied: 'anything' };
const N: Record<RateName, Shown> = { read: 'opened', clicked: 'clicked', viewed: 'viewed', replied: 'replied' };

const NARROWED: Record<Counted, Pick<ListView, 'sentWith' | 'show'>> = {
  sent: { sentWith: 'anything', show: 'all' },
  wasRead: { sentWith: 'anything', show: 'opened' },
  ...(Object.fromEntries(
    RATES.flatMap((name) => [
      [`${name}.of`, { sentWith: OF[name], show: 'all' }],
      [`${name}.n`, { sentWith: OF[name], show: N[name] }],
    ]),
  ) as Record<`${RateName}.${'of' | 'n'}`, Pick<ListView, 'sentWith' | 'show'>>),
};

/**
 * The list of the messages behind a number of a report.
 *
 * @param view what the report is narrowed by
 * @param days whole days by the user’s clocks
 */
export function listBehind(view: ListView, days: Stretch, counted: Counted): ListView {
  return { ...view, ...NARROWED[counted], sent: daysText(days), archived: 'any', sort: 'sent' };
}
