import type { IncomingMessage, ServerResponse } from 'node:http';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import type { ViewerFile } from '@kiraku/core/contract';
import { FILE_LIMITS, isOpen, mayBeDownloaded, shownAs, titleOf } from '@kiraku/core/files';
import { addressProblem, escapeHtml } from '@kiraku/core/message';
import { filePath, optOutPath } from '@kiraku/core/tracking';
import { Clock } from '../environment/clock.js';
import { PublicSite, type PublicRoute, type Visit } from '../tracking/publicSite.js';
import { about, page, plain, plainEnglish } from '../tracking/publicPages.js';
import type { NewReading } from '../tracking/arrival.js';
import { newToken } from '../tracking/tokens.js';
import { Recorder, TooBusyError } from '../tracking/recorder.js';
import { ContentStore } from './contentStore.js';
import { FilesRepository, type Shared, type VersionRow } from './files.repository.js';
import { readReport } from './report.js';
import { sendBytes, sendDownload } from './sendBytes.js';
import { sendViewerPart, viewerPage } from './viewerPage.js';

const READ = ['GET', 'HEAD'];
/** A form with one address in it. */
const FORM_BYTES = 2000;

/** A tracked file at the public site: the page that shows it, its bytes, and the word of what was read. */
@Injectable()
export class Viewer implements PublicRoute, OnModuleInit {
  readonly kinds = {
    file: ['GET', 'HEAD', 'OPTIONS', 'POST'],
    fileContent: READ,
    fileFirstPage: READ,
    fileDownload: READ,
    fileReading: ['POST'],
    viewerPart: READ,
  };

  constructor(
    private readonly publicSite: PublicSite,
    private readonly files: FilesRepository,
    private readonly store: ContentStore,
    private readonly recorder: Recorder,
    private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.publicSite.add(this);
  }

  async respond(visit: Visit): Promise<void> {
    const { kind, request, response, token } = visit;
    if (kind === 'viewerPart') return sendViewerPart(request, response, token);
    const shared = this.files.shared(token);
    if (!shared) return plain(response, 404, 'unknownLink');
    if (!isOpen(shared.sent, this.clock.now())) return plain(response, 410, 'fileOver');
    if (kind === 'fileReading') return this.read(visit);
    if (kind === 'file') return this.show(visit, shared);
    if (kind === 'fileContent') return this.content(visit, shared);
    if (kind === 'fileFirstPage') return this.firstPage(visit, shared);
    return this.download(visit, shared);
  }

  private async show(visit: Visit, shared: Shared): Promise<void> {
    const { request, response, token } = visit;
    const { method } = request;
    if (method === 'OPTIONS') {
      await this.record(visit, undefined);
      return void response.writeHead(204, { Allow: this.kinds.file.join(', ') }).end();
    }
    let givenAddress: string | null = null;
    if (asks(shared) && method !== 'HEAD') {
      if (method !== 'POST') return askAddress(response, shared, false);
      givenAddress = new URLSearchParams(await bodyOf(request, FORM_BYTES)).get('address')?.trim() ?? '';
      if (addressProblem(givenAddress)) return askAddress(response, shared, true);
    } else if (method === 'POST') return plainEnglish(response, 405, 'Only reading is possible here.');

    const version = this.files.shownVersion(shared.sent);
    const key = newToken();
    const reads = await this.record(visit, { key, versionId: version.id, givenAddress });
    const file = this.viewerFile(token, shared, version, reads ? key : null);
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

  /** Whether a reading has begun with it. Who wants to read is not kept from it by our being busy. */
  private async record({ token, facts }: Visit, reading: NewReading | undefined): Promise<boolean> {
    // An address that was given came with a POST, and is a view all the same.
    const method = facts.method === 'POST' ? 'GET' : facts.method;
    try {
      const { reads } = await this.recorder.record({
        target: 'file',
        token,
        ...facts,
        method,
        ...(reading && { reading }),
      });
      return reads;
    } catch (error) {
      if (error instanceof TooBusyError) return false;
      throw error;
    }
  }

  private async content(visit: Visit, shared: Shared): Promise<void> {
    const { request, response } = visit;
    const reading = this.readingOf(visit, shared);
    if (asks(shared) && !reading?.givenAddress) return plain(response, 403, 'openFirst');
    const version = this.versionOf(reading, shared);
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
    const reading = this.readingOf(visit, shared);
    if (asks(shared) && !reading?.givenAddress) return plain(response, 403, 'openFirst');
    const { firstPageSha256 } = this.versionOf(reading, shared);
    if (firstPageSha256 === null) return plain(response, 404, 'unknownLink');
    sendBytes(request, response, await this.store.checked(firstPageSha256), 'image/webp');
  }

  private async download(visit: Visit, shared: Shared): Promise<void> {
    const { request, response, token, facts } = visit;
    const reading = this.readingOf(visit, shared);
    const version = this.versionOf(reading, shared);
    if (!mayBeDownloaded(shared.sent, version)) return plain(response, 403, 'viewOnly');
    if (asks(shared) && !reading?.givenAddress) return plain(response, 403, 'openFirst');
    // What goes on from where it was broken off is the same taking along.
    if (!/^bytes=[1-9]/.test(request.headers.range ?? ''))
      await this.recorder
        .record({ target: 'download', token, ...facts, ...(reading && { reading: { key: reading.key } }) })
        .catch((error: unknown) => {
          if (!(error instanceof TooBusyError)) throw error;
        });
    sendDownload(request, response, await this.store.checked(version.sha256), shared.sent.name);
  }

  private async read({ request, response, token, facts }: Visit): Promise<void> {
    const report = readReport(await bodyOf(request, FILE_LIMITS.maxReportBytes));
    if (!report) return plainEnglish(response, 400, 'This is not a report of reading.');
    const { known } = await this.recorder.record({ token, at: facts.at, ...report });
    response.writeHead(known ? 204 : 404, { 'Cache-Control': 'no-store' }).end();
  }

  /** The version with which a reading began, else the one that is shown now. */
  private versionOf(reading: ReturnType<Viewer['readingOf']>, { sent }: Shared): VersionRow {
    return reading ? this.files.version(reading.versionId)! : this.files.shownVersion(sent);
  }

  private readingOf({ request }: Visit, { copyId, sent }: Shared) {
    const key = new URL(request.url!, 'http://site.invalid').searchParams.get('r');
    return key === null ? undefined : this.files.reading(key, copyId, sent.id);
  }
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
