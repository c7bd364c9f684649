import dayjs from 'dayjs';
import { useUndo } from '../ui/useUndo.js';
import { useDismissMutation, usePutOffMutation } from './todayApi.js';

/** Until when somebody can be put off. */
export const LATER: [label: string, until: () => dayjs.Dayjs][] = [
  ['for an hour', () => dayjs().add(1, 'hour')],
  ['until this afternoon', () => dayjs().hour(14).minute(0).second(0)],
  ['until tomorrow morning', () => dayjs().add(1, 'day').hour(8).minute(0).second(0)],
  ['until next Monday', () => dayjs().day(8).hour(8).minute(0).second(0)],
];

/** Takes somebody off the list for now, each time with the way back. */
export function useSettled(personId: number, who: string) {
  const [putOff] = usePutOffMutation();
  const [dismiss] = useDismissMutation();
  const tellUndo = useUndo();
  const told = (result: { error?: unknown }, title: string, undo: () => void) => {
    if (!result.error) tellUndo({ key: `settled ${personId}`, title, undo });
  };
  return {
    putOff: async (label: string, until: number) => {
      told(
        await putOff({ personId, until }),
        `${who} is put off ${label}`,
        () => void putOff({ personId, until: null }),
      );
    },
    settle: async () => {
      told(
        await dismiss({ personId, dismissed: true }),
        `${who} is settled until they do something else`,
        () => void dismiss({ personId, dismissed: false }),
      );
    },
  };
}
