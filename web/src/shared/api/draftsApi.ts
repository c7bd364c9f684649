import type {
  Draft,
  DraftContent,
  DraftsPage,
  MessageSummary,
  PersonView,
  Preview,
  RecipientView,
  ReplyRequest,
  SaveDraftRequest,
  SendRequest,
  RescheduleRequest,
} from '@kiraku/core/contract';
import { api, PAGED } from './api.js';

export const draftsApi = api.injectEndpoints({
  endpoints: (build) => ({
    drafts: build.infiniteQuery<DraftsPage, null, string>({
      query: ({ pageParam }) => ({ url: 'drafts', params: pageParam === '' ? {} : { cursor: pageParam } }),
      infiniteQueryOptions: PAGED,
      providesTags: ['Drafts'],
    }),
    draft: build.query<Draft, number>({ query: (id) => `drafts/${id}`, keepUnusedDataFor: 0 }),
    addDraft: build.mutation<Draft, DraftContent>({ query: (body) => ({ url: 'drafts', method: 'POST', body }) }),
    saveDraft: build.mutation<Draft, SaveDraftRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `drafts/${id}`, method: 'PUT', body }),
    }),
    removeDraft: build.mutation<undefined, number>({ query: (id) => ({ url: `drafts/${id}`, method: 'DELETE' }) }),
    sendDraft: build.mutation<MessageSummary, SendRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `drafts/${id}/send`, method: 'POST', body }),
    }),
    recall: build.mutation<Draft, number>({ query: (id) => ({ url: `messages/${id}/recall`, method: 'POST' }) }),
    reschedule: build.mutation<MessageSummary, RescheduleRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `messages/${id}/reschedule`, method: 'POST', body }),
    }),
    addPicture: build.mutation<{ url: string }, File>({
      query: (file) => ({ url: 'pictures', method: 'POST', body: file, headers: { 'content-type': file.type } }),
    }),
    openMail: build.mutation<{ draft: Draft; leftOut: string[] }, File>({
      query: (file) => ({
        url: 'drafts/eml',
        method: 'POST',
        body: file,
        headers: { 'content-type': 'message/rfc822' },
      }),
    }),
    preview: build.query<Preview, { id: number; revision: number }>({
      query: ({ id }) => `drafts/${id}/preview`,
      keepUnusedDataFor: 0,
    }),
    reply: build.mutation<Draft, ReplyRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `messages/${id}/reply`, method: 'POST', body }),
    }),
    recipients: build.query<RecipientView[], string[]>({
      query: (addresses) => ({ url: 'people/recipients', method: 'POST', body: { addresses } }),
      keepUnusedDataFor: 30,
    }),
    people: build.query<PersonView[], string>({
      query: (words) => ({ url: 'people', params: { words } }),
      keepUnusedDataFor: 30,
    }),
  }),
});

export const {
  useDraftsInfiniteQuery,
  useDraftQuery,
  useAddDraftMutation,
  useSaveDraftMutation,
  useRemoveDraftMutation,
  useSendDraftMutation,
  useRecallMutation,
  useRescheduleMutation,
  usePeopleQuery,
  useLazyPeopleQuery,
  useAddPictureMutation,
  useOpenMailMutation,
  usePreviewQuery,
  useReplyMutation,
  useRecipientsQuery,
} = draftsApi;
