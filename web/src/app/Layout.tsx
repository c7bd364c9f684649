import { Button, Tooltip } from 'antd';
import { NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import { LastHour } from '../lastHour/LastHour.js';
import { useNotices } from '../notices/useNotices.js';
import { KirakuMark } from './KirakuMark.js';
import { useAppSelector } from './store.js';
import { useLive } from './useLive.js';

const PAGES = [
  ['/today', 'Today'],
  ['/sent', 'Sent'],
  ['/drafts', 'Drafts'],
  ['/outbox', 'Outbox'],
  ['/templates', 'Templates'],
  ['/settings', 'Settings'],
] as const;

/** What stands around every page of the desk: head, the last hour, notices. */
export function Layout() {
  const navigate = useNavigate();
  const writing = useLocation().pathname.startsWith('/write');
  useLive(useNotices());
  return (
    <>
      <a className="skip" href="#main">
        To the page
      </a>
      <header className="head">
        <NavLink to="/today" className="name" aria-label="Kiraku">
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
        <div className="end">
          <LiveState />
          {!writing && (
            <Button type="primary" size="large" onClick={() => void navigate('/write')}>
              Write
            </Button>
          )}
        </div>
      </header>
      <LastHour />
      <main id="main" className="page" tabIndex={-1}>
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
        <Tooltip title="Nothing is lost: what happens meanwhile appears when Kiraku answers again.">
          Not connected; trying again …
        </Tooltip>
      )}
    </span>
  );
}
