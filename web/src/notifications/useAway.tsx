import { App } from 'antd';
import { useCallback, useEffect, useRef, type RefObject } from 'react';
import { Link } from 'react-router';
import type { NotificationView, NotificationSettingsView } from '@kiraku/core/contract';
import { isQuiet } from '@kiraku/core/notifications';
import { SECOND } from '@kiraku/core/time';
import { useAppDispatch, useAppSelector } from '../shared/store/store.js';
import { useNow } from '../shared/hooks/useNow.js';
import { When } from '../shared/ui/When.js';
import { unseenSlice } from '../shared/store/unseenSlice.js';
import { useLazyMissedQuery, useSeenMutation } from '../shared/api/notificationsApi.js';
import styles from './notifications.module.css';

/** What was seen is reported after as long, so that a burst is one report. */
const REPORT_MS = SECOND;
const MISSED = 'missed';
/** Windows of one browser tell each other that somebody looked. */
const CHANNEL = 'kiraku.looked';

/** Whether somebody can be looking at this window. */
export function isLookedAt(): boolean {
  return document.visibilityState === 'visible' && document.hasFocus();
}

/**
 * Keeps what came while nobody looked: counts it, and lists it once when somebody comes back, also after a break of the
 * live stream, and when quiet hours end.
 *
 * @param shown tags of the notifications that stand in the page this moment
 * @returns to be called with what has just come
 */
export function useAway(
  shown: RefObject<ReadonlySet<string>>,
  settings: NotificationSettingsView | undefined,
): (notifications: NotificationView[]) => void {
  const { notification } = App.useApp();
  const dispatch = useAppDispatch();
  const live = useAppSelector((root) => root.live.state);
  const [loadMissed] = useLazyMissedQuery();
  const [seen] = useSeenMutation();
  const channel = useRef<BroadcastChannel>(undefined);
  const report = useRef<{ timer?: number; eventId: number }>({ eventId: 0 });
  const latest = useRef(settings);
  useEffect(() => {
    latest.current = settings;
  });

  const saw = useCallback(
    (eventId: number) => {
      report.current.eventId = Math.max(eventId, report.current.eventId);
      report.current.timer ??= window.setTimeout(() => {
        report.current.timer = undefined;
        void seen(report.current.eventId);
        channel.current?.postMessage(null);
      }, REPORT_MS);
    },
    [seen],
  );

  const comeBack = useCallback(async () => {
    if (!isLookedAt() || isQuietAt(latest.current, Date.now())) return;
    dispatch(unseenSlice.actions.looked());
    const { data } = await loadMissed(null);
    const [newest] = data?.notifications ?? [];
    if (!data || !newest) return;
    saw(newest.eventId);
    const unseen = data.notifications.filter(({ tag }) => !shown.current.has(tag));
    if (unseen.length > 0) {
      notification.open({
        key: MISSED,
        title: 'While you were away',
        description: <Missed notifications={unseen} leftOut={data.leftOut} put={() => notification.destroy(MISSED)} />,
        duration: false,
        role: 'status',
      });
    }
  }, [dispatch, loadMissed, notification, saw, shown]);

  useEffect(() => {
    channel.current = new BroadcastChannel(CHANNEL);
    channel.current.addEventListener('message', () => dispatch(unseenSlice.actions.looked()));
    return () => channel.current?.close();
  }, [dispatch]);

  useEffect(() => {
    const back = () => void comeBack();
    document.addEventListener('visibilitychange', back);
    window.addEventListener('focus', back);
    return () => {
      document.removeEventListener('visibilitychange', back);
      window.removeEventListener('focus', back);
    };
  }, [comeBack]);

  // At the beginning, after each break, and when it is not quiet any more.
  const isLoud = !isQuietAt(settings, useNow());
  useEffect(() => {
    if (live === 'live' && settings && isLoud) void comeBack();
  }, [live, settings, isLoud, comeBack]);

  return useCallback(
    (notifications) => {
      const notified = notifications.filter(({ kind }) => kind !== null);
      if (notified.length === 0) return;
      if (isLookedAt() && !isQuietAt(latest.current, Date.now())) saw(notified.at(-1)!.eventId);
      else dispatch(unseenSlice.actions.came(notified.length));
    },
    [dispatch, saw],
  );
}

function isQuietAt(settings: NotificationSettingsView | undefined, now: number): boolean {
  return settings !== undefined && isQuiet(settings, now);
}

function Missed({ notifications, leftOut, put }: { notifications: NotificationView[]; leftOut: number; put(): void }) {
  return (
    <>
      <ul className={styles.missed}>
        {notifications.map(({ tag, path, title, at }) => (
          <li key={tag}>
            <Link to={path} onClick={put}>
              {title}
            </Link>{' '}
            <span className="soft">
              <When at={at} />
            </span>
          </li>
        ))}
      </ul>
      {leftOut > 0 && (
        <Link to="/sent" onClick={put}>
          and {leftOut} more
        </Link>
      )}
    </>
  );
}
