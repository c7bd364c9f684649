import type { MailboxTrial, MailboxView } from '@kiraku/core/contract';
import { api } from '../app/api.js';

/** What is chosen of it; an empty password means the stored one. */
export type MailboxForm = Omit<MailboxView, 'hasPassword' | 'lmtpPort' | 'state'> & { password?: string };

export const mailboxApi = api.injectEndpoints({
  endpoints: (build) => ({
    mailbox: build.query<MailboxView, null>({ query: () => 'mailbox', providesTags: ['Mailbox'] }),
    saveMailbox: build.mutation<MailboxView, MailboxForm>({
      query: (body) => ({ url: 'mailbox', method: 'PUT', body }),
      invalidatesTags: (_result, error) => (error ? [] : ['Mailbox', 'Followups']),
    }),
    tryMailbox: build.mutation<MailboxTrial, MailboxForm>({
      query: (body) => ({ url: 'mailbox/try', method: 'POST', body }),
    }),
    retryMail: build.mutation<undefined, number>({
      query: (id) => ({ url: `mailbox/failures/${id}/retry`, method: 'POST' }),
      invalidatesTags: ['Mailbox'],
    }),
  }),
});

export const { useMailboxQuery, useSaveMailboxMutation, useTryMailboxMutation, useRetryMailMutation } = mailboxApi;
