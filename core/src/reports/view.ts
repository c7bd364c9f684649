import { DEFAULT_VIEW, entriesOf, viewFrom, type ListView } from '../sent/view.js';

/** What a report begins with. */
export const REPORT_VIEW: ListView = { ...DEFAULT_VIEW, sent: '90-days' };

/** What its address says that a report is narrowed by; of what only a list can be narrowed by it takes no notice. */
export function reportViewFrom(entries: Iterable<[string, string]>): ListView {
  const { show, sentWith, archived, sort, direction } = REPORT_VIEW;
  return { ...viewFrom(entries, REPORT_VIEW), show, sentWith, archived, sort, direction };
}

/** What an address must say for it. */
export function reportEntriesOf(view: ListView): [string, string][] {
  return entriesOf(view, REPORT_VIEW);
}
