import type { IncomingMessage, ServerResponse } from 'node:http';
import QuickLRU from 'quick-lru';
import type { ViewerFile } from '@kiraku/core/contract';
import { FILE_LIMITS, isOpen, mayBeDownloaded, shownAs, titleOf } from '@kiraku/core/files';
import { addressProblem, escapeHtml } from '@kiraku/core/message';
import { filePath, optOutPath, type PublicKind } from '@kiraku/core/tracking';
import type { Clock } from '../environment/clock.js';
import type { ContentStore } from '../files/contentStore.js';
import { sendBytes, sendDownload } from '../files/sendBytes.js';
import type { VersionRow } from '../files/versions.repository.js';
import type { JournalEntry } from '../tracking/arrival.js';
import { newToken } from '../tracking/tokens.js';
import { about, page, plain, plainEnglish } from './publicPages.js';
import { readReport } from './report.js';
import { readingOf, sharedFile, versionFor, type Reading, type Shared } from './sharedFiles.repository.js';
import type { Snapshot } from './snapshot.js';
import { sendViewerPart, viewerPage } from './viewerPage.js';
import type { Visit } from './visit.js';

const READ = ['GET', 'HEAD'];
const FILE = ['GET', 'HEAD', 'OPTIONS', 'POST'];
/** What is answered here, and by which methods. */
const METHODS: Partial<Record<PublicKind, readonly string[]>> = {
  file: FILE,
  fileContent: READ,
  fileFirstPage: READ,
  fileDownload: READ,
  fileReading: ['POST'],
  viewerPart: READ,
};

/** A form with one address in it. */
const FORM_BYTES = 2000;
/** Readings that the desk may not have recorded yet. */
const MAX_RECENT_READINGS = 5000;

/** To whom it says what happened, and who knows who has just declined. */
export interface Site {
  record(entry: JournalEntry, then: (error: Error | null) => void): void;
  hasDeclined(personId: number, inDatabase: boolean): boolean;
}

/** A tracked file at the public site: the page that shows it, its bytes, and the word of what was read. */
export class Viewer {
  private readonly begun = new QuickLRU<string, Reading>({ maxSize: MAX_RECENT_READINGS });

  constructor(
    private readonly site: Site,
    private readonly snapshot: Snapshot,
    private readonly store: ContentStore,
    private readonly clock: Clock,
  ) {}

  /** By which methods something is answered here; undefined where it is not. */
  methods(kind: PublicKind): readonly string[] | undefined {
    return METHODS[kind];
  }

  async respond(visit: Visit): Promise<void> {
    const { kind, request, response, token } = visit;
    if (kind === 'viewerPart') return sendViewerPart(request, response, token);
    const shared = this.shared(token);
    if (!shared) return plain(response, 404, 'unknownLink');
    if (!isOpen(shared.sent, this.clock.now())) return plain(response, 410, 'fileOver');
    if (kind === 'fileReading') return this.read(visit, shared);
    if (kind === 'file') return this.show(visit, shared);
    if (kind === 'fileContent') return this.content(visit, shared);
    if (kind === 'fileFirstPage') return this.firstPage(visit, shared);
    return this.download(visit, shared);
  }

  private async show(visit: Visit, shared: Shared): Promise<void> {
    const { request, response, token } = visit;
    const { method } = request;
    if (method === 'OPTIONS') {
      await this.record({ target: 'file', token, ...visit.facts });
      return void response.writeHead(204, { Allow: FILE.join(', ') }).end();
    }
    let givenAddress: string | null = null;
    if (asks(shared) && method !== 'HEAD') {
      if (method !== 'POST') return askAddress(response, shared, false);
      givenAddress = new URLSearchParams(await bodyOf(request, FORM_BYTES)).get('address')?.trim() ?? '';
      if (addressProblem(givenAddress)) return askAddress(response, shared, true);
    } else if (method === 'POST') return plainEnglish(response, 405, 'Only reading is possible here.');

    const version = this.versionFor(shared, undefined);
    const key = await this.begin(visit, shared, version.id, givenAddress);
    const file = this.viewerFile(token, shared, version, key);
    viewerPage(response, file, {
      optOut: shared.disclose && !shared.declined ? optOutPath(shared.imageToken) : null,
    });
  }

  private viewerFile(
    token: string,
    shared: Shared,
    version: VersionRow,
    reading: string | null,
  ): Omit<ViewerFile, 'sentences'> {
    const { sent, senderName, senderAddress } = shared;
    const named = reading === null ? '' : `?r=${reading}`;
    return {
      name: sent.name,
      sender: senderName || senderAddress,
      shows: shownAs(version),
      content: `${filePath(token)}/content${named}`,
      size: this.store.sizeOf(version.pagesSha256 ?? version.sha256),
      firstPage: version.firstPageSha256 === null ? null : `${filePath(token)}/first${named}`,
      download: mayBeDownloaded(sent, version) ? `${filePath(token)}/download${named}` : null,
      report: reading === null ? null : { url: `${filePath(token)}/reading`, reading },
    };
  }

