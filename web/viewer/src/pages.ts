import * as pdfjs from 'pdfjs-dist/legacy/build/pdf.mjs';
import type { ViewerFile } from '@kiraku/core/contract';
import { filled } from '@kiraku/core/publicPages';
import type { Measuring } from './measuring.js';
import { hideFirstPage } from './firstPage.js';
import { PIECE, rangesOf } from './ranges.js';
import { button, make, say, stage, tools } from './stage.js';
import 'pdfjs-dist/legacy/web/pdf_viewer.css';

const ZOOM_STEP = 1.2;
const LIBRARY = '/v/pdfjs/';

/** Shows a document page by page. */
export async function showPages(file: ViewerFile, measuring: Measuring, reader: Worker): Promise<void> {
  pdfjs.GlobalWorkerOptions.workerPort = reader;
  const opening = pdfjs.getDocument({
    range: rangesOf(file.content, file.size),
    rangeChunkSize: PIECE,
    disableAutoFetch: true,
    disableStream: true,
    cMapUrl: `${LIBRARY}cmaps/`,
    cMapPacked: true,
    standardFontDataUrl: `${LIBRARY}standard_fonts/`,
    wasmUrl: `${LIBRARY}wasm/`,
    iccUrl: `${LIBRARY}iccs/`,
    isEvalSupported: false,
  });
  const [{ EventBus, FindState, LinkTarget, PDFFindController, PDFLinkService, PDFViewer }, pdf] = await Promise.all([
    import('pdfjs-dist/legacy/web/pdf_viewer.mjs'),
    opening.promise,
  ]);

  const { sentences } = file;
  const viewer = make('div', { class: 'pdfViewer' });
  const container = make('div', { class: 'scroll', role: 'region', 'aria-label': sentences.pages }, viewer);
  container.tabIndex = 0;
  stage.append(container);
  const eventBus = new EventBus();
  const linkService = new PDFLinkService({
    eventBus,
    externalLinkTarget: LinkTarget.BLANK,
    externalLinkRel: 'noopener noreferrer nofollow',
  });
  const findController = new PDFFindController({ eventBus, linkService });
  const pages = new PDFViewer({ container, viewer, eventBus, linkService, findController, removePageBorders: true });
  linkService.setViewer(pages);

  eventBus.on('pagesinit', () => {
    pages.currentScaleValue = 'auto';
    container.focus({ preventScroll: true });
  });
  eventBus.on('pagerendered', () => {
    say('');
    hideFirstPage();
    measuring.start(pages.currentPageNumber);
  });
  eventBus.on('pagechanging', ({ pageNumber }: { pageNumber: number }) => {
    measuring.happens({ kind: 'page', page: pageNumber });
    number.value = String(pageNumber);
  });

  const number = make('input', {
    inputmode: 'numeric',
    class: 'number',
    'aria-label': filled(sentences.pageNumber, { pages: pdf.numPages }),
  });
  number.value = '1';
  number.addEventListener('change', () => {
    pages.currentPageNumber = Math.min(Math.max(1, Math.round(Number(number.value)) || 1), pdf.numPages);
    number.value = String(pages.currentPageNumber);
  });
  const zoom = (factor: number) => pages.updateScale({ scaleFactor: factor });
  const sought = make('input', { type: 'search', class: 'sought', 'aria-label': sentences.findInDocument });
  sought.placeholder = sentences.find;
  const found = make('span', { class: 'found', role: 'status' });
  const find = (again: boolean, findPrevious = false) =>
    eventBus.dispatch('find', {
      source: sought,
      type: again ? 'again' : '',
      query: sought.value,
      findPrevious,
      caseSensitive: false,
      entireWord: false,
      highlightAll: true,
      matchDiacritics: false,
    });
  sought.addEventListener('input', () => find(false));
  sought.addEventListener('keydown', (event) => event.key === 'Enter' && find(true, event.shiftKey));
  type Count = { matchesCount: { current: number; total: number }; state?: number };
  const count = ({ matchesCount: { current, total }, state }: Count) => {
    const isMissing = state === FindState.NOT_FOUND && sought.value !== '';
    const place = filled(sentences.found, { current, total });
    found.textContent = total > 0 ? place : isMissing ? sentences.notFound : '';
  };
  eventBus.on('updatefindmatchescount', count);
  eventBus.on('updatefindcontrolstate', count);

  const [before, after] = filled(sentences.page, { pages: pdf.numPages }).split('{page}') as [string, string];
  tools.append(
    make('span', { class: 'place' }, before, number, after),
    make(
      'span',
      { class: 'size' },
      button('−', sentences.smaller, () => zoom(1 / ZOOM_STEP)),
      button('+', sentences.larger, () => zoom(ZOOM_STEP)),
    ),
    make('span', { class: 'finding' }, sought, found),
  );
  addEventListener('keydown', (event) => {
    if (event.target instanceof HTMLInputElement || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === '+') zoom(ZOOM_STEP);
    if (event.key === '-') zoom(1 / ZOOM_STEP);
  });
  addEventListener('resize', () => {
    if (['auto', 'page-width'].includes(pages.currentScaleValue)) pages.currentScaleValue = 'auto';
  });

  pages.setDocument(pdf);
  linkService.setDocument(pdf);
}
