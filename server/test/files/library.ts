import PDFDocument from 'pdfkit';
import type { DraftFile, FileView, ViewerFile } from '@kiraku/core/contract';
import { AS_LINK } from '@kiraku/core/files';
import { Preparing } from '@kiraku/server/files/preparing';
import type { Desk, ReceivedMail } from '../harness.js';

/** A document with so many pages, each with its number on it. */
export function pdf(pages: number, userPassword?: string): Promise<Buffer> {
  const document = new PDFDocument({ autoFirstPage: false, compress: false, userPassword });
  const chunks: Buffer[] = [];
  document.on('data', (chunk: Buffer) => chunks.push(chunk));
  for (let page = 1; page <= pages; page += 1) document.addPage().fontSize(40).text(`Page ${page}`);
  document.end();
  return new Promise((resolve) => document.on('end', () => resolve(Buffer.concat(chunks))));
}

/** An upload that is begun, by the tus protocol: where it goes on. */
export async function beginUpload(desk: Desk, name: string, size: number, fileId?: number): Promise<Response> {
  const value = (text: string) => Buffer.from(text).toString('base64');
  const metadata = [`filename ${value(name)}`, ...(fileId ? [`fileId ${value(String(fileId))}`] : [])].join();
  return fetch(`${desk.url}/api/uploads`, {
    method: 'POST',
    headers: { ...desk.headers, 'Tus-Resumable': '1.0.0', 'Upload-Length': String(size), 'Upload-Metadata': metadata },
  });
}

export function goOnUpload(desk: Desk, path: string, bytes: Buffer, offset = 0): Promise<Response> {
  return fetch(desk.url + path, {
    method: 'PATCH',
    headers: {
      ...desk.headers,
      'Tus-Resumable': '1.0.0',
      'Upload-Offset': String(offset),
      'Content-Type': 'application/offset+octet-stream',
    },
    body: new Uint8Array(bytes),
  });
}

/** A file in the library, looked at and ready as far as it can be. */
export async function upload(desk: Desk, name: string, bytes: Buffer, fileId?: number): Promise<FileView> {
  const begun = await beginUpload(desk, name, bytes.length, fileId);
  if (begun.status !== 201) throw new Error(`${begun.status} ${await begun.text()}`);
  const ended = await goOnUpload(desk, begun.headers.get('location')!, bytes);
  if (ended.status >= 300) throw new Error(`${ended.status} ${await ended.text()}`);
  const file = (await ended.json()) as FileView;
  await desk.get(Preparing).idle();
  return desk.json('GET', `/api/files/${file.id}`);
}

export function carried(fileId: number, change: Partial<DraftFile> = {}): DraftFile {
  return { ...AS_LINK, fileId, ...change };
}

/** The addresses of the tracked files of a received mail. */
export function fileLinks(mail: ReceivedMail): string[] {
  return [...String(mail.parsed.html).matchAll(/<a href="(http[^"]+\/f\/[\w-]{22})"/g)].map(([, url]) => url!);
}

/** What the page of a file says that it shows. */
export async function opened(response: Response): Promise<ViewerFile> {
  const [, text] = /data-file="([^"]*)"/.exec(await response.text())!;
  const unescaped = text!
    .replace(/&quot;/g, '"')
    .replace(/&#39;/g, "'")
    .replace(/&lt;/g, '<')
    .replace(/&gt;/g, '>');
  return JSON.parse(unescaped.replace(/&amp;/g, '&')) as ViewerFile;
}
