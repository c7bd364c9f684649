import type { ReportView, SubjectOutcome } from '@kiraku/core/contract';
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
    subjects: build.query<SubjectOutcome[], ListView>({
      query: (view) => `reports/subjects?${queryOf(view, { zone: MY_ZONE })}`,
      keepUnusedDataFor: 0,
    }),
  }),
});

export const { useReportQuery, useSubjectsQuery } = reportsApi;
