import { App } from 'antd';
import { createBrowserRouter, Navigate, Outlet, type LazyRouteFunction, type RouteObject } from 'react-router';
import type { ComponentType } from 'react';
import { useIsPhone } from '../shared/hooks/useIsPhone.js';
import { NOTIFICATIONS } from './Layout.js';
import { RouteFailed } from './RouteFailed.js';
import { HydrateFallback, SignedIn } from './SignedIn.js';

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
      { path: '/set-up', lazy: page(() => import('../setUp/SetUpPage.js')), HydrateFallback },
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
          { path: '/outbox', lazy: page(() => import('../delivery/OutboxPage.js')) },
          { path: '/files', lazy: page(() => import('../files/FilesPage.js')) },
          { path: '/files/:id', lazy: page(() => import('../files/FilePage.js')) },
          { path: '/people', lazy: page(() => import('../people/PeoplePage.js')) },
          { path: '/people/:id', lazy: page(() => import('../people/PersonPage.js')) },
          { path: '/reports', lazy: page(() => import('../reports/ReportsPage.js')) },
          { path: '/summary', lazy: page(() => import('../summary/SummaryPage.js')) },
          { path: '/rounds', lazy: page(() => import('../rounds/RoundsPage.js')) },
          { path: '/rounds/:id', lazy: page(() => import('../rounds/RoundPage.js')) },
          { path: '/settings', lazy: page(() => import('../settings/SettingsPage.js')) },
          { path: '/settings/check-up', lazy: page(() => import('../checkup/CheckupPage.js')) },
          { path: '/settings/earlier-mail', lazy: page(() => import('../history/EarlierMailPage.js')) },
          { path: '/settings/backups', lazy: page(() => import('../backup/BackupPage.js')) },
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
  const isPhone = useIsPhone();
  return (
    <App
      notification={{
        // On a phone they stand above the page, not over it.
        placement: isPhone ? 'top' : 'bottomRight',
        stack: isPhone ? false : { threshold: 3 },
        // First on the page, so that they are the first that the keyboard comes to.
        getContainer: () => document.getElementById(NOTIFICATIONS) ?? document.body,
      }}
    >
      <Outlet />
    </App>
  );
}
