import { App, Button } from 'antd';
import { useCallback, useEffect, useRef } from 'react';
import { Link } from 'react-router';
import type { LiveUpdate, NotificationView } from '@kiraku/core/contract';
import { tagOf } from '@kiraku/core/notifications';
import { manyNotifications } from '@kiraku/core/sentences';
import { playSound } from './sound.js';
import { askSystem, showSystem, systemState, withdrawSystem } from './system.js';
import { isLookedAt, useAway } from './useAway.js';
import { useNotificationSettingsQuery } from '../shared/api/notificationsApi.js';

const NOTIFICATION_SECONDS = 8;
/** After a notification, what follows within this time is notified together. */
const GATHER_MS = 1500;
/** More notifications than this at once are shown as one. */
const MAX_POPUPS = 3;
/** Leads the keyboard to the newest notification. */
const NOTIFICATIONS_KEY = 'F8';
/** Remembers that it was asked whether to allow desktop notifications, so that it is asked once. */
const ASKED = 'kiraku.asked';

/** Notifies of what has just happened: at once, and what follows within a moment together. */
export function useNotifications(): (update: LiveUpdate) => void {
  const { notification } = App.useApp();
  const { data: settings } = useNotificationSettingsQuery(null);
  const stay = settings?.stay ?? false;
  const waiting = useRef(new Map<string, NotificationView>());
  const shown = useRef(new Set<string>());
  const timer = useRef<number>(undefined);
  const came = useAway(shown, settings);

  const open = useCallback(
    (key: string, path: string, title: string, detail: string) => {
      shown.current.add(key);
      const askToo = systemState() === 'default' && localStorage.getItem(ASKED) === null;
      notification.open({
        key,
        title: (
          <Link to={path} className="plain-link" onClick={() => notification.destroy(key)}>
            {title}
          </Link>
        ),
        description: detail,
        duration: stay ? false : NOTIFICATION_SECONDS,
        role: 'status',
        className: 'notification',
        onClose: () => shown.current.delete(key),
        actions: askToo && <AskSystem />,
      });
    },
    [notification, stay],
  );

  useEffect(() => {
    const toNewest = (event: KeyboardEvent) => {
      if (event.key !== NOTIFICATIONS_KEY) return;
      event.preventDefault();
      [...document.querySelectorAll<HTMLElement>('.ant-notification a')].at(-1)?.focus();
    };
    document.addEventListener('keydown', toNewest);
    return () => document.removeEventListener('keydown', toNewest);
  }, []);

  const notify = useCallback(() => {
    const notifications = [...waiting.current.values()];
    waiting.current.clear();
    if (notifications.some(({ by }) => by.includes('sound'))) playSound();
    const inPage = notifications.filter(({ by, tag }) => by.includes('page') || shown.current.has(tag));
    if (inPage.length > MAX_POPUPS) {
      const titles = inPage.slice(0, MAX_POPUPS).map(({ title }) => title);
      open('many', '/sent', ...manyNotifications(inPage.length, titles));
    } else {
      for (const { tag, path, title, detail } of inPage) open(tag, path, title, detail);
    }
    if (isLookedAt()) return;
    for (const one of notifications.filter(({ by }) => by.includes('desktop')).slice(-MAX_POPUPS)) void showSystem(one);
  }, [open]);

  return useCallback(
    ({ notifications, corrected }) => {
      // What turned out to be no open is quietly withdrawn.
      for (const tag of corrected.filter((event) => !event.counted).map(tagOf)) {
        waiting.current.delete(tag);
        notification.destroy(tag);
        void withdrawSystem(tag);
      }
      came(notifications);
      // Of what belongs together the last one has the words, and notifies if any of them does.
      for (const one of notifications) {
        const by = [...new Set([...(waiting.current.get(one.tag)?.by ?? []), ...one.by])];
        if (by.length > 0 || shown.current.has(one.tag)) waiting.current.set(one.tag, { ...one, by });
      }
      if (waiting.current.size === 0 || timer.current !== undefined) return;
      notify();
      timer.current = window.setTimeout(() => {
        timer.current = undefined;
        if (waiting.current.size > 0) notify();
      }, GATHER_MS);
    },
    [came, notification, notify],
  );
}

/** Offered with the first notification: then one sees what it is about. */
function AskSystem() {
  return (
    <Button
      size="small"
      onClick={() => {
        localStorage.setItem(ASKED, 'yes');
        void askSystem();
      }}
    >
      Allow desktop notifications
    </Button>
  );
}
