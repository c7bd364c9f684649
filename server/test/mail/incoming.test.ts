import { IncomingService } from '@kiraku/server/incoming/incoming.service';
import { Desk, MailServer } from '../harness.js';
import { became, incomingCases, reported, sendStory, toBecome, type IncomingRow } from './story.js';

let mail: MailServer;
let desk: Desk;
let names: Map<number, string>;

beforeAll(async () => {
  mail = await MailServer.start();
  desk = await Desk.start(mail.port);
  names = await sendStory(desk);
});
afterAll(async () => {
  await desk.stop();
  await mail.stop();
});

test.each(incomingCases().map((one) => [`${one.group}/${one.name}`, one] as const))(
  '%s',
  async (_name, { raw, expected }) => {
    const last = desk.sqlite.prepare('select coalesce(max(id), 0) from incoming').pluck().get();
    await desk.get(IncomingService).take(raw, { at: desk.clock.now(), returnPath: null });
    const rows = desk.sqlite
      .prepare('select kind, copy_id as copyId, words, doubt from incoming where id > ?')
      .all(last) as IncomingRow[];
    if (expected?.report) expect(await reported(raw)).toMatchObject(expected.report);
    expect(became(rows, names, expected)).toEqual(toBecome(expected));
  },
);
