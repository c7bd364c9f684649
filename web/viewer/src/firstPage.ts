import type { ViewerFile } from '@kiraku/core/contract';
import { make, say, stage } from './stage.js';

let seen: HTMLImageElement | undefined;

/** Shows a picture of the first page where the page itself will be, as soon as it is there. */
export function showFirstPage({ firstPage }: ViewerFile): void {
  if (firstPage === null) return;
  const picture = make('img', { class: 'first', alt: '' });
  picture.addEventListener('load', () => {
    if (seen !== picture) return;
    if (picture.naturalWidth > picture.naturalHeight) picture.classList.add('is-wide');
    stage.append(picture);
    say('');
  });
  seen = picture;
  picture.src = firstPage;
}

/** The page itself is there. */
export function hideFirstPage(): void {
  seen?.remove();
  seen = undefined;
}
