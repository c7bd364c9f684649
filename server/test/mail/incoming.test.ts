import { IncomingService } from '@kiraku/server/incoming/incoming.service';
import { desk, useDesk } from '../harness.js';
import { became, incomingCases, reported, sendStory, toBecome, type IncomingRow } from './story.js';

let names: Map<number, string>;

useDesk('all');
beforeAll(async () => {
  names = await sendStory(desk);
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
