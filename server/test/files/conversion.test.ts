import type { FileReadings, FileView } from '@kiraku/core/contract';
import { MINUTE } from '@kiraku/core/time';
import { DOCUMENTS } from '@kiraku/demo/documents';
import { findConverter } from '@kiraku/server/files/conversion';
import { Preparing } from '@kiraku/server/files/preparing';
import { to, desk, mail, useDesk } from '../harness.js';
import { beginUpload, carried, fileLinks, goOnUpload, opened, upload } from './library.js';

/** With the real LibreOffice, where it is. */
const withLibreOffice = findConverter() === null ? test.skip : test;

useDesk('all');

withLibreOffice(
  'slides become pages that tell which of them are read',
  async () => {
    const file = await upload(desk, 'Quieter rooms.pptx', await DOCUMENTS.slides.bytes());
    expect(file.versions[0]).toMatchObject({ kind: 'office', preparation: 'ready', pages: 6, problem: null });
    const { id } = await desk.send({ recipients: [to('marit@lindqvist.example')], files: [carried(file.id)] });
    await desk.sent(id);
    desk.clock.advance(MINUTE);
    const url = fileLinks(mail.to('marit@lindqvist.example'))[0]!;
    const shown = await opened(await desk.visit(url));
    expect(shown.shows).toBe('pages');
    const content = await desk.visit(desk.config.publicUrl + shown.content);
    expect([content.headers.get('content-type'), (await content.text()).slice(0, 5)]).toEqual([
      'application/pdf',
      '%PDF-',
    ]);
    // Downloaded, it is what was sent.
    const along = Buffer.from(await (await desk.visit(desk.config.publicUrl + shown.download!)).arrayBuffer());
    expect(along.subarray(0, 2).toString()).toBe('PK');
    desk.clock.advance(MINUTE);
    const visits = [
      { visit: 1, page: 6, ms: 4000 },
      { visit: 2, page: 7, ms: 4000 },
    ];
    await desk.visit(`${url}/reading`, {
      method: 'POST',
      body: JSON.stringify({ reading: shown.report!.reading, active: true, visits }),
    });
    const { readings } = await desk.json<FileReadings>('GET', `/api/messages/${id}/readings`);
    expect(readings[0]!.visits).toEqual([{ visit: 1, page: 6, ms: 4000 }]);
  },
  120_000,
);

withLibreOffice(
  'a sheet becomes pages too; what is damaged says so, and can be taken along',
  async () => {
    const sheet = await DOCUMENTS.prices.bytes();
    expect((await upload(desk, 'Prices.xlsx', sheet)).versions[0]).toMatchObject({ preparation: 'ready', pages: 1 });
    const broken = Buffer.concat([sheet.subarray(0, 3000), Buffer.alloc(500), sheet.subarray(3500)]);
    const [version] = (await upload(desk, 'Broken.xlsx', broken)).versions;
    expect(version).toMatchObject({ preparation: 'download-only', problem: 'It is damaged' });
    const outgoing = Buffer.from('{\\rtf1\\ansi Dear Marit,\\par here it is.}');
    const [text] = (await upload(desk, 'Letter.rtf', outgoing)).versions;
    expect(text).toMatchObject({ kind: 'office', preparation: 'ready', pages: 1 });
  },
  120_000,
);

withLibreOffice(
  'how far a conversion is can be followed',
  async () => {
    const bytes = await DOCUMENTS.slides.bytes();
    const begun = await beginUpload(desk, 'Followed.pptx', bytes.length);
    const { id } = (await (await goOnUpload(desk, begun.headers.get('location')!, bytes)).json()) as FileView;
    const view = () => desk.json<FileView>('GET', `/api/files/${id}`);
    const seen: number[] = [];
    for (let file = await view(); file.versions[0]!.preparation !== 'ready'; file = await view()) {
      if (file.percent !== null) seen.push(file.percent);
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    expect(seen.length).toBeGreaterThan(1);
    expect(seen).toEqual([...seen].sort((a, b) => a - b));
    expect(seen.at(-1)).toBeGreaterThan(seen[0]!);
    expect((await view()).percent).toBeNull();
  },
  120_000,
);

withLibreOffice(
  'who opens it before it is ready waits without making looks, and a stop meanwhile loses nothing',
  async () => {
    const bytes = await DOCUMENTS.slides.bytes();
    const begun = await beginUpload(desk, 'Later.pptx', bytes.length);
    const file = (await (await goOnUpload(desk, begun.headers.get('location')!, bytes)).json()) as FileView;
    expect(file.versions[0]!.preparation).toBe('checking');
    // Broken off while it is looked at.
    await desk.close();
    await desk.open();
    await desk.get(Preparing).idle();
    const [version] = (await desk.json<FileView>('GET', `/api/files/${file.id}`)).versions;
    expect(version).toMatchObject({ preparation: 'ready', pages: 6 });

    const { id } = await desk.send({
      recipients: [to('otis@lindqvist.example')],
      files: [carried(file.id, { mayDownload: false })],
    });
    await desk.sent(id);
    desk.clock.advance(MINUTE);
    const set = desk.sqlite.prepare('update file_version set preparation = ? where id = ?');
    set.run('converting', version!.id);
    const url = fileLinks(mail.to('otis@lindqvist.example'))[0]!;
    const shown = await opened(await desk.visit(url));
    expect(shown.shows).toBe('soon');
    const ask = () => desk.visit(desk.config.publicUrl + shown.content, { headers: { range: 'bytes=0-0' } });
    expect((await ask()).status).toBe(503);
    set.run('ready', version!.id);
    const response = await ask();
    expect([response.status, response.headers.get('content-type')]).toEqual([206, 'application/pdf']);
    expect(response.headers.get('content-range')).toMatch(/^bytes 0-0\/\d+$/);
    expect((await desk.visit(`${url}/download`)).status).toBe(403);
    expect((await desk.detail(id)).eventsTotal).toBe(1);
    // What could not be made ready can be downloaded, although it was view only.
    set.run('download-only', version!.id);
    expect((await ask()).status).toBe(404);
    expect((await desk.visit(`${url}/download`)).status).toBe(200);
  },
  120_000,
);
