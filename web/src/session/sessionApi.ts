import type { AccountTrial, AccountView, SessionView } from '@kiraku/core/contract';
import { api } from '../app/api.js';

/** The account as its form has it: the password is typed, never read. */
export type AccountForm = Omit<AccountView, 'hasSmtpPassword'> & { smtpPassword?: string };

export const sessionApi = api.injectEndpoints({
  endpoints: (build) => ({
    session: build.query<SessionView, null>({ query: () => 'session', providesTags: ['Session'] }),
    signIn: build.mutation<SessionView, string>({
      query: (passphrase) => ({ url: 'session', method: 'POST', body: { passphrase } }),
      invalidatesTags: ['Session'],
    }),
    signOut: build.mutation<SessionView, null>({
      query: () => ({ url: 'session', method: 'DELETE' }),
      invalidatesTags: ['Session'],
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
  useSignInMutation,
  useSignOutMutation,
  useSetUpMutation,
  useTryAccountMutation,
  useSaveAccountMutation,
} = sessionApi;
