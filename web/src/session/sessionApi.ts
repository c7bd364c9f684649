import type { AccountTrial, AccountView, OpenSession, SessionView, TimeFormatView } from '@kiraku/core/contract';
import { api } from '../app/api.js';

/** The account as its form has it: the password is typed, never read. */
export type AccountForm = Omit<AccountView, 'hasSmtpPassword'> & { smtpPassword?: string };

export const sessionApi = api.injectEndpoints({
  endpoints: (build) => ({
    session: build.query<SessionView, null>({ query: () => 'session', providesTags: ['Session'] }),
    saveTimeFormat: build.mutation<undefined, TimeFormatView>({
      query: (body) => ({ url: 'settings/time-format', method: 'PUT', body }),
      invalidatesTags: (_result, error) => (error ? [] : ['Session']),
    }),
    signIn: build.mutation<SessionView, string>({
      query: (passphrase) => ({ url: 'session', method: 'POST', body: { passphrase } }),
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
    changePassphrase: build.mutation<undefined, { current: string; next: string }>({
      query: (body) => ({ url: 'passphrase', method: 'PUT', body }),
      invalidatesTags: ['Sessions'],
    }),
    setUp: build.mutation<SessionView, { code: string; passphrase: string; account: AccountForm }>({
      query: (body) => ({ url: 'session/set-up', method: 'POST', body }),
      invalidatesTags: ['Session'],
    }),
    tryAccount: build.mutation<AccountTrial, AccountForm>({
      query: (body) => ({ url: 'account/try', method: 'POST', body }),
    }),
    saveAccount: build.mutation<AccountView, AccountForm>({
      query: (body) => ({ url: 'account', method: 'PUT', body }),
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
  useSessionsQuery,
  useEndSessionMutation,
  useEndSessionsMutation,
  useChangePassphraseMutation,
  useTryAccountMutation,
  useSaveAccountMutation,
} = sessionApi;
