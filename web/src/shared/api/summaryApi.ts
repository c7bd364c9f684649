import type { SummarySettings, SummaryView } from '@kiraku/core/contract';
import { api } from './api.js';
import { MY_ZONE } from '../time/zone.js';

const ZONE = new URLSearchParams({ zone: MY_ZONE });

const summaryApi = api.injectEndpoints({
  endpoints: (build) => ({
    summary: build.query<SummaryView, null>({
      query: () => `summary?${ZONE}`,
      // Made anew at each visit, as a report is.
      keepUnusedDataFor: 0,
    }),
    emailSummary: build.mutation<undefined, null>({
      query: () => ({ url: `summary/email?${ZONE}`, method: 'POST' }),
    }),
    summarySettings: build.query<SummarySettings, null>({
      query: () => 'settings/summary',
      providesTags: ['SummarySettings'],
    }),
    saveSummarySettings: build.mutation<SummarySettings, SummarySettings>({
      query: (body) => ({ url: 'settings/summary', method: 'PUT', body }),
      invalidatesTags: (_result, error) => (error ? [] : ['SummarySettings']),
    }),
  }),
});

export const { useSummaryQuery, useEmailSummaryMutation, useSummarySettingsQuery, useSaveSummarySettingsMutation } =
  summaryApi;
