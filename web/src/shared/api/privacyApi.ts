import type { PersonData, PrivacyView, PersonRequest } from '@kiraku/core/contract';
import { api } from './api.js';

export type PersonSheet = PersonData['person'];

/** What the sender may say of somebody. */

export const privacyApi = api.injectEndpoints({
  endpoints: (build) => ({
    privacy: build.query<PrivacyView, null>({ query: () => 'settings/privacy', providesTags: ['Privacy'] }),
    savePrivacy: build.mutation<PrivacyView, PrivacyView>({
      query: (body) => ({ url: 'settings/privacy', method: 'PUT', body }),
      invalidatesTags: (_result, error) => (error ? [] : ['Privacy']),
    }),
    person: build.query<PersonSheet, number>({ query: (id) => `people/${id}`, providesTags: ['Person'] }),
    savePerson: build.mutation<undefined, PersonRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `people/${id}`, method: 'PUT', body }),
      invalidatesTags: (_result, error) => (error ? [] : ['Person', 'People', 'Message', 'Today', 'Recent']),
    }),
    setDoNotTrack: build.mutation<undefined, { id: number; doNotTrack: boolean }>({
      query: ({ id, doNotTrack }) => ({ url: `people/${id}/tracking`, method: 'PUT', body: { doNotTrack } }),
      invalidatesTags: ['Person', 'Message'],
    }),
    erasePerson: build.mutation<undefined, number>({
      query: (id) => ({ url: `people/${id}`, method: 'DELETE' }),
      invalidatesTags: (_result, error) => (error ? [] : ['Sent', 'Message', 'Recent', 'Drafts']),
    }),
  }),
});

export const {
  useSavePersonMutation,
  usePrivacyQuery,
  useSavePrivacyMutation,
  usePersonQuery,
  useSetDoNotTrackMutation,
  useErasePersonMutation,
} = privacyApi;
