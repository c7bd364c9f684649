import type { CheckupView } from '@kiraku/core/contract';
import { api } from './api.js';

export const checkupApi = api.injectEndpoints({
  endpoints: (build) => ({
    checkup: build.query<CheckupView, null>({ query: () => 'check-up', providesTags: ['Checkup'] }),
    check: build.mutation<CheckupView, null>({
      query: () => ({ url: 'check-up', method: 'POST' }),
      invalidatesTags: ['Checkup'],
    }),
  }),
});

export const { useCheckupQuery, useCheckMutation } = checkupApi;
