import type { RefusedMail, RefusedWay } from '@kiraku/core/contract';
import { api } from './api.js';

const refusedApi = api.injectEndpoints({
  endpoints: (build) => ({
    refused: build.query<RefusedMail[], RefusedWay>({
      query: (way) => `refused-mails?way=${way}`,
      providesTags: ['Refused'],
    }),
    deleteRefused: build.mutation<undefined, number>({
      query: (id) => ({ url: `refused-mails/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Refused'],
    }),
  }),
});

export const { useRefusedQuery, useDeleteRefusedMutation } = refusedApi;
