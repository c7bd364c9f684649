import { Button, Tooltip } from 'antd';
import { useEffect } from 'react';
import { NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import { LastHour } from '../lastHour/LastHour.js';
import { MuteButton } from '../notifications/MuteButton.js';
import { onSystemPressed, startWorker } from '../notifications/system.js';
import { useNotifications } from '../notifications/useNotifications.js';
import { useWindowIcon } from '../notifications/useWindowIcon.js';
import { KirakuMark } from '../shared/ui/KirakuMark.js';
import { useAppSelector } from '../shared/store/store.js';
import { useLive } from './useLive.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './layout.module.css';

const PAGES = [
  ['/today', 'Today'],
  ['/sent', 'Sent'],
  ['/followups', 'Follow-ups'],
  ['/drafts', 'Drafts'],
  ['/outbox', 'Outbox'],
  ['/files', 'Files'],
  ['/people', 'People'],
  ['/templates', 'Templates'],
  ['/reports', 'Reports'],
  ['/settings', 'Settings'],
] as const;

/** Where notifications appear. */
export const NOTIFICATIONS = 'notifications';

/** What stands around every page of the desk: head, the last hour, notifications. */
export function Layout() {
  const navigate = useNavigate();
  const writing = useLocation().pathname.startsWith('/write');
  useLive(useNotifications());
  useWindowIcon();
  useEffect(() => {
    void startWorker();
    return onSystemPressed((path) => void navigate(path));
  }, [navigate]);
  return (
    <>
      <a className="skip" href="#main">
        Skip to content
      </a>
      <section id={NOTIFICATIONS} aria-label="Notifications (F8)" />
      <header className={`${styles.head} no-print`}>
        <NavLink to="/today" className={styles.name} aria-label="Kiraku">
          <KirakuMark />
          <span>Kiraku</span>
        </NavLink>
        <nav aria-label="Pages">
          {PAGES.map(([path, label]) => (
            <NavLink key={path} to={path}>
              {label}
            </NavLink>
          ))}
        </nav>
        <div className={styles.end}>
          <LiveState />
          <MuteButton />
          {!writing && (
            <Button type="primary" size="large" onClick={() => void navigate('/write')}>
              Write
            </Button>
          )}
        </div>
      </header>
      <LastHour />
      <main id="main" className={pageStyles.page} tabIndex={-1}>
        <Outlet />
      </main>
    </>
  );
}

/** Says so when what is shown may be old; silent otherwise. */
function LiveState() {
  const state = useAppSelector((root) => root.live);
  return (
    <span role="status" className="tone-needs-you">
      {state === 'lost' && (
        <Tooltip title="Nothing is lost: new activity appears when Kiraku can be reached again.">
          Not connected; trying again …
        </Tooltip>
      )}
    </span>
  );
}
