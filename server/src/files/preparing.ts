import { mkdir, rm } from 'node:fs/promises';
import { Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import { kindOfType, standingOfFile } from '@kiraku/core/files';
import { OutOfBoundsError } from '../process/bounded.js';
import { ContentStore } from './contentStore.js';
import { convertToPdf, findConverter } from './conversion.js';
import { FilesRepository, type VersionRow } from './files.repository.js';
import { keepFirstPage } from './firstPage.js';
import { inspect, type Inspection } from './inspection.js';

const NO_CONVERTER =
  'To be read page by page it needs LibreOffice on this machine (on Debian: apt install libreoffice-writer-nogui ' +
  'libreoffice-calc-nogui libreoffice-impress-nogui). Until then it can be taken along';
/** What is written down of a file that was looked at. */
export function prepared({ mediaType, pages, trouble }: Inspection) {
  const kind = kindOfType(mediaType);
  return { mediaType, kind, pages, ...standingOfFile(kind, trouble) };
}

function isDone({ preparation }: VersionRow): boolean {
  return preparation === 'ready' || preparation === 'download-only';
}

/**
 * Gets files ready to be shown, one after the other: looks what they are, and turns into pages what has to be. Where it
 * has come stands in the database, so that a stop loses nothing.
 */
@Injectable()
export class Preparing implements BeforeApplicationShutdown {
  private readonly logger = new Logger(Preparing.name);
  private readonly converter = findConverter();
  private running: Promise<void> = Promise.resolve();
  private readonly stopping = new AbortController();

  constructor(
    private readonly files: FilesRepository,
    private readonly store: ContentStore,
  ) {}

  /** Whether slides and text documents can be turned into pages here. */
  converts(): boolean {
    return this.converter !== null;
  }

  /** Goes on with what was left when the machine stopped. */
  open(): void {
    for (const { id } of this.files.unprepared()) void this.prepare(id);
  }

  /** What is under way is begun anew at the next start. */
  async beforeApplicationShutdown(): Promise<void> {
    this.stopping.abort();
    await this.running;
  }

  /** Resolves when nothing is left to do. */
  idle(): Promise<void> {
    return this.running;
  }

  /** Resolves when the version, and all that came before it, is ready or known not to be. */
  prepare(versionId: number): Promise<void> {
    this.running = this.running.then(async () => {
      if (this.isStopping()) return;
      await this.look(versionId).catch((error: unknown) => {
        this.logger.error(`Version ${versionId} of a file`, error instanceof Error ? error.stack : String(error));
        this.set(versionId, { preparation: 'download-only', trouble: 'It could not be made ready to be shown' });
      });
    });
    return this.running;
  }

  private async look(versionId: number): Promise<void> {
    const version = this.files.version(versionId);
    if (!version || isDone(version)) return;
    const path = this.store.pathOf(version.sha256);
    const place = this.place(this.store.incoming());
    const seen = prepared(await inspect(path, place));
    const firstPageSha256 = seen.pages === null ? null : await keepFirstPage(path, this.store, place);
    this.set(versionId, { ...seen, firstPageSha256 });
    if (seen.preparation !== 'waiting') return;
    if (this.converter) await this.convert(this.converter, { ...version, ...seen });
    else this.set(versionId, { preparation: 'download-only', trouble: NO_CONVERTER });
  }

  private async convert(converter: string, { id, sha256, mediaType }: VersionRow): Promise<void> {
    this.set(id, { preparation: 'converting' });
    const folder = this.store.scratch();
    await mkdir(folder);
    try {
      const pdf = await convertToPdf(converter, this.store.pathOf(sha256), mediaType, folder, this.stopping.signal);
      const { pages, trouble } = await inspect(pdf, this.place(folder));
      if (trouble !== null || pages === null) throw new Error(trouble ?? 'No pages');
      const firstPageSha256 = await keepFirstPage(pdf, this.store, this.place(folder));
      const { sha256: pagesSha256 } = await this.store.keep(pdf);
      this.set(id, { preparation: 'ready', trouble: null, pages, pagesSha256, firstPageSha256 });
    } catch (error) {
      const words =
        error instanceof OutOfBoundsError
          ? 'Turning it into pages took too long'
          : 'It could not be turned into pages: it may be damaged, or locked with a password';
      this.set(id, { preparation: 'download-only', trouble: words });
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  }

  private place(home: string) {
    return { home, signal: this.stopping.signal };
  }

  private isStopping(): boolean {
    return this.stopping.signal.aborted;
  }

  private set(versionId: number, set: Partial<VersionRow>): void {
    // What was broken off by a stop says nothing of the file.
    if (this.isStopping()) return;
    this.files.setVersion(versionId, set);
  }
}
