import type { MailboxTrial, MailboxView, MailboxRequest, Trial } from '@kiraku/core/contract';
import { api } from './api.js';

export const mailboxApi = api.injectEndpoints({
  endpoints: (build) => ({
    mailbox: build.query<MailboxView, null>({ query: () => 'settings/mailbox', providesTags: ['Mailbox'] }),
    saveMailbox: build.mutation<MailboxView, MailboxRequest>({
      query: (body) => ({ url: 'settings/mailbox', method: 'PUT', body }),
      invalidatesTags: (_result, error) => (error ? [] : ['Mailbox', 'Followups']),
    }),
    tryMailbox: build.mutation<MailboxTrial, MailboxRequest>({
      query: (body) => ({ url: 'settings/mailbox/try', method: 'POST', body }),
    }),
    tryLmtp: build.mutation<Trial, null>({
      query: () => ({ url: 'settings/mailbox/lmtp/try', method: 'POST' }),
    }),
    retryMail: build.mutation<undefined, number>({
      query: (id) => ({ url: `settings/mailbox/failures/${id}/retry`, method: 'POST' }),
      invalidatesTags: ['Mailbox'],
    }),
  }),
});

export const {
  useMailboxQuery,
  useSaveMailboxMutation,
  useTryLmtpMutation,
  useTryMailboxMutation,
  useRetryMailMutation,
} = mailboxApi;
