import type {
  MissedNotifications,
  NotificationSettingsView,
  PushDevice,
  PushDeviceRequest,
} from '@kiraku/core/contract';
import { api } from './api.js';

/** The subscription by which the push service reaches this browser. */
export const notificationsApi = api.injectEndpoints({
  endpoints: (build) => ({
    notificationSettings: build.query<NotificationSettingsView, null>({
      query: () => 'settings/notifications',
      providesTags: ['Notifications'],
    }),
    saveNotificationSettings: build.mutation<NotificationSettingsView, Omit<NotificationSettingsView, 'mutedUntil'>>({
      query: (body) => ({ url: 'settings/notifications', method: 'PUT', body }),
      invalidatesTags: (_result, error) => (error ? [] : ['Notifications']),
    }),
    mute: build.mutation<NotificationSettingsView, number | null>({
      query: (until) => ({ url: 'settings/notifications/mute', method: 'PUT', body: { until } }),
      invalidatesTags: ['Notifications'],
    }),
    missed: build.query<MissedNotifications, null>({ query: () => 'notifications/missed', keepUnusedDataFor: 0 }),
    seen: build.mutation<undefined, number>({
      query: (eventId) => ({ url: 'notifications/seen', method: 'POST', body: { eventId } }),
    }),
    push: build.query<{ publicKey: string; devices: PushDevice[] }, null>({
      query: () => 'settings/push',
      providesTags: ['Push'],
    }),
    addDevice: build.mutation<{ id: number }, PushDeviceRequest>({
      query: (body) => ({ url: 'settings/push/devices', method: 'POST', body }),
      invalidatesTags: ['Push'],
    }),
    tryDevice: build.mutation<undefined, number>({
      query: (id) => ({ url: `settings/push/devices/${id}/trial`, method: 'POST' }),
      invalidatesTags: ['Push'],
    }),
    removeDevice: build.mutation<undefined, number>({
      query: (id) => ({ url: `settings/push/devices/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Push'],
    }),
  }),
});

export const {
  useNotificationSettingsQuery,
  useSaveNotificationSettingsMutation,
  useMuteMutation,
  useLazyMissedQuery,
  useSeenMutation,
  usePushQuery,
  useAddDeviceMutation,
  useTryDeviceMutation,
  useRemoveDeviceMutation,
} = notificationsApi;
