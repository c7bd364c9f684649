import { useEffect } from 'react';

/** Names the page in the window's title. */
export function usePageTitle(title: string): void {
  useEffect(() => {
    document.title = title === '' ? 'Kiraku' : `${title} – Kiraku`;
  }, [title]);
}
