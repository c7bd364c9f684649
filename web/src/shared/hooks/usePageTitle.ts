import { useEffect } from 'react';
import { useAppSelector } from '../store/store.js';

/** Names the page in the window's title, after the number of notifications that came while nobody looked. */
export function usePageTitle(title: string): void {
  const unseen = useAppSelector((root) => root.unseen);
  useEffect(() => {
    document.title = (unseen > 0 ? `(${unseen}) ` : '') + (title === '' ? 'Kiraku' : `${title} – Kiraku`);
  }, [title, unseen]);
}
