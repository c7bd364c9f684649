import type { ReportPeriod, ReportView } from '@kiraku/core/contract';
import { api } from './api.js';
import { MY_ZONE } from '../time/zone.js';

export const reportsApi = api.injectEndpoints({
  endpoints: (build) => ({
    report: build.query<ReportView, ReportPeriod>({
      query: (period) => `reports?${new URLSearchParams({ period, zone: MY_ZONE })}`,
      // Made anew at each visit: it changes with everything, and nobody watches it change.
      keepUnusedDataFor: 0,
    }),
  }),
});

export const { useReportQuery } = reportsApi;
