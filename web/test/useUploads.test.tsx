import { jest } from '@jest/globals';
import { act, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';
import type { FileView } from '@kiraku/core/contract';
import { useUploads } from '../src/files/useUploads.js';
import { api } from '../src/shared/api/api.js';
import { store } from '../src/shared/store/store.js';
import { settled } from './network.js';

const BYTES = 'a file of some words';
const KEPT = { id: 3, name: 'Panels.pdf' } as FileView;

/** The server’s side of resumable uploads (tus 1.0), which takes so many bytes of each request, or fails. */
class Uploads {
  static readonly asked: { method: string; path: string; headers: Record<string, string> }[] = [];
  static kept = '';
  /** What becomes of the next requests that bring bytes, in turn; then all are taken. */
  static fates: ('connection lost' | { takes: number } | { status: number; detail: string })[] = [];

  static answer(
    method: string,
    bytes: string,
  ): { status: number; headers: Record<string, string>; body: string } | null {
    const [headers, body] = [{ 'upload-offset': String(this.kept.length), 'upload-length': String(BYTES.length) }, ''];
    if (method === 'POST') return { status: 201, headers: { location: '/api/uploads/17' }, body };
    if (method === 'HEAD') return { status: 200, headers, body };
    if (method === 'DELETE') return { status: 204, headers: {}, body };
    const fate = this.fates.shift() ?? { takes: bytes.length };
    if (fate === 'connection lost') return null;
    if ('status' in fate) return { status: fate.status, headers: {}, body: JSON.stringify({ detail: fate.detail }) };
    this.kept += bytes.slice(0, fate.takes);
    const isWhole = this.kept.length === BYTES.length;
    return {
      status: isWhole ? 200 : 204,
      headers: { 'upload-offset': String(this.kept.length) },
      body: isWhole ? JSON.stringify(KEPT) : '',
    };
  }
}

/** As much of a browser’s request as the uploader uses. */
class Request {
  readonly upload: { onprogress?: (event: { lengthComputable: boolean; loaded: number }) => void } = {};
  status = 0;
  responseText = '';
  onload?: () => void;
  onerror?: (error: Error) => void;
  private asked = { method: '', path: '', headers: {} as Record<string, string> };
  private headers: Record<string, string> = {};
  private isAborted = false;

  open(method: string, path: string): void {
    this.asked = { method, path: new URL(path, 'http://127.0.0.1').pathname, headers: {} };
  }
  setRequestHeader(name: string, value: string): void {
    this.asked.headers[name.toLowerCase()] = value;
  }
  getResponseHeader(name: string): string | null {
    return this.headers[name.toLowerCase()] ?? null;
  }
  abort(): void {
    this.isAborted = true;
  }
  async send(body?: Blob): Promise<void> {
    Uploads.asked.push(this.asked);
    const bytes = body ? await textOf(body) : '';
    const answer = Uploads.answer(this.asked.method, bytes);
    if (this.isAborted) return;
    if (!answer) return this.onerror?.(new Error('The network is away'));
    if (bytes) this.upload.onprogress?.({ lengthComputable: true, loaded: bytes.length });
    [this.status, this.headers, this.responseText] = [answer.status, answer.headers, answer.body];
    this.onload?.();
  }
}

function textOf(blob: Blob): Promise<string> {
  return new Promise((resolve) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result as string);
    reader.readAsText(blob);
  });
}

const wrapper = ({ children }: { children: ReactNode }) => <Provider store={store}>{children}</Provider>;
const file = () => new File([BYTES], 'Panels.pdf', { type: 'application/pdf', lastModified: 1 });
const methods = () => Uploads.asked.map(({ method }) => method);
const isOver = () => Uploads.kept === BYTES;

function begun(fileId?: number) {
  const onDone = jest.fn<(file: FileView) => void>();
  const { result } = renderHook(() => useUploads(onDone, fileId), { wrapper });
  return { result, onDone };
}

