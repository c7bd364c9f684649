import type {
  AccountGuess,
  AppPasswordView,
  DkimView,
  HealthView,
  SendingView,
  SignatureView,
  SubmissionView,
  TemplateRow,
  TemplateView,
  Trial,
  WritingDefaults,
  SignatureRequest,
  TemplateFolderRequest,
  TemplateRequest,
  DkimRequest,
} from '@kiraku/core/contract';
import { api } from './api.js';

export const settingsApi = api.injectEndpoints({
  endpoints: (build) => ({
    sending: build.query<SendingView, null>({ query: () => 'settings/sending', providesTags: ['Sending'] }),
    saveSending: build.mutation<SendingView, SendingView>({
      query: (body) => ({ url: 'settings/sending', method: 'PUT', body }),
      invalidatesTags: ['Sending'],
    }),
    writing: build.query<WritingDefaults, null>({ query: () => 'settings/writing', providesTags: ['Writing'] }),
    saveWriting: build.mutation<WritingDefaults, WritingDefaults>({
      query: (body) => ({ url: 'settings/writing', method: 'PUT', body }),
      invalidatesTags: ['Writing'],
    }),
    signatures: build.query<SignatureView[], null>({ query: () => 'signatures', providesTags: ['Signatures'] }),
    addSignature: build.mutation<SignatureView, SignatureRequest>({
      query: (body) => ({ url: 'signatures', method: 'POST', body }),
      invalidatesTags: ['Signatures'],
    }),
    saveSignature: build.mutation<SignatureView, SignatureView>({
      query: ({ id, ...body }) => ({ url: `signatures/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Signatures'],
    }),
    removeSignature: build.mutation<undefined, number>({
      query: (id) => ({ url: `signatures/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Signatures'],
    }),
    templates: build.query<TemplateRow[], null>({ query: () => 'templates', providesTags: ['Templates'] }),
    addTemplate: build.mutation<TemplateView, TemplateRequest>({
      query: (body) => ({ url: 'templates', method: 'POST', body }),
      invalidatesTags: ['Templates'],
    }),
    saveTemplate: build.mutation<TemplateView, TemplateRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `templates/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Templates'],
    }),
    setTemplateFolder: build.mutation<undefined, TemplateFolderRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `templates/${id}/folder`, method: 'PUT', body }),
      invalidatesTags: ['Templates'],
    }),
    removeTemplate: build.mutation<undefined, number>({
      query: (id) => ({ url: `templates/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Templates'],
    }),
    restoreTemplate: build.mutation<undefined, number>({
      query: (id) => ({ url: `templates/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Templates'],
    }),
    submission: build.query<SubmissionView, null>({
      query: () => 'settings/submission',
      providesTags: ['Submission'],
    }),
    saveSubmission: build.mutation<SubmissionView, string[]>({
      query: (addresses) => ({ url: 'settings/submission', method: 'PUT', body: { addresses } }),
      invalidatesTags: ['Submission'],
    }),
    trySubmission: build.mutation<Trial, null>({
      query: () => ({ url: 'settings/submission/try', method: 'POST' }),
    }),
    makePassword: build.mutation<AppPasswordView & { password: string }, string>({
      query: (name) => ({ url: 'settings/submission/passwords', method: 'POST', body: { name } }),
      invalidatesTags: ['Submission'],
    }),
    removePassword: build.mutation<undefined, number>({
      query: (id) => ({ url: `settings/submission/passwords/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Submission'],
    }),
    dkim: build.query<{ dkim: DkimView | null }, null>({ query: () => 'settings/dkim', providesTags: ['Dkim'] }),
    startDkim: build.mutation<{ dkim: DkimView | null }, DkimRequest>({
      query: (body) => ({ url: 'settings/dkim', method: 'PUT', body }),
      invalidatesTags: ['Dkim'],
    }),
    stopDkim: build.mutation<undefined, null>({
      query: () => ({ url: 'settings/dkim', method: 'DELETE' }),
      invalidatesTags: ['Dkim'],
    }),
    tryDkim: build.mutation<Trial, null>({ query: () => ({ url: 'settings/dkim/try', method: 'POST' }) }),
    health: build.query<HealthView, null>({ query: () => 'health', keepUnusedDataFor: 0 }),
    guessAccount: build.mutation<{ guess: AccountGuess | null }, string>({
      query: (address) => ({ url: 'settings/account/guess', params: { address } }),
    }),
  }),
});

export const {
  useSendingQuery,
  useSaveSendingMutation,
  useWritingQuery,
  useSaveWritingMutation,
  useSignaturesQuery,
  useAddSignatureMutation,
  useSaveSignatureMutation,
  useRemoveSignatureMutation,
  useTemplatesQuery,
  useAddTemplateMutation,
  useSaveTemplateMutation,
  useSetTemplateFolderMutation,
  useRemoveTemplateMutation,
  useRestoreTemplateMutation,
  useSubmissionQuery,
  useSaveSubmissionMutation,
  useTrySubmissionMutation,
  useMakePasswordMutation,
  useRemovePasswordMutation,
  useDkimQuery,
  useStartDkimMutation,
  useStopDkimMutation,
  useTryDkimMutation,
  useHealthQuery,
  useGuessAccountMutation,
} = settingsApi;
