import type {
  BestSendTime,
  CalendarRequest,
  CalendarView,
  DraftContent,
  DraftReminder,
  FollowupsView,
  IncomingVerdict,
  IncomingView,
  PlanView,
  ReminderView,
  NewReminderRequest,
  RestoreReminderRequest,
  StepRequest,
} from '@kiraku/core/contract';
import { api } from './api.js';
import { MY_ZONE } from '../time/zone.js';

/** What is said of a doubtful reply; `copyId` says whose it is, where that was asked. */
interface Verdict {
  id: number;
  messageId: number;
  verdict: IncomingVerdict;
  copyId: number | null;
}

const followupsApi = api.injectEndpoints({
  endpoints: (build) => ({
    followups: build.query<FollowupsView, number | null>({
      query: (message) => `followups${message === null ? '' : `?message=${message}`}`,
      providesTags: ['Followups'],
    }),
    bestSendTime: build.query<{ best: BestSendTime | null }, number | null>({
      query: (person) => ({
        url: 'followups/best-send-time',
        params: { zone: MY_ZONE, ...(person !== null && { person }) },
      }),
    }),
    addReminder: build.mutation<ReminderView[], NewReminderRequest>({
      query: (body) => ({ url: 'reminders', method: 'POST', body }),
      invalidatesTags: ['Followups'],
    }),
    saveReminder: build.mutation<ReminderView, DraftReminder & { id: number }>({
      query: ({ id, ...body }) => ({ url: `reminders/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Followups'],
    }),
    snoozeReminder: build.mutation<ReminderView, { id: number; when: string }>({
      query: ({ id, when }) => ({ url: `reminders/${id}/snooze`, method: 'POST', body: { when, zone: MY_ZONE } }),
      invalidatesTags: ['Followups'],
    }),
    restoreReminder: build.mutation<ReminderView, RestoreReminderRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `reminders/${id}/due-at`, method: 'PUT', body }),
      invalidatesTags: ['Followups'],
    }),
    setReminderDone: build.mutation<ReminderView, { id: number; done: boolean }>({
      query: ({ id, done }) => ({ url: `reminders/${id}/done`, method: done ? 'POST' : 'DELETE' }),
      invalidatesTags: ['Followups'],
    }),
    removeReminder: build.mutation<undefined, number>({
      query: (id) => ({ url: `reminders/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Followups'],
    }),
    stopPlan: build.mutation<PlanView, number>({
      query: (id) => ({ url: `plans/${id}/stop`, method: 'POST' }),
      invalidatesTags: ['Followups'],
    }),
    saveStep: build.mutation<PlanView, Omit<StepRequest, 'zone'> & { id: number }>({
      query: ({ id, ...body }) => ({ url: `plan-steps/${id}`, method: 'PUT', body: { ...body, zone: MY_ZONE } }),
      invalidatesTags: ['Followups'],
    }),
    leaveStepOut: build.mutation<PlanView, number>({
      query: (id) => ({ url: `plan-steps/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Followups'],
    }),
    stepBody: build.query<Pick<DraftContent, 'subject' | 'html'>, number>({
      query: (id) => `plan-steps/${id}/body`,
      providesTags: ['Followups'],
    }),
    calendar: build.query<CalendarView, null>({ query: () => 'calendar', providesTags: ['Calendar'] }),
    renewCalendar: build.mutation<CalendarView, CalendarRequest>({
      query: (body) => ({ url: 'calendar', method: 'POST', body }),
      invalidatesTags: ['Calendar'],
    }),
    closeCalendar: build.mutation<undefined, null>({
      query: () => ({ url: 'calendar', method: 'DELETE' }),
      invalidatesTags: ['Calendar'],
    }),
    incoming: build.query<IncomingView[], number>({
      query: (id) => `messages/${id}/incoming`,
      providesTags: (_result, _error, id) => ['Message', { type: 'Message', id }],
    }),
    decideIncoming: build.mutation<undefined, Verdict>({
      query: ({ id, verdict, copyId }) => ({
        url: `incoming/${id}/verdict`,
        method: 'PUT',
        body: { verdict, ...(copyId !== null && { copyId }) },
      }),
      invalidatesTags: (_result, error, { messageId }) =>
        error ? [] : [{ type: 'Message', id: messageId }, 'Followups', 'Today'],
    }),
  }),
});

export const {
  useFollowupsQuery,
  useBestSendTimeQuery,
  useAddReminderMutation,
  useSaveReminderMutation,
  useSnoozeReminderMutation,
  useRestoreReminderMutation,
  useSetReminderDoneMutation,
  useRemoveReminderMutation,
  useStopPlanMutation,
  useSaveStepMutation,
  useLeaveStepOutMutation,
  useStepBodyQuery,
  useCalendarQuery,
  useRenewCalendarMutation,
  useCloseCalendarMutation,
  useIncomingQuery,
  useDecideIncomingMutation,
} = followupsApi;
