import { ConfigProvider } from 'antd';
import { useLayoutEffect, useSyncExternalStore } from 'react';
import { RouterProvider } from 'react-router';
import type { Light } from '@kiraku/core/look';
import { router } from './router.js';
import { useAppSelector } from '../shared/store/store.js';
import { useIsPhone } from '../shared/hooks/useIsPhone.js';
import { applyPalette, themeFor } from './theme.js';

const darkSystem = window.matchMedia('(prefers-color-scheme: dark)');
/** Styles that components make at run time carry the nonce of this document. */
const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce ?? '';

function useLight(): Light {
  const choice = useAppSelector((state) => state.light);
  const system = useSyncExternalStore(
    (listener) => {
      darkSystem.addEventListener('change', listener);
      return () => darkSystem.removeEventListener('change', listener);
    },
    () => darkSystem.matches,
  );
  if (choice !== 'system') return choice;
  return system ? 'dark' : 'light';
}

/** Theme and router. */
export function Root() {
  const light = useLight();
  const isPhone = useIsPhone();
  useLayoutEffect(() => applyPalette(light, document.documentElement), [light]);
  return (
    <ConfigProvider
      theme={themeFor(light, isPhone)}
      csp={{ nonce }}
      button={{ autoInsertSpace: false }}
      // Within the page's landmark, where assistive technology finds them.
      getPopupContainer={() => document.getElementById('main') ?? document.body}
    >
      <RouterProvider router={router} />
    </ConfigProvider>
  );
}
