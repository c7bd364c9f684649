import type { OutboxCopy, RetryRequest } from '@kiraku/core/contract';
import { api } from './api.js';

export const outboxApi = api.injectEndpoints({
  endpoints: (build) => ({
    outbox: build.query<OutboxCopy[], null>({ query: () => 'outbox', providesTags: ['Outbox'] }),
    retryCopy: build.mutation<undefined, RetryRequest & { copyId: number; messageId: number }>({
      query: ({ copyId, address }) => ({ url: `outbox/${copyId}/retry`, method: 'POST', body: { address } }),
      invalidatesTags: (_result, _error, { messageId }) => ['Outbox', { type: 'Message', id: messageId }],
    }),
  }),
});

export const { useOutboxQuery, useRetryCopyMutation } = outboxApi;
