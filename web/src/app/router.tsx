import { App } from 'antd';
import { createBrowserRouter, Navigate, Outlet, type LazyRouteFunction, type RouteObject } from 'react-router';
import type { ComponentType } from 'react';
import { useIsPhone } from '../shared/hooks/useIsPhone.js';
import { NOTIFICATIONS } from './Layout.js';
import { RouteFailed } from './RouteFailed.js';
import { HydrateFallback, SignedIn } from './SignedIn.js';
import { VIEWS } from './views.js';

const FILES = import.meta.glob<{ default: ComponentType }>('../*/*Page.tsx');

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
          ...VIEWS.map(({ path, file }) => ({ path, lazy: page(FILES[`../${file}.tsx`]!) })),
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
