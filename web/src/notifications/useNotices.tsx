import { App, Button } from 'antd';
import { useCallback, useEffect, useRef } from 'react';
import { Link } from 'react-router';
import type { LiveUpdate, Notice } from '@kiraku/core/contract';
import { tagOf } from '@kiraku/core/notifications';
import { playSound } from './sound.js';
import { askSystem, showSystem, systemState, withdrawSystem } from './system.js';
import { isLookedAt, useAway } from './useAway.js';
import { useNoticesQuery } from './noticesApi.js';

const SHOWN_SECONDS = 8;
/** After a notice, what follows within this time is told together. */
const GATHER_MS = 1500;
/** More notices than this at once are told as one. */
const MOST_AT_ONCE = 3;
/** Leads the keyboard to the newest notice. */
const TO_NOTICES = 'F8';
/** Remembers that it was asked whether the system shall tell, so that it is asked once. */
const ASKED = 'kiraku.asked';

/** Tells what has just happened: at once, and what follows within a moment together. */
export function useNotices(): (update: LiveUpdate) => void {
  const { notification } = App.useApp();
  const { data: settings } = useNoticesQuery(null);
  const stay = settings?.stay ?? false;
  const waiting = useRef(new Map<string, Notice>());
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
        duration: stay ? false : SHOWN_SECONDS,
        role: 'status',
        className: 'notice',
        onClose: () => shown.current.delete(key),
        actions: askToo && <AskSystem />,
      });
    },
    [notification, stay],
  );

  useEffect(() => {
    const toNewest = (event: KeyboardEvent) => {
      if (event.key !== TO_NOTICES) return;
      event.preventDefault();
      [...document.querySelectorAll<HTMLElement>('.ant-notification a')].at(-1)?.focus();
    };
    document.addEventListener('keydown', toNewest);
    return () => document.removeEventListener('keydown', toNewest);
  }, []);

  const tell = useCallback(() => {
    const notices = [...waiting.current.values()];
    waiting.current.clear();
    if (notices.some(({ by }) => by.includes('sound'))) playSound();
    const inPage = notices.filter(({ by, tag }) => by.includes('page') || shown.current.has(tag));
    if (inPage.length > MOST_AT_ONCE) {
      const detail = inPage.slice(0, MOST_AT_ONCE).map(({ title }) => title);
      open('many', '/sent', `${inPage.length} things happened at once`, `${detail.join('; ')} …`);
    } else {
      for (const { tag, path, title, detail } of inPage) open(tag, path, title, detail);
    }
    if (isLookedAt()) return;
    for (const notice of notices.filter(({ by }) => by.includes('system')).slice(-MOST_AT_ONCE))
      void showSystem(notice);
  }, [open]);

  return useCallback(
    ({ notices, corrected }) => {
      // What turned out to be no look is quietly taken back.
      for (const tag of corrected.filter((event) => !event.counted).map(tagOf)) {
        waiting.current.delete(tag);
        notification.destroy(tag);
        void withdrawSystem(tag);
      }
      came(notices);
      // Of what belongs together the last one has the words, and rings if any of them does.
      for (const notice of notices) {
        const by = [...new Set([...(waiting.current.get(notice.tag)?.by ?? []), ...notice.by])];
        if (by.length > 0 || shown.current.has(notice.tag)) waiting.current.set(notice.tag, { ...notice, by });
      }
      if (waiting.current.size === 0 || timer.current !== undefined) return;
      tell();
      timer.current = window.setTimeout(() => {
        timer.current = undefined;
        if (waiting.current.size > 0) tell();
      }, GATHER_MS);
    },
    [came, notification, tell],
  );
}

/** Offered with the first notice: then one sees what it is about. */
function AskSystem() {
  return (
    <Button
      size="small"
      onClick={() => {
        localStorage.setItem(ASKED, 'yes');
        void askSystem();
      }}
    >
      Tell me behind other windows, too
    </Button>
  );
}
