import { Skeleton } from 'antd';
import { useEffect, useMemo } from 'react';
import { Navigate, useLocation } from 'react-router';
import type { SessionView, TimeFormatView } from '@kiraku/core/contract';
import { renewedAddress } from '@kiraku/core/sent';
import { useSaveTimeFormatMutation, useSessionQuery } from '../shared/api/sessionApi.js';
import { applyTimeFormat, usedFormat } from '../shared/time/timeFormat.js';
import { useNotifications } from '../notifications/useNotifications.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Layout } from './Layout.js';
import { useLive } from './useLive.js';
import pageStyles from '../shared/ui/page.module.css';

/** All pages, for who has signed in; the others sign in first, and are led back here. */
export function SignedIn() {
  const { data: session, error, refetch } = useSessionQuery(null);
  const { pathname, search } = useLocation();
  const renewed = renewedAddress(pathname, search);
  // Only where nothing is known yet: whoever is in the middle of a message keeps it while the connection is away.
  if (!session) return error ? <LoadFailed error={error} retry={() => void refetch()} /> : <HydrateFallback />;
  if (!session.setUp) return <Navigate to="/set-up" replace />;
  if (!session.signedIn) return <Navigate to={`/sign-in?to=${encodeURIComponent(pathname + search)}`} replace />;
  if (renewed !== null) return <Navigate to={renewed} replace />;
  return <Formatted session={session} />;
}

/** All pages, kept up to date, with times and dates in the user’s format; drawn anew when that changes. */
function Formatted({ session: { timeFormat: stored, liveAfter } }: { session: SessionView }) {
  useLive(liveAfter, useNotifications());
  const [save] = useSaveTimeFormatMutation();
  const format = usedFormat(stored);
  const name = JSON.stringify(format);
  const isKnown = stored !== null && name === JSON.stringify({ ...format, ...stored });
  useMemo(() => applyTimeFormat(JSON.parse(name) as TimeFormatView), [name]);
  // Emails to the user follow the browser that was used last.
  useEffect(() => {
    if (!isKnown) void save(JSON.parse(name) as TimeFormatView);
  }, [isKnown, name, save]);
  return <Layout key={name} />;
}

/** Stands where a page will be. */
export function HydrateFallback() {
  return (
    <div className={pageStyles.page}>
      <Skeleton active title={false} paragraph={{ rows: 10 }} />
    </div>
  );
}
