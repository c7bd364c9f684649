import { useEffect } from 'react';
import { PALETTES } from '@kiraku/core/look';
import { useAppSelector } from '../shared/store/store.js';

const PLAIN = '/mark.svg';
const MAX_ICON_COUNT = 9;

/** Shows in the window's icon how many notifications came while nobody looked. */
export function useWindowIcon(): void {
  const unseen = useAppSelector((root) => root.unseen);
  useEffect(() => {
    const link = document.querySelector<HTMLLinkElement>('link[rel=icon]');
    if (link) link.href = unseen === 0 ? PLAIN : `data:image/svg+xml,${encodeURIComponent(numbered(unseen))}`;
  }, [unseen]);
}

/** The colours are those of `mark.svg`: an icon stands outside of the page, and of its theme. */
function numbered(count: number): string {
  const words = count > MAX_ICON_COUNT ? `${MAX_ICON_COUNT}+` : String(count);
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 32 32"><rect width="32" height="32" rx="5" fill="${PALETTES.light.indigo}"/><text x="16" y="23" text-anchor="middle" font-family="sans-serif" font-weight="bold" font-size="20" fill="${PALETTES.light.paper}">${words}</text></svg>`;
}
