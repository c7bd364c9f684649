import { parse } from 'csv-parse/sync';
import { SECOND } from '@kiraku/core/time';
import { READER, trackingUrlsOf, desk, mail, useDesk } from './harness.js';

let messageId: string;
const SUBJECT = '=HYPERLINK("https://evil.example"), "quoted", ünïcode';

useDesk('all');
beforeAll(async () => {
  const { id } = await desk.send({ subject: SUBJECT });
  messageId = (await desk.sent(id)).copies[0]!.messageIdHeader;
  desk.clock.advance(10 * SECOND);
  const { image, links } = trackingUrlsOf(mail.to('marit@lindqvist.example'));
  await desk.visit(image!);
  await desk.visit(image!);
  await desk.visit(links[0]!);
});

const COLUMNS =
  'event_id,at,kind,counted,reason,message_id,subject,recipient,link_text,link_url,file_name,page,seconds,ip,user_agent,device,system,program,place';

test('every event is a row of a sheet', async () => {
  const response = await desk.call('GET', '/api/export/events.csv');
  expect(response.headers.get('content-type')).toBe('text/csv; charset=utf-8');
  const text = await response.text();
  expect(text.split('\r\n')[0]).toBe(COLUMNS);
  const rows = parse(text, { columns: true }) as Record<string, string>[];
  expect(rows.map(({ kind, counted, reason }) => [kind, counted, reason])).toEqual([
    ['opened', 'true', ''],
    ['opened', 'false', 'repeat'],
    ['clicked', 'true', ''],
  ]);
  expect(rows[2]).toMatchObject({
    at: expect.stringMatching(/^\d{4}-\d\d-\d\dT[\d:.]+Z$/),
    message_id: messageId,
    recipient: 'marit@lindqvist.example',
    link_text: 'the proposal',
    link_url: 'https://tallowreed.example/proposal?a=1&b=2',
    ip: '127.0.0.1',
    user_agent: READER,
    device: 'computer',
    place: '',
  });
});

test('a subject that would be a formula is none in a sheet, and itself in JSON', async () => {
  const [row] = parse(await (await desk.call('GET', '/api/export/events.csv')).text(), { columns: true }) as {
    subject: string;
  }[];
  expect(row!.subject).toBe(`'${SUBJECT}`);
  const lines = (await (await desk.call('GET', '/api/export/events.jsonl')).text()).trimEnd().split('\n');
  expect(lines).toHaveLength(3);
  expect(JSON.parse(lines[0]!)).toMatchObject({ subject: SUBJECT, counted: true, kind: 'opened' });
  expect(Object.keys(JSON.parse(lines[0]!)).join(',')).toBe(COLUMNS);
});

test('more events than are read at once are all there, each once', async () => {
  desk.sqlite.exec(
    'insert into event (at, kind, counted, message_id, copy_id) with recursive n(i) as (select 1 union all select i + 1 from n where i < 2500) ' +
      "select 1000 + i, 'opened', 1, 1, 1 from n",
  );
  const lines = (await (await desk.call('GET', '/api/export/events.jsonl')).text()).trimEnd().split('\n');
  expect(new Set(lines.map((line) => (JSON.parse(line) as { event_id: number }).event_id)).size).toBe(2503);
});

test.each(['csv', 'jsonl'])('nobody takes the events.%s without signing in', async (kind) => {
  expect((await fetch(`${desk.url}/api/export/events.${kind}`)).status).toBe(401);
});