  /**
   * Records that the file was opened. Resolves to the name of the reading that begins with it; null where none does: who
   * wants to read is not kept from it by what we cannot write down.
   */
  private async begin(
    { token, facts }: Visit,
    { copyId, sent, declined }: Shared,
    versionId: number,
    givenAddress: string | null,
  ): Promise<string | null> {
    // An address that was given came with a POST, and is a view all the same.
    const method = facts.method === 'POST' ? 'GET' : facts.method;
    const key = newToken();
    const reading = { key, versionId, givenAddress };
    await this.record({ target: 'file', token, ...facts, method, reading });
    if (declined || method !== 'GET') return null;
    this.begun.set(key, { copyId, sentFileId: sent.id, versionId, givenAddress });
    return key;
  }

  /** Resolves to whether it is written down. */
  private record(entry: JournalEntry): Promise<boolean> {
    return new Promise((resolve) => this.site.record(entry, (error) => resolve(error === null)));
  }

  private async content(visit: Visit, shared: Shared): Promise<void> {
    const { request, response } = visit;
    const reading = this.readingOf(keyOf(request), shared);
    if (asks(shared) && !reading?.givenAddress) return plain(response, 403, 'openFirst');
    const version = this.versionFor(shared, reading);
    const shown = shownAs(version);
    if (shown === 'soon') return plainEnglish(response, 503, 'This file is being prepared.');
    if (shown === 'none') return plain(response, 404, 'unknownLink');
    const { pagesSha256, sha256, mediaType } = version;
    sendBytes(
      request,
      response,
      await this.store.checked(pagesSha256 ?? sha256),
      pagesSha256 === null ? mediaType : 'application/pdf',
    );
  }

  private async firstPage(visit: Visit, shared: Shared): Promise<void> {
    const { request, response } = visit;
    const reading = this.readingOf(keyOf(request), shared);
    if (asks(shared) && !reading?.givenAddress) return plain(response, 403, 'openFirst');
    const { firstPageSha256 } = this.versionFor(shared, reading);
    if (firstPageSha256 === null) return plain(response, 404, 'unknownLink');
    sendBytes(request, response, await this.store.checked(firstPageSha256), 'image/webp');
  }

  private async download(visit: Visit, shared: Shared): Promise<void> {
    const { request, response, token, facts } = visit;
    const key = keyOf(request);
    const reading = this.readingOf(key, shared);
    const version = this.versionFor(shared, reading);
    if (!mayBeDownloaded(shared.sent, version)) return plain(response, 403, 'viewOnly');
    if (asks(shared) && !reading?.givenAddress) return plain(response, 403, 'openFirst');
    // What goes on from where it was broken off is the same taking along.
    if (!/^bytes=[1-9]/.test(request.headers.range ?? ''))
      await this.record({ target: 'download', token, ...facts, ...(key !== null && { reading: { key } }) });
    sendDownload(request, response, await this.store.checked(version.sha256), shared.sent.name);
  }

  private async read({ request, response, token, facts }: Visit, shared: Shared): Promise<void> {
    const report = readReport(await bodyOf(request, FILE_LIMITS.maxReportBytes));
    if (!report) return plainEnglish(response, 400, 'This is not a report of reading.');
    const isKnown = this.readingOf(report.reading, shared) !== undefined;
    const isRecorded = isKnown && (await this.record({ token, at: facts.at, ...report }));
    response.writeHead(isRecorded ? 204 : isKnown ? 503 : 404, { 'Cache-Control': 'no-store' }).end();
  }

  private shared(token: string): Shared | undefined {
    const shared = this.snapshot.read((database) => sharedFile(database, token));
    return shared && { ...shared, declined: this.site.hasDeclined(shared.personId, shared.declined) };
  }

  private readingOf(key: string | null, shared: Shared): Reading | undefined {
    if (key === null) return undefined;
    const recorded = this.snapshot.read((database) => readingOf(database, key, shared));
    // From then on the database alone knows of it, and may forget it.
    if (recorded) this.begun.delete(key);
    const begun = recorded ?? this.begun.get(key);
    return begun?.copyId === shared.copyId && begun.sentFileId === shared.sent.id ? begun : undefined;
  }

  private versionFor(shared: Shared, reading: Reading | undefined): VersionRow {
    return this.snapshot.read((database) => versionFor(database, shared, reading));
  }
}

/** The name of the reading that something is asked for in. */
function keyOf({ url }: IncomingMessage): string | null {
  return new URL(url!, 'http://site.invalid').searchParams.get('r');
}

/** Who has opted out is asked for nothing. */
function asks({ sent, declined }: Shared): boolean {
  return sent.asksAddress && !declined;
}

function askAddress(response: ServerResponse, { sent, senderName, senderAddress }: Shared, isWrong: boolean): void {
  const sender = senderName || senderAddress;
  page(response, isWrong ? 422 : 200, ({ askAddress: asked, yourAddress, noAddress, readFile }) => ({
    heading: titleOf(sent.name),
    from: sender,
    body:
      `<p>${about(asked, sender)}</p><form method="post"><label>${escapeHtml(yourAddress)}` +
      '<input name="address" type="email" required autocomplete="email"></label>' +
      (isWrong ? `<p class="problem" role="alert">${escapeHtml(noAddress)}</p>` : '') +
      `<p><button>${escapeHtml(readFile)}</button></p></form>`,
  }));
}

/** What was sent along, cut off at a limit: what is longer is nothing that we asked for. */
async function bodyOf(request: IncomingMessage, limit: number): Promise<string> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of request as AsyncIterable<Buffer>) {
    size += chunk.length;
    if (size <= limit) chunks.push(chunk);
  }
  return size > limit ? '' : Buffer.concat(chunks).toString('utf8');
}
