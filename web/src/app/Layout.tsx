import { Button, Tooltip } from 'antd';
import { lazy, Suspense, useEffect, useState } from 'react';
import { NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import { LastHour } from '../lastHour/LastHour.js';
import { useKeys } from '../keyboard/useKeys.js';
import { MuteButton } from '../notifications/MuteButton.js';
import { onSystemPressed, startWorker } from '../notifications/system.js';
import { useWindowIcon } from '../notifications/useWindowIcon.js';
import { useSavedViewsQuery } from '../shared/api/sentApi.js';
import { useIsPhone } from '../shared/hooks/useIsPhone.js';
import { PAGES } from '../shared/pages.js';
import { KirakuMark } from '../shared/ui/KirakuMark.js';
import { SetUpReminder } from '../setUp/SetUpReminder.js';
import { useAppSelector } from '../shared/store/store.js';
import { MoreMenu } from './MoreMenu.js';
import { PhoneNav } from './PhoneNav.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './layout.module.css';

// Opened when they are wanted.
const SearchDialog = lazy(() => import('../search/SearchDialog.js'));
const KeysHelp = lazy(() => import('../keyboard/KeysHelp.js'));

/** Where notifications appear. */
export const NOTIFICATIONS = 'notifications';

/** What stands around every page: head, the last hour, notifications; on a phone the menu below. */
export function Layout() {
  const navigate = useNavigate();
  const writing = useLocation().pathname.startsWith('/write');
  const isPhone = useIsPhone();
  const areKeysOn = useAppSelector(({ keys }) => keys);
  const [open, setOpen] = useState<'search' | 'keys' | null>(null);
  const placeOf = useStartOfSent();
  useWindowIcon();
  useEffect(() => {
    void startWorker();
    return onSystemPressed((path) => void navigate(path));
  }, [navigate]);
  const search = () => setOpen('search');
  const help = () => setOpen('keys');
  useKeys(areKeysOn, { go: (path) => void navigate(placeOf(path)), search, help });
  const more = <MoreMenu search={search} help={help} isPhone={isPhone} />;
  return (
    <>
      <a className="skip" href="#main">
        Skip to content
      </a>
      <section id={NOTIFICATIONS} aria-label="Notifications (F8)" />
      {!isPhone && (
        <header className={`${styles.head} no-print`}>
          <NavLink to="/today" className={styles.name} aria-label="Kiraku">
            <KirakuMark />
            <span>Kiraku</span>
          </NavLink>
          <nav aria-label="Pages">
            {PAGES.filter(({ isMain }) => isMain).map(({ path, label }) => (
              <NavLink key={path} to={placeOf(path)}>
                {label}
              </NavLink>
            ))}
            {more}
          </nav>
          <div className={styles.end}>
            <LiveState />
            <MuteButton />
            <Button type="text" onClick={search} aria-keyshortcuts="F">
              Search
            </Button>
            {!writing && (
              <Button type="primary" size="large" onClick={() => void navigate('/write')}>
                Write
              </Button>
            )}
          </div>
        </header>
      )}
      <LastHour isFolded={isPhone} />
      {isPhone && <LiveState />}
      <main id="main" className={pageStyles.page} tabIndex={-1}>
        {isPhone && <BackButton />}
        <SetUpReminder />
        <Outlet />
      </main>
      {isPhone && !writing && <PhoneNav placeOf={placeOf} more={more} />}
      <Suspense>
        {open === 'search' && <SearchDialog onClose={() => setOpen(null)} />}
        {open === 'keys' && <KeysHelp onClose={() => setOpen(null)} />}
      </Suspense>
    </>
  );
}

/** On a phone the way back from what was opened in a list, and from writing. */
function BackButton() {
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const [, page, opened] = pathname.split('/');
  if (!opened && page !== 'write') return null;
  // Whoever came from outside, by a notification say, has no page of ours behind them.
  const back = () => void (isFirstPage() ? navigate('/today') : navigate(-1));
  return (
    <Button type="link" className={styles.back} onClick={back}>
      ‹ Back
    </Button>
  );
}

/** As the router counts the pages gone through. */
function isFirstPage(): boolean {
  return ((window.history.state as { idx?: number } | null)?.idx ?? 0) === 0;
}

/** Where a page begins: Sent with the view that was chosen for it. */
function useStartOfSent(): (path: string) => string {
  const { data: views } = useSavedViewsQuery(null);
  const start = views?.find(({ isStart }) => isStart);
  return (path) => (path === '/sent' && start ? `${path}?${start.query}` : path);
}

/** Says so when what is shown may be old; silent otherwise. */
function LiveState() {
  const state = useAppSelector((root) => root.live.state);
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
