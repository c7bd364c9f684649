import type { EventView, LiveUpdate, MessageDetail } from '@kiraku/core/contract';
import { api } from '../app/api.js';
import type { AppDispatch, RootState } from '../app/store.js';

export const messageApi = api.injectEndpoints({
  endpoints: (build) => ({
    message: build.query<MessageDetail, number>({
      query: (id) => `messages/${id}`,
      providesTags: (_result, _error, id) => ['Message', { type: 'Message', id }],
    }),
    saveNote: build.mutation<undefined, { id: number; note: string }>({
      query: ({ id, note }) => ({ url: `messages/${id}/note`, method: 'PUT', body: { note } }),
    }),
    olderEvents: build.mutation<EventView[], { id: number; before: EventView }>({
      query: ({ id, before }) => `messages/${id}/events?before=${before.at}.${before.eventId}`,
      async onQueryStarted({ id }, { dispatch, queryFulfilled }) {
        const { data } = await queryFulfilled;
        dispatch(
          messageApi.util.updateQueryData('message', id, (draft) => {
            draft.events.push(...data);
          }),
        );
      },
    }),
  }),
});

export const { useMessageQuery, useSaveNoteMutation, useOlderEventsMutation } = messageApi;

/** Messages that are open are loaded again when something happened to them: their copies and links changed too. */
export const addToMessages = (update: LiveUpdate) => (dispatch: AppDispatch, getState: () => RootState) => {
  const shown = new Set(messageApi.util.selectCachedArgsForQuery(getState(), 'message'));
  const changed = update.messages.map((row) => row.id).filter((id) => shown.has(id));
  if (update.messages.length > 0) dispatch(api.util.invalidateTags(['Outbox']));
  if (changed.length > 0) dispatch(api.util.invalidateTags(changed.map((id) => ({ type: 'Message' as const, id }))));
};
