import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import { Injectable } from '@nestjs/common';
import { FileStore } from '@tus/file-store';
import { Server, type Upload } from '@tus/server';
import type { Problem } from '@kiraku/core/contract';
import { sizeWords } from '@kiraku/core/files';
import { DAY } from '@kiraku/core/time';
import { ContentStore } from './contentStore.js';
import { FilesService } from './files.service.js';
import { FilesSettings } from './files.settings.js';

export const UPLOADS_PATH = '/api/uploads';

/** An upload that was broken off can be gone on with for so long. */
const KEEP_BROKEN_MS = DAY;

const EMPTY = 'This file is empty. Check it on your computer, and add it again.';

/** Words for what the protocol refuses, by status; the rest is said as it is. */
const DETAILS: Record<number, string> = {
  404: 'This upload is not known any more. Start it again.',
  410: 'This upload was interrupted too long ago. Start it again.',
  409: 'This upload continues at the wrong place. Try again.',
};

/**
 * Takes files in, a piece at a time, so that what was broken off goes on where it was: the tus protocol, version 1.0.0.
 * What has come whole goes into the library; the last answer is the file as it stands there.
 */
@Injectable()
export class Uploads {
  private made: { server: Server; incoming: FileStore } | undefined;

  constructor(
    private readonly store: ContentStore,
    private readonly files: FilesService,
    private readonly settings: FilesSettings,
  ) {}

  async handle(request: IncomingMessage, response: ServerResponse): Promise<void> {
    await this.parts().server.handle(request, response);
  }

  /** Deletes what was broken off and not gone on with. */
  async deleteExpired(): Promise<void> {
    if (existsSync(this.folder())) await this.parts().incoming.deleteExpired();
  }

  /** Made when they are needed first: they write to the disk at once. */
  private parts() {
    return (this.made ??= this.make());
  }

  private folder(): string {
    return join(this.store.incoming(), 'uploads');
  }

  private make() {
    const incoming = new FileStore({
      directory: this.folder(),
      expirationPeriodInMilliseconds: KEEP_BROKEN_MS,
    });
    const options = {
      path: UPLOADS_PATH,
      datastore: incoming,
      relativeLocation: true,
      maxSize: () => this.settings.view().maxBytes,
      onUploadCreate: (_request, { size }) => (size === 0 ? refused(EMPTY) : Promise.resolve({})),
      onUploadFinish: (_request, upload) => this.finish(upload),
    } satisfies ConstructorParameters<typeof Server>[0];
    const server = new ProblemServer(options, (status, said) => this.problem(status, said));
    return { server, incoming };
  }

  private async finish({ id, metadata }: Upload) {
    const path = join(this.parts().incoming.directory, id);
    const fileId = Number(metadata?.['fileId']) || null;
    const file = await this.files.take(path, metadata?.['filename'] ?? '', fileId);
    await rm(`${path}.json`, { force: true });
    return { status_code: 200, headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(file) };
  }

  private problem(status: number, said: string): Problem {
    const { maxBytes } = this.settings.view();
    const tooLarge = `Files may have up to ${sizeWords(maxBytes)}, as the settings say. This one is larger.`;
    const own = status < 500 ? said.trim() : 'Something went wrong. Try again.';
    const detail = status === 413 ? tooLarge : (DETAILS[status] ?? own);
    return { type: 'about:blank', title: 'Not uploaded', status, detail };
  }
}

type Write = Server['write'];

/** What it refuses, at whatever step, is problem details (RFC 9457); the library writes plain text. */
class ProblemServer extends Server {
  constructor(
    options: ConstructorParameters<typeof Server>[0],
    private readonly problem: (status: number, said: string) => Problem,
  ) {
    super(options);
  }

  override write(...[context, headers, status, body = '']: Parameters<Write>): ReturnType<Write> {
    if (status < 400) return super.write(context, headers, status, body);
    headers.set('Content-Type', 'application/problem+json');
    return super.write(context, headers, status, JSON.stringify(this.problem(status, body)));
  }
}

/** As the library wants it: an error with a status. */
function refused(words: string): Promise<never> {
  return Promise.reject(Object.assign(new Error(words), { status_code: 422, body: words }));
}
