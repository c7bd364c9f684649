import worker from 'pdfjs-dist/legacy/build/pdf.worker.min.mjs?url';
import type { ViewerFile } from '@kiraku/core/contract';
import { kindOfType, shownAs } from '@kiraku/core/files';
import { showFirstPage } from './firstPage.js';
import { Measuring } from './measuring.js';
import { say } from './stage.js';
import './viewer.css';

/* Shows one file, and says for how long it was read. What it shows stands in the page that the server made. */

/** Asks again whether a file is ready. */
const SOON_MS = 3000;

const file = JSON.parse(document.body.dataset['file']!) as ViewerFile;

show(file).catch(() => {
  const { notShown, askSender, downloadInstead } = file.sentences;
  say(`${notShown} ${file.download === null ? askSender : downloadInstead}`);
});

async function show(shown: ViewerFile): Promise<void> {
  const isPlayed = shown.shows === 'video' || shown.shows === 'audio';
  const measuring = new Measuring(shown.report, isPlayed ? 'played' : 'read');
  switch (shown.shows) {
    case 'pages': {
      say(shown.sentences.opening);
      showFirstPage(shown);
      // What reads the document starts while what shows it is on its way.
      const reader = new Worker(worker, { type: 'module' });
      return (await import('./pages.js')).showPages(shown, measuring, reader);
    }
    case 'picture':
      return (await import('./picture.js')).showPicture(shown, measuring);
    case 'video':
    case 'audio':
      return (await import('./player.js')).showPlayer(shown, measuring);
    case 'soon':
      say(shown.sentences.preparing);
      return show(await ready(shown));
    case 'none':
      return say(shown.download === null ? shown.sentences.notShown : shown.sentences.downloadOnly);
  }
}

/** The file once it can be shown. Asking for its bytes is no view of it. */
async function ready(waiting: ViewerFile): Promise<ViewerFile> {
  for (;;) {
    await new Promise((resolve) => setTimeout(resolve, SOON_MS));
    const response = await fetch(waiting.content, { headers: { range: 'bytes=0-0' } });
    if (response.status === 503) continue;
    if (!response.ok) return { ...waiting, shows: 'none' };
    const kind = kindOfType(response.headers.get('content-type') ?? '');
    const size = Number(response.headers.get('content-range')?.split('/')[1]);
    return { ...waiting, size, shows: shownAs({ kind, preparation: 'ready' }) };
  }
}
