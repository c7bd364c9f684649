import { parentPort, workerData } from 'node:worker_threads';
import type { ListFilter, ReportFilter, ReportView } from '@kiraku/core/contract';
import { changesOf, OutcomeCounter, periodBefore, ReportCounter, reportPeriod } from '@kiraku/core/reports';
import { openToRead } from '../store/database.js';
import { ReportsRepository } from './reports.repository.js';

/** What the thread is given, and what it says. */
export interface ReportOrder {
  id: number;
  filter: ReportFilter;
  now: number;
}
export type ReportNews = { id: number; report: ReportView } | { id: number; error: string };

const database = openToRead(workerData as string);
const reports = new ReportsRepository(database);

parentPort!.on('message', ({ id, filter, now }: ReportOrder) => {
  let news: ReportNews;
  try {
    // Of one moment, although it is read in several steps.
    news = { id, report: database.$client.transaction(() => reportOf(filter, now))() };
  } catch (error) {
    news = { id, error: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
  parentPort!.postMessage(news);
});

function reportOf(filter: ReportFilter, now: number): ReportView {
  const { zone } = filter;
  const { from, to } = reportPeriod(filter, now, zone);
  const before = periodBefore({ from, to }, zone);
  const counter = new ReportCounter(zone);
  const earlier = new OutcomeCounter();
  let tooRecent = 0;
  const all: ListFilter = {
    ...filter,
    from: before?.from ?? from,
    show: 'all',
    sentWith: 'anything',
    archived: 'any',
    sort: 'lastActivity',
    direction: 'desc',
  };
  reports.each(all, now, (facts, sentAt, templateId, firstOpenAt, repliedAt) => {
    if (from !== null && sentAt < from) earlier.add(facts, sentAt, firstOpenAt, repliedAt);
    else if (sentAt < to) counter.add(facts, sentAt, templateId, firstOpenAt, repliedAt);
    else tooRecent += 1;
  });
  const view = counter.view(reports.templateNames());
  const outcome = earlier.view();
  return {
    ...view,
    from,
    to,
    tooRecent,
    before: before && { ...before, ...outcome, changes: changesOf(view, outcome) },
  };
}
