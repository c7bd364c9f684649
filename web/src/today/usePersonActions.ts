import dayjs from 'dayjs';
import { markedDoneText, snoozedText } from '@kiraku/core/sentences';
import { useUndo } from '../ui/useUndo.js';
import { useResolveMutation, useSnoozeMutation } from './todayApi.js';

/** Until when somebody can be snoozed. */
export const LATER: [label: string, until: () => dayjs.Dayjs][] = [
  ['for an hour', () => dayjs().add(1, 'hour')],
  ['until this afternoon', () => dayjs().hour(14).minute(0).second(0)],
  ['until tomorrow morning', () => dayjs().add(1, 'day').hour(8).minute(0).second(0)],
  ['until next Monday', () => dayjs().day(8).hour(8).minute(0).second(0)],
];

/** Takes somebody off the list for now, each time with undo. */
export function usePersonActions(personId: number, who: string) {
  const [snooze] = useSnoozeMutation();
  const [resolve] = useResolveMutation();
  const offerUndo = useUndo();
  const confirm = (result: { error?: unknown }, title: string, undo: () => void) => {
    if (!result.error) offerUndo({ key: `resolved ${personId}`, title, undo });
  };
  return {
    snooze: async (label: string, until: number) => {
      confirm(await snooze({ personId, until }), snoozedText(who, label), () => void snooze({ personId, until: null }));
    },
    resolve: async () => {
      confirm(
        await resolve({ personId, resolved: true }),
        markedDoneText(who),
        () => void resolve({ personId, resolved: false }),
      );
    },
  };
}
