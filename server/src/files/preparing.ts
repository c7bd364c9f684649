import { mkdir, rm } from 'node:fs/promises';
import { Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import { kindOfType, preparationOfFile } from '@kiraku/core/files';
import { OutOfBoundsError } from '../process/bounded.js';
import { ContentStore } from './contentStore.js';
import { convertToPdf, findConverter } from './conversion.js';
import { FilesRepository, type VersionRow } from './files.repository.js';
import { keepFirstPage } from './firstPage.js';
import { inspect, type Inspection } from './inspection.js';

const NO_CONVERTER =
  'To show it page by page, install LibreOffice on this machine (on Debian: apt install libreoffice-writer-nogui ' +
  'libreoffice-calc-nogui libreoffice-impress-nogui). Until then it can be downloaded';
/** What is written down of a file that was looked at. */
export function prepared({ mediaType, pages, problem }: Inspection) {
  const kind = kindOfType(mediaType);
  return { mediaType, kind, pages, ...preparationOfFile(kind, problem) };
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
      await this.check(versionId).catch((error: unknown) => {
        this.logger.error(`Version ${versionId} of a file`, error instanceof Error ? error.stack : String(error));
        this.set(versionId, { preparation: 'download-only', problem: 'It could not be prepared' });
      });
    });
    return this.running;
  }

  private async check(versionId: number): Promise<void> {
    const version = this.files.version(versionId);
    if (!version || isDone(version)) return;
    const path = this.store.pathOf(version.sha256);
    const place = this.place(this.store.incoming());
    const seen = prepared(await inspect(path, place));
    const firstPageSha256 = seen.pages === null ? null : await keepFirstPage(path, this.store, place);
    this.set(versionId, { ...seen, firstPageSha256 });
    if (seen.preparation !== 'waiting') return;
    if (this.converter) await this.convert(this.converter, { ...version, ...seen });
    else this.set(versionId, { preparation: 'download-only', problem: NO_CONVERTER });
  }

  private async convert(converter: string, { id, sha256, mediaType }: VersionRow): Promise<void> {
    this.set(id, { preparation: 'converting' });
    const folder = this.store.scratch();
    await mkdir(folder);
    try {
      const pdf = await convertToPdf(converter, this.store.pathOf(sha256), mediaType, folder, this.stopping.signal);
      const { pages, problem } = await inspect(pdf, this.place(folder));
      if (problem !== null || pages === null) throw new Error(problem ?? 'No pages');
      const firstPageSha256 = await keepFirstPage(pdf, this.store, this.place(folder));
      const { sha256: pagesSha256 } = await this.store.keep(pdf);
      this.set(id, { preparation: 'ready', problem: null, pages, pagesSha256, firstPageSha256 });
    } catch (error) {
      const words =
        error instanceof OutOfBoundsError
          ? 'Converting it took too long'
          : 'It could not be converted: it may be damaged, or locked with a password';
      this.set(id, { preparation: 'download-only', problem: words });
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
