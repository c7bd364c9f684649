import type { ReportView } from '@kiraku/core/contract';
import type { ListView } from '@kiraku/core/sent';
import { MY_ZONE } from '../time/zone.js';
import { api } from './api.js';
import { queryOf } from './sentApi.js';

export const reportsApi = api.injectEndpoints({
  endpoints: (build) => ({
    report: build.query<ReportView, ListView>({
      query: (view) => `reports?${queryOf(view, { zone: MY_ZONE })}`,
      // Made anew at each visit: it changes with everything, and nobody watches it change.
      keepUnusedDataFor: 0,
    }),
  }),
});

export const { useReportQuery } = reportsApi;
