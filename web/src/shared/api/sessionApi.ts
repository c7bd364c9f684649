import type {
  Trial,
  AccountView,
  CodesSecret,
  CodesView,
  NewPasskeyRequest,
  PasskeyOptions,
  PasskeyReply,
  PasskeyView,
  RecoveryCodes,
  SignInRequest,
  OpenSession,
  SessionView,
  TimeFormatView,
  PassphraseRequest,
  SetUpRequest,
  SetUpStep,
  AccountRequest,
} from '@kiraku/core/contract';
import { api } from './api.js';

export const sessionApi = api.injectEndpoints({
  endpoints: (build) => ({
    session: build.query<SessionView, null>({ query: () => 'session', providesTags: ['Session'] }),
    saveTimeFormat: build.mutation<undefined, TimeFormatView>({
      query: (body) => ({ url: 'settings/time-format', method: 'PUT', body }),
      invalidatesTags: (_result, error) => (error ? [] : ['Session']),
    }),
    signIn: build.mutation<SessionView, SignInRequest>({
      query: (body) => ({ url: 'session', method: 'POST', body }),
      invalidatesTags: ['Session'],
    }),
    signOut: build.mutation<SessionView, null>({
      query: () => ({ url: 'session', method: 'DELETE' }),
      invalidatesTags: ['Session'],
    }),
    sessions: build.query<OpenSession[], null>({ query: () => 'sessions', providesTags: ['Sessions'] }),
    endSession: build.mutation<undefined, string>({
      query: (id) => ({ url: `sessions/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Sessions'],
    }),
    endSessions: build.mutation<undefined, null>({
      query: () => ({ url: 'sessions', method: 'DELETE' }),
      invalidatesTags: ['Session'],
    }),
    changePassphrase: build.mutation<undefined, PassphraseRequest>({
      query: (body) => ({ url: 'settings/passphrase', method: 'PUT', body }),
      invalidatesTags: ['Sessions'],
    }),
    setUp: build.mutation<SessionView, SetUpRequest>({
      query: (body) => ({ url: 'session/set-up', method: 'POST', body }),
      invalidatesTags: ['Session'],
    }),
    passkeyIsThere: build.query<{ isThere: boolean }, null>({ query: () => 'session/passkey' }),
    askForPasskey: build.mutation<PasskeyOptions, null>({ query: () => ({ url: 'session/passkey', method: 'POST' }) }),
    signInByPasskey: build.mutation<undefined, PasskeyReply>({
      query: (body) => ({ url: 'session/passkey', method: 'PUT', body }),
      invalidatesTags: (_result, error) => (error ? [] : ['Session']),
    }),
    passkeys: build.query<PasskeyView[], null>({ query: () => 'settings/passkeys', providesTags: ['Passkeys'] }),
    beginPasskey: build.mutation<PasskeyOptions, string>({
      query: (passphrase) => ({ url: 'settings/passkeys', method: 'POST', body: { passphrase } }),
    }),
    addPasskey: build.mutation<PasskeyView[], NewPasskeyRequest>({
      query: (body) => ({ url: 'settings/passkeys', method: 'PUT', body }),
      invalidatesTags: ['Passkeys'],
    }),
    removePasskey: build.mutation<undefined, string>({
      query: (id) => ({ url: `settings/passkeys/${encodeURIComponent(id)}`, method: 'DELETE' }),
      invalidatesTags: ['Passkeys'],
    }),
    codes: build.query<CodesView, null>({ query: () => 'settings/codes', providesTags: ['Codes'] }),
    beginCodes: build.mutation<CodesSecret, string>({
      query: (passphrase) => ({ url: 'settings/codes', method: 'POST', body: { passphrase } }),
    }),
    confirmCodes: build.mutation<RecoveryCodes, string>({
      query: (code) => ({ url: 'settings/codes', method: 'PUT', body: { code } }),
      invalidatesTags: (_result, error) => (error ? [] : ['Codes']),
    }),
    turnOffCodes: build.mutation<undefined, string>({
      query: (passphrase) => ({ url: 'settings/codes', method: 'DELETE', body: { passphrase } }),
      invalidatesTags: (_result, error) => (error ? [] : ['Codes']),
    }),
    setSetUpStep: build.mutation<undefined, SetUpStep | null>({
      query: (step) => ({ url: 'settings/set-up-step', method: 'PUT', body: { step } }),
      invalidatesTags: ['Session'],
    }),
    tryAccount: build.mutation<Trial, AccountRequest>({
      query: (body) => ({ url: 'settings/account/try', method: 'POST', body }),
    }),
    saveAccount: build.mutation<AccountView, AccountRequest>({
      query: (body) => ({ url: 'settings/account', method: 'PUT', body }),
      invalidatesTags: ['Session'],
    }),
  }),
});

export const {
  useSessionQuery,
  useSaveTimeFormatMutation,
  useSignInMutation,
  useSignOutMutation,
  useSetUpMutation,
  useSetSetUpStepMutation,
  useCodesQuery,
  usePasskeyIsThereQuery,
  useAskForPasskeyMutation,
  useSignInByPasskeyMutation,
  usePasskeysQuery,
  useBeginPasskeyMutation,
  useAddPasskeyMutation,
  useRemovePasskeyMutation,
  useBeginCodesMutation,
  useConfirmCodesMutation,
  useTurnOffCodesMutation,
  useSessionsQuery,
  useEndSessionMutation,
  useEndSessionsMutation,
  useChangePassphraseMutation,
  useTryAccountMutation,
  useSaveAccountMutation,
} = sessionApi;
