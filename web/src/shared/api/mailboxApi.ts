import type { MailboxTrial, MailboxView, MailboxRequest } from '@kiraku/core/contract';
import { api } from './api.js';

/** What is chosen of it; an empty password means the stored one. */

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
    retryMail: build.mutation<undefined, number>({
      query: (id) => ({ url: `settings/mailbox/failures/${id}/retry`, method: 'POST' }),
      invalidatesTags: ['Mailbox'],
    }),
  }),
});

export const { useMailboxQuery, useSaveMailboxMutation, useTryMailboxMutation, useRetryMailMutation } = mailboxApi;
