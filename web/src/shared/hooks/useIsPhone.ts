import { useSyncExternalStore } from 'react';

const PHONE = '(max-width: 640px)';

/** Whether the window is as narrow as a phone. */
export function useIsPhone(): boolean {
  return useSyncExternalStore(
    (change) => {
      const query = window.matchMedia(PHONE);
      query.addEventListener('change', change);
      return () => query.removeEventListener('change', change);
    },
    () => window.matchMedia(PHONE).matches,
  );
}
