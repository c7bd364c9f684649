import type { OutboxCopy, RetryRequest } from '@kiraku/core/contract';
import { api } from './api.js';
import { onPushed } from './pushed.js';

export const deliveryApi = api.injectEndpoints({
  endpoints: (build) => ({
    outbox: build.query<OutboxCopy[], null>({ query: () => 'outbox', providesTags: ['Outbox'] }),
    retryCopy: build.mutation<undefined, RetryRequest & { copyId: number; messageId: number }>({
      query: ({ copyId, address }) => ({ url: `outbox/${copyId}/retry`, method: 'POST', body: { address } }),
      invalidatesTags: (_result, _error, { messageId }) => ['Outbox', { type: 'Message', id: messageId }],
    }),
  }),
});

export const { useOutboxQuery, useRetryCopyMutation } = deliveryApi;

// A message that changed may have left.
onPushed(({ messages }, { dispatch }) => {
  if (messages.length > 0) dispatch(api.util.invalidateTags(['Outbox']));
});
