import { App } from 'antd';
import { useCallback, useRef } from 'react';
import { useNavigate } from 'react-router';
import type { EventView, LiveUpdate } from '@kiraku/core/contract';
import { deviceWords, happeningWords, noticeWords, personWords, times } from '@kiraku/core/tracking';

const SHOWN_SECONDS = 8;
/** After a notice, what follows within this time is told together. */
const GATHER_MS = 1500;
/** More people than this at once are told as one. */
const MOST_AT_ONCE = 3;

/** Tells in the page what has just happened: at once, and what follows within a moment together. */
export function useNotices(): (update: LiveUpdate) => void {
  const { notification } = App.useApp();
  const navigate = useNavigate();
  const waiting = useRef<EventView[]>([]);
  const timer = useRef<number>(undefined);

  const tell = useCallback(() => {
    const groups = byCopyAndKind(waiting.current.splice(0));
    const open = (key: string, path: string, title: string, description: string) =>
      notification.open({
        key,
        title,
        description,
        duration: SHOWN_SECONDS,
        role: 'status',
        className: 'notice',
        onClick: () => {
          notification.destroy(key);
          void navigate(path);
        },
      });
    if (groups.length > MOST_AT_ONCE) {
      const who = [...new Set(groups.map(([event]) => personWords(event.recipient)))];
      open('many', '/sent', `${groups.length} things happened at once`, who.slice(0, MOST_AT_ONCE).join(', '));
      return;
    }
    for (const [newest, count] of groups) {
      const description = count > 1 ? times(happeningWords(newest), count) : deviceWords(newest);
      open(keyOf(newest), `/sent/${newest.messageId}`, noticeWords(newest), description);
    }
  }, [notification, navigate]);

  /** What turned out to be no look is quietly taken back. */
  const withdraw = useCallback(
    (revoked: EventView[]) => {
      const ids = new Set(revoked.map((event) => event.eventId));
      waiting.current = waiting.current.filter((event) => !ids.has(event.eventId));
      for (const event of revoked) notification.destroy(keyOf(event));
    },
    [notification],
  );

  return useCallback(
    ({ events, corrected }) => {
      withdraw(corrected.filter((event) => !event.counted));
      waiting.current.push(...events.filter((event) => event.counted && event.rings));
      if (waiting.current.length === 0 || timer.current !== undefined) return;
      tell();
      timer.current = window.setTimeout(() => {
        timer.current = undefined;
        if (waiting.current.length > 0) tell();
      }, GATHER_MS);
    },
    [tell, withdraw],
  );
}

const keyOf = ({ copyId, kind }: EventView) => `${copyId} ${kind}`;

/** A burst of the same on one copy is one notice, with its number. */
function byCopyAndKind(events: EventView[]): [newest: EventView, count: number][] {
  const groups = new Map<string, [EventView, number]>();
  for (const event of events) {
    const key = keyOf(event);
    groups.set(key, [event, (groups.get(key)?.[1] ?? 0) + 1]);
  }
  return [...groups.values()];
}
