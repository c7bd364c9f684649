import { parentPort, workerData } from 'node:worker_threads';
import type { ListFilter, ReportFilter, ReportView, SubjectOutcome } from '@kiraku/core/contract';
import { reportOf, reportPeriod } from '@kiraku/core/reports';
import { openToRead } from '../store/database.js';
import { ReportsRepository } from './reports.repository.js';

/** What the thread makes. */
export interface Made {
  report: ReportView;
  subjects: SubjectOutcome[];
}

/** What the thread is given, and what it says. */
export interface ReportOrder {
  id: number;
  what: keyof Made;
  filter: ReportFilter;
  now: number;
}
export type ReportNews = { id: number; made: Made[keyof Made] } | { id: number; error: string };

const database = openToRead(workerData as string);
const reports = new ReportsRepository(database);

const MAKERS: { [What in keyof Made]: (filter: ReportFilter, now: number) => Made[What] } = {
  report: (filter, now) =>
    reportOf(filter, now, filter.zone, reports.templateNames(), (from, counting) =>
      reports.each({ ...ofAllSent(filter), from }, now, counting),
    ),
  subjects: (filter, now) => reports.subjects({ ...ofAllSent(filter), ...reportPeriod(filter, now, filter.zone) }, now),
};

parentPort!.on('message', ({ id, what, filter, now }: ReportOrder) => {
  let news: ReportNews;
  try {
    // Of one moment, although it is read in several steps.
    news = { id, made: database.$client.transaction(() => MAKERS[what](filter, now))() };
  } catch (error) {
    news = { id, error: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
  parentPort!.postMessage(news);
});

function ofAllSent(filter: ReportFilter): ListFilter {
  return { ...filter, show: 'all', sentWith: 'anything', archived: 'any', sort: 'lastActivity', direction: 'desc' };
}
