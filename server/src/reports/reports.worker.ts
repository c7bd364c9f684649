import { parentPort, workerData } from 'node:worker_threads';
import type { ReportFilter, ReportView } from '@kiraku/core/contract';
import { reportOf } from '@kiraku/core/reports';
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
    news = { id, report: database.$client.transaction(() => reportFor(filter, now))() };
  } catch (error) {
    news = { id, error: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
  parentPort!.postMessage(news);
});

function reportFor(filter: ReportFilter, now: number): ReportView {
  return reportOf(filter, now, filter.zone, reports.templateNames(), (from, counting) =>
    reports.each(
      {
        ...filter,
        from,
        show: 'all',
        sentWith: 'anything',
        archived: 'any',
        sort: 'lastActivity',
        direction: 'desc',
      },
      now,
      counting,
    ),
  );
}
