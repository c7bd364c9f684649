import type { ViewerFile } from '@kiraku/core/contract';
import { filled } from '@kiraku/core/publicPages';
import type { Measuring } from './measuring.js';
import { make, say, stage } from './stage.js';

/** Shows a picture. Pressed, it is as large as it is. */
export async function showPicture(file: ViewerFile, measuring: Measuring): Promise<void> {
  say(file.sentences.opening);
  const picture = make('img', { class: 'picture' });
  picture.alt = file.name;
  picture.src = file.content;
  await picture.decode();
  say('');
  const frame = make(
    'button',
    { type: 'button', class: 'frame', 'aria-label': filled(file.sentences.largerOrFit, { name: file.name }) },
    picture,
  );
  frame.addEventListener('click', () => frame.classList.toggle('is-large'));
  stage.append(frame);
  measuring.start();
}
