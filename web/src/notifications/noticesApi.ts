import type { MissedNotices, NoticesView, PushDevice } from '@kiraku/core/contract';
import { api } from '../app/api.js';

/** What the push service of this browser is to be told by. */
export interface PushTarget {
  name: string;
  endpoint: string;
  p256dh: string;
  auth: string;
}

export const noticesApi = api.injectEndpoints({
  endpoints: (build) => ({
    notices: build.query<NoticesView, null>({ query: () => 'settings/notices', providesTags: ['Notices'] }),
    saveNotices: build.mutation<NoticesView, Omit<NoticesView, 'quietUntil'>>({
      query: (body) => ({ url: 'settings/notices', method: 'PUT', body }),
      invalidatesTags: (_result, error) => (error ? [] : ['Notices']),
    }),
    quiet: build.mutation<NoticesView, number | null>({
      query: (until) => ({ url: 'settings/notices/quiet', method: 'PUT', body: { until } }),
      invalidatesTags: ['Notices'],
    }),
    missed: build.query<MissedNotices, null>({ query: () => 'notices/missed', keepUnusedDataFor: 0 }),
    seen: build.mutation<undefined, number>({
      query: (eventId) => ({ url: 'notices/seen', method: 'POST', body: { eventId } }),
    }),
    push: build.query<{ publicKey: string; devices: PushDevice[] }, null>({
      query: () => 'push',
      providesTags: ['Push'],
    }),
    addDevice: build.mutation<{ id: number }, PushTarget>({
      query: (body) => ({ url: 'push/devices', method: 'POST', body }),
      invalidatesTags: ['Push'],
    }),
    tryDevice: build.mutation<undefined, number>({
      query: (id) => ({ url: `push/devices/${id}/trial`, method: 'POST' }),
      invalidatesTags: ['Push'],
    }),
    removeDevice: build.mutation<undefined, number>({
      query: (id) => ({ url: `push/devices/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Push'],
    }),
  }),
});

export const {
  useNoticesQuery,
  useSaveNoticesMutation,
  useQuietMutation,
  useLazyMissedQuery,
  useSeenMutation,
  usePushQuery,
  useAddDeviceMutation,
  useTryDeviceMutation,
  useRemoveDeviceMutation,
} = noticesApi;
