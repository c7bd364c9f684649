import type { OutboxCopy } from '@kiraku/core/contract';
import { api } from '../app/api.js';

export const outboxApi = api.injectEndpoints({
  endpoints: (build) => ({
    outbox: build.query<OutboxCopy[], null>({ query: () => 'outbox', providesTags: ['Outbox'] }),
    retryCopy: build.mutation<undefined, { copyId: number; messageId: number; address?: string }>({
      query: ({ copyId, address }) => ({ url: `outbox/${copyId}/retry`, method: 'POST', body: { address } }),
      invalidatesTags: (_result, _error, { messageId }) => ['Outbox', { type: 'Message', id: messageId }],
    }),
  }),
});

export const { useOutboxQuery, useRetryCopyMutation } = outboxApi;
