import { mkdir, rm } from 'node:fs/promises';
import { Injectable, Logger } from '@nestjs/common';
import { conversionMs, conversionPercent, kindOfType, preparationOfFile } from '@kiraku/core/files';
import { OutOfBoundsError } from '../process/bounded.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { ContentStore } from './contentStore.js';
import { convertToPdf, findConverter } from './conversion.js';
import { FilesRepository } from './files.repository.js';
import { keepFirstPage } from './firstPage.js';
import { inspect, type Inspection } from './inspection.js';
import type { VersionRow } from './versions.repository.js';

const NO_CONVERTER =
  'To show it page by page, install LibreOffice on this machine (on Debian: apt install libreoffice-writer-nogui ' +
  'libreoffice-calc-nogui libreoffice-impress-nogui). Until then it can be downloaded';
/** What is written down of a file that was looked at. */
export function prepared({ mediaType, pages, problem }: Inspection) {
  const kind = kindOfType(mediaType);
  return { mediaType, kind, pages, ...preparationOfFile(kind, problem) };
}

/**
 * Gets files ready to be shown, one after the other: looks what they are, and turns into pages what has to be. Where it
 * has come stands in the database, so that a stop loses nothing.
 */
@Injectable()
export class Preparing {
  private readonly logger = new Logger(Preparing.name);
  private readonly converter = findConverter();
  private readonly due: DueWork;
  /** What is being turned into pages, since when, and how long that should take. */
  private current: { versionId: number; startedAt: number; expectedMs: number } | null = null;
  /** How much longer than expected the last ones took on this machine. */
  private pace = 1;

  constructor(
    private readonly files: FilesRepository,
    private readonly store: ContentStore,
    works: Works,
  ) {
    this.due = works.add({ name: 'preparing files', run: (stopping) => this.prepareAll(stopping) });
  }

  /** Whether slides and text documents can be turned into pages here. */
  converts(): boolean {
    return this.converter !== null;
  }

  /** About how far a version is turned into pages, in per cent; null where it is not being turned. */
  percentOf(versionId: number): number | null {
    if (this.current?.versionId !== versionId) return null;
    return conversionPercent(performance.now() - this.current.startedAt, this.current.expectedMs);
  }

  /** Prepares what is not prepared yet. Call it whenever a version was added. */
  wake(): void {
    this.due.wake();
  }

  /** Resolves when nothing is left to do. */
  idle(): Promise<void> {
    return this.due.idle();
  }

  /** What is under way at a stop is begun anew at the next start. */
  private async prepareAll(stopping: AbortSignal): Promise<null> {
    for (let next = this.next(stopping); next; next = this.next(stopping)) {
      await this.check(next, stopping).catch((error: unknown) => {
        this.logger.error(`Version ${next!.id} of a file`, error instanceof Error ? error.stack : String(error));
        this.set(next!.id, { preparation: 'download-only', problem: 'It could not be prepared' }, stopping);
      });
    }
    return null;
  }

  private next(stopping: AbortSignal): VersionRow | undefined {
    return stopping.aborted ? undefined : this.files.nextUnprepared();
  }

  private async check(version: VersionRow, signal: AbortSignal): Promise<void> {
    const path = this.store.pathOf(version.sha256);
    const place = { home: this.store.incoming(), signal };
    const seen = prepared(await inspect(path, place));
    const firstPageSha256 = seen.pages === null ? null : await keepFirstPage(path, this.store, place);
    // Until it is converted, it is not done.
    this.set(version.id, { ...seen, firstPageSha256 }, signal);
    if (seen.preparation !== 'waiting') return;
    if (this.converter) await this.convert(this.converter, { ...version, ...seen }, signal);
    else this.set(version.id, { preparation: 'download-only', problem: NO_CONVERTER }, signal);
  }

  private async convert(converter: string, version: VersionRow, signal: AbortSignal): Promise<void> {
    const { id, sha256, mediaType, size } = version;
    const usualMs = conversionMs(size);
    const startedAt = performance.now();
    this.current = { versionId: id, startedAt, expectedMs: usualMs * this.pace };
    this.set(id, { preparation: 'converting' }, signal);
    const folder = this.store.scratch();
    await mkdir(folder);
    try {
      const pdf = await convertToPdf(converter, this.store.pathOf(sha256), mediaType, folder, signal);
      const { pages, problem } = await inspect(pdf, { home: folder, signal });
      if (problem !== null || pages === null) throw new Error(problem ?? 'No pages');
      const firstPageSha256 = await keepFirstPage(pdf, this.store, { home: folder, signal });
      const { sha256: pagesSha256 } = await this.store.keep(pdf);
      this.pace = (this.pace + (performance.now() - startedAt) / usualMs) / 2;
      this.set(id, { preparation: 'ready', problem: null, pages, pagesSha256, firstPageSha256 }, signal);
    } catch (error) {
      const words =
        error instanceof OutOfBoundsError
          ? 'Converting it took too long'
          : 'It could not be converted: it may be damaged, or locked with a password';
      this.set(id, { preparation: 'download-only', problem: words }, signal);
    } finally {
      this.current = null;
      await rm(folder, { recursive: true, force: true });
    }
  }

  private set(versionId: number, set: Partial<VersionRow>, signal: AbortSignal): void {
    // What was broken off by a stop says nothing of the file.
    if (!signal.aborted) this.files.setVersion(versionId, set);
  }
}