/** Does something, and waits for what the network makes of it. */
async function upTo(isReached: () => boolean, work: () => unknown): Promise<void> {
  await act(async () => {
    void work();
    for (let turns = 0; !isReached() && turns < 1000; turns += 1) await settled();
    await settled();
  });
  expect(isReached()).toBe(true);
}

beforeEach(() => {
  Object.assign(globalThis, { XMLHttpRequest: Request });
  localStorage.clear();
  Uploads.asked.length = 0;
  Uploads.kept = '';
  Uploads.fates = [];
});

test('a file is in the library when it has arrived', async () => {
  const dispatched = jest.spyOn(store, 'dispatch');
  const { result, onDone } = begun();
  await upTo(isOver, () => result.current.begin(file()));
  expect(onDone).toHaveBeenCalledWith(KEPT);
  expect(result.current.uploads).toEqual([]);
  expect(dispatched).toHaveBeenCalledWith(api.util.invalidateTags(['Files']));
  const named = Buffer.from(Uploads.asked[0]!.headers['upload-metadata']!.split(' ')[1]!, 'base64').toString();
  expect(named).toBe('Panels.pdf');
});

test('a new version says of which file', async () => {
  const { result } = begun(12);
  await upTo(isOver, () => result.current.begin(file()));
  const [, fileId] = /fileId ([^,]+)/.exec(Uploads.asked[0]!.headers['upload-metadata']!)!;
  expect(Buffer.from(fileId!, 'base64').toString()).toBe('12');
});

test('what is broken off goes on where it was, by itself', async () => {
  Uploads.fates = [{ takes: 6 }, 'connection lost'];
  const { result, onDone } = begun();
  await upTo(isOver, () => result.current.begin(file()));
  expect(onDone).toHaveBeenCalledWith(KEPT);
  expect(methods()).toEqual(['POST', 'PATCH', 'PATCH', 'HEAD', 'PATCH']);
  expect(Uploads.asked.at(-1)!.headers['upload-offset']).toBe('6');
});

test('what the server refuses shows how far it came and why, and can be tried again', async () => {
  Uploads.fates = [{ takes: 6 }, { status: 413, detail: 'The file is larger than 25 MB.' }];
  const { result, onDone } = begun();
  await upTo(
    () => Uploads.fates.length === 0,
    () => result.current.begin(file()),
  );
  const [stopped] = result.current.uploads;
  expect(stopped).toMatchObject({ name: 'Panels.pdf', size: BYTES.length, problem: 'The file is larger than 25 MB.' });
  expect(stopped!.sent).toBeGreaterThanOrEqual(6);
  expect(onDone).not.toHaveBeenCalled();
  await upTo(isOver, () => result.current.tryAgain(stopped!.key));
  expect(onDone).toHaveBeenCalledWith(KEPT);
  expect(result.current.uploads).toEqual([]);
});

test('what was begun before the page was loaded again goes on where it was', async () => {
  Uploads.fates = [{ takes: 6 }, { status: 413, detail: 'Later.' }];
  const before = begun();
  await upTo(
    () => Uploads.fates.length === 0,
    () => before.result.current.begin(file()),
  );
  Uploads.asked.length = 0;
  const { result, onDone } = begun();
  await upTo(isOver, () => result.current.begin(file()));
  expect(onDone).toHaveBeenCalledWith(KEPT);
  expect(methods()).toEqual(['HEAD', 'PATCH']);
});

test('what is taken back is gone from the server, too', async () => {
  Uploads.fates = [{ status: 413, detail: 'No.' }];
  const { result, onDone } = begun();
  await upTo(
    () => Uploads.fates.length === 0,
    () => result.current.begin(file()),
  );
  await upTo(
    () => methods().at(-1) === 'DELETE',
    () => result.current.cancel(result.current.uploads[0]!.key),
  );
  expect(result.current.uploads).toEqual([]);
  expect(onDone).not.toHaveBeenCalled();
});
