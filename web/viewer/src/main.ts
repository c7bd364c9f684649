import type { ViewerFile } from '@kiraku/core/contract';
import { library } from './library.js';
import { Measuring } from './measuring.js';
import { say } from './stage.js';
import './viewer.css';

/* Shows one file, and says for how long it was read. What it shows stands in the page that the server made. */

/** Sooner than a look that would be told as another. */
const SOON_MS = 4000;

const file = JSON.parse(document.body.dataset['file']!) as ViewerFile;
const isPlayed = file.shows === 'video' || file.shows === 'audio';
const measuring = new Measuring(file.report, isPlayed ? 'played' : 'read');

show().catch(() => {
  const instead = file.download === null ? 'Ask whoever sent it to you.' : 'You can download it instead.';
  say(`This file cannot be shown here. ${instead}`);
});

async function show(): Promise<void> {
  switch (file.shows) {
    case 'pages': {
      // What reads the document starts while what shows it is on its way.
      const reader = new Worker(library.worker, { type: 'module' });
      void library.load();
      return (await import('./pages.js')).showPages(file, measuring, reader);
    }
    case 'picture':
      return (await import('./picture.js')).showPicture(file, measuring);
    case 'video':
    case 'audio':
      return (await import('./player.js')).showPlayer(file, measuring);
    case 'soon':
      say('This file is being made ready, and appears in a moment.');
      setTimeout(() => location.reload(), SOON_MS);
      return;
    case 'none':
      return say(file.download === null ? 'This file cannot be shown here.' : 'This file is for downloading.');
  }
}
