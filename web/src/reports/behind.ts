import { listBehind, type Counted } from '@kiraku/core/reports';
import type { ListView } from '@kiraku/core/sent';
import type { Stretch } from '@kiraku/core/time';
import { addressOf } from '../shared/api/sentApi.js';

/** Where the messages behind a number of a report are: of its days, or of others. */
export type Behind = (counted: Counted, narrowed?: Partial<ListView>, days?: Stretch) => string;

/** @param days that the report counts */
export function behindReport(view: ListView, days: Stretch): Behind {
  return (counted, narrowed = {}, own = days) =>
    `/sent?${addressOf({ ...listBehind(view, own, counted), ...narrowed })}`;
}
