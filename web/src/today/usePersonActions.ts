import { markedDoneText, snoozedText } from '@kiraku/core/sentences';
import type { LaterTime } from '@kiraku/core/time';
import { useUndo } from '../shared/hooks/useUndo.js';
import { useResolveMutation, useSnoozeMutation } from '../shared/api/todayApi.js';

/** Takes somebody off the list for now, each time with undo. */
export function usePersonActions(personId: number, who: string) {
  const [snooze] = useSnoozeMutation();
  const [resolve] = useResolveMutation();
  const offerUndo = useUndo();
  const confirm = (result: { error?: unknown }, title: string, undo: () => void) => {
    if (!result.error) offerUndo({ key: `resolved ${personId}`, title, undo });
  };
  return {
    snooze: async ({ label, at: until }: LaterTime) => {
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
