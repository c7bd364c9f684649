import { App, Skeleton } from 'antd';
import {
  createBrowserRouter,
  Navigate,
  Outlet,
  useLocation,
  type LazyRouteFunction,
  type RouteObject,
} from 'react-router';
import { useEffect, useMemo, type ComponentType } from 'react';
import type { SessionView, TimeFormatView } from '@kiraku/core/contract';
import { renewedAddress } from '@kiraku/core/sent';
import { useSaveTimeFormatMutation, useSessionQuery } from '../shared/api/sessionApi.js';
import { applyTimeFormat, usedFormat } from '../shared/time/timeFormat.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Layout, NOTIFICATIONS } from './Layout.js';
import { RouteFailed } from './RouteFailed.js';

/** A page whose code is loaded when it is gone to. */
function page(load: () => Promise<{ default: ComponentType }>): LazyRouteFunction<RouteObject> {
  return async () => ({ Component: (await load()).default });
}

export const router = createBrowserRouter([
  {
    // Within the router, so that notifications and questions can lead somewhere.
    element: <Messages />,
    children: [
      { path: '/sign-in', lazy: page(() => import('../session/SignInPage.js')), HydrateFallback },
      { path: '/set-up', lazy: page(() => import('../session/SetUpPage.js')), HydrateFallback },
      {
        element: <SignedIn />,
        errorElement: <RouteFailed />,
        HydrateFallback,
        children: [
          { path: '/today', lazy: page(() => import('../today/TodayPage.js')) },
          { path: '/sent', lazy: page(() => import('../sent/SentPage.js')) },
          { path: '/sent/:id', lazy: page(() => import('../message/MessagePage.js')) },
          { path: '/followups', lazy: page(() => import('../followups/FollowupsPage.js')) },
          { path: '/write/:id?', lazy: page(() => import('../write/WritePage.js')) },
          { path: '/drafts', lazy: page(() => import('../drafts/DraftsPage.js')) },
          { path: '/templates', lazy: page(() => import('../templates/TemplatesPage.js')) },
          { path: '/outbox', lazy: page(() => import('../outbox/OutboxPage.js')) },
          { path: '/files', lazy: page(() => import('../files/FilesPage.js')) },
          { path: '/files/:id', lazy: page(() => import('../files/FilePage.js')) },
          { path: '/people', lazy: page(() => import('../people/PeoplePage.js')) },
          { path: '/people/:id', lazy: page(() => import('../people/PersonPage.js')) },
          { path: '/reports', lazy: page(() => import('../reports/ReportsPage.js')) },
          { path: '/settings', lazy: page(() => import('../settings/SettingsPage.js')) },
          { path: '/settings/sign-in', lazy: page(() => import('../session/SignInSettingsPage.js')) },
          { path: '/settings/mailbox', lazy: page(() => import('../mailbox/MailboxPage.js')) },
          { path: '/settings/notifications', lazy: page(() => import('../notifications/NotificationsPage.js')) },
          { path: '/settings/files', lazy: page(() => import('../files/FilesSettingsPage.js')) },
          { path: '/settings/counting', lazy: page(() => import('../judging/JudgingPage.js')) },
          { path: '*', element: <Navigate to="/today" replace /> },
        ],
      },
    ],
  },
]);

/** Notifications, questions and undoing, over every page. */
function Messages() {
  return (
    <App
      notification={{
        placement: 'bottomRight',
        stack: { threshold: 3 },
        // First on the page, so that they are the first that the keyboard comes to.
        getContainer: () => document.getElementById(NOTIFICATIONS) ?? document.body,
      }}
    >
      <Outlet />
    </App>
  );
}

/** All pages, for who has signed in; the others sign in first, and are led back here. */
function SignedIn() {
  const { data: session, error, refetch } = useSessionQuery(null);
  const { pathname, search } = useLocation();
  const renewed = renewedAddress(pathname, search);
  if (error) return <LoadFailed error={error} retry={() => void refetch()} />;
  if (!session) return <HydrateFallback />;
  if (!session.setUp) return <Navigate to="/set-up" replace />;
  if (!session.signedIn) return <Navigate to={`/sign-in?to=${encodeURIComponent(pathname)}`} replace />;
  if (renewed !== null) return <Navigate to={renewed} replace />;
  return <Formatted session={session} />;
}

/** All pages, with times and dates in the user’s format; drawn anew when that changes. */
function Formatted({ session: { timeFormat: stored } }: { session: SessionView }) {
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

function HydrateFallback() {
  return (
    <div className="page">
      <Skeleton active title={false} paragraph={{ rows: 10 }} />
    </div>
  );
}
