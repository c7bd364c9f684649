import { parse } from 'csv-parse/sync';
import fc from 'fast-check';
import {
  type Duplicates,
  type CompanyRow,
  type ImportReport,
  type MessagePage,
  type PeoplePage,
  type PersonReading,
  type PersonView,
  type RecipientView,
  PERSON_FIELDS,
} from '@kiraku/core/contract';
import { guessColumns, tagsIn } from '@kiraku/core/people';
import { DAY, MINUTE } from '@kiraku/core/time';
import { MailboxSettings } from '@kiraku/server/incoming/mailbox.settings';
import { readCards, readCsv, writeCards, writeCsv, type Entry } from '@kiraku/server/people/sheets';
import { SearchIndex } from '@kiraku/server/sent/searchIndex';
import { ACCOUNT, trackingUrlsOf, to, desk, mail, useDesk } from './harness.js';
import { deliverTo } from './incoming/deliver.js';
import { until } from './until.js';

useDesk('all');

const directory = (words: string, order = 'name') =>
  desk.json<PeoplePage>('GET', `/api/people/directory?${new URLSearchParams({ words, order })}`);
const idOf = async (address: string) => (await directory(address)).people[0]!.id;
const reading = (id: number) => desk.json<PersonReading>('GET', `/api/people/${id}/reading`);
const bring = (text: string, more: object = {}) =>
  desk.json<ImportReport>('POST', '/api/people/import', {
    format: 'csv',
    text,
    columns: null,
    apply: false,
    ...more,
  });

/** A message that its recipient has opened. */
async function read(address: string, name: string, subject: string): Promise<number> {
  const { id } = await desk.send({ recipients: [to(address, name)], subject });
  await desk.sent(id);
  desk.clock.advance(10 * MINUTE);
  const received = mail.received.findLast((one) => one.to.includes(address))!;
  await desk.visit(trackingUrlsOf(received).image!);
  return id;
}

describe('the list of people', () => {
  test('who is called so is suggested before who only has the letters somewhere', async () => {
    for (const name of ['Saltmarsh Reader', 'Mira Saltmarsh', 'Marsha Ek', 'Otto Mars_h'])
      await desk.sent((await desk.send({ recipients: [to(`${name.replace(/\W+/g, '.')}@sugg.example`, name)] })).id);
    const suggested = async (words: string) =>
      (await desk.json<PersonView[]>('GET', `/api/people?words=${encodeURIComponent(words)}`)).map(({ name }) => name);
    expect((await suggested('mars'))[0]).toBe('Marsha Ek');
    expect((await suggested('mars')).slice(0, 2).sort()).toEqual(['Marsha Ek', 'Otto Mars_h']);
    // What is searched for is no pattern.
    expect(await suggested('mars_')).toEqual(['Otto Mars_h']);
  });

  test('says what each did over all their messages, and finds by a part of name, address or company', async () => {
    await read('ada@list.example', 'Ada List', 'One');
    await read('ada@list.example', 'Ada List', 'Two');
    const { people, total } = await directory('ada@list');
    expect(total).toBe(1);
    expect(people).toMatchObject([{ name: 'Ada List', messages: 2, opens: 2, clicks: 0, doNotTrack: false }]);
    const { readTimes, devices, messages, messagesTotal, trailEvents } = await reading(people[0]!.id);
    expect(readTimes).toHaveLength(2);
    expect(devices).toMatchObject([{ program: expect.stringContaining('Firefox'), opens: 2 }]);
    expect(messages.map(({ subject }) => subject)).toEqual(['Two', 'One']);
    expect(messagesTotal).toBe(2);
    expect(trailEvents.map(({ kind }) => kind)).toEqual(['opened', 'opened']);
    expect((await desk.call('GET', '/api/people/999999/reading')).status).toBe(404);
  });

  test('companies are known by the domain', async () => {
    await bring(
      'name,email,firm\nOne,one@firm.example,Felt & Co\nTwo,two@firm.example,\nThree,three@sub.firm.example,',
      {
        apply: true,
      },
    );
    const companies = await desk.json<CompanyRow[]>('GET', '/api/people/companies?words=firm.example');
    expect(companies).toEqual([
      { domain: 'firm.example', company: 'Felt & Co', people: 2, messages: 0 },
      { domain: 'sub.firm.example', company: '', people: 1, messages: 0 },
    ]);
  });

  test('pages follow each other without a gap', async () => {
    const rows = Array.from(
      { length: 230 },
      (_, index) => `P${String(index).padStart(3, '0')},p${index}@pages.example`,
    );
    await bring(['name,address', ...rows].join('\n'), { apply: true });
    const names: string[] = [];
    for (let cursor: string | null = ''; cursor !== null;) {
      const query: string = `words=pages.example&limit=100${cursor && `&cursor=${cursor}`}`;
      const page: PeoplePage = await desk.json('GET', `/api/people/directory?${query}`);
      names.push(...page.people.map(({ name }) => name));
      cursor = page.nextCursor;
    }
    expect(names).toEqual(rows.map((row) => row.split(',')[0]));
  });
});

describe('the list of people is narrowed', () => {
  const names = async (query: Record<string, string>) =>
    (
      await desk.json<PeoplePage>('GET', `/api/people/directory?${new URLSearchParams({ words: '@narrow', ...query })}`)
    ).people.map(({ name }) => name);
  const change = (id: number, part: object) => desk.call('PUT', `/api/people/${id}`, part);
  const known = new Map<string, number>();
  let firstSentAt = 0;

  beforeAll(async () => {
    await bring('name,email,tags\nIda Cold,cold@narrow.example,"café; Helsinki"', { apply: true });
    known.set('Ida Cold', await idOf('cold@narrow'));
    firstSentAt = desk.clock.now();
    const { id } = await desk.send({
      recipients: [to('late@narrow.example', 'Bo Late'), to('both@narrow.example', 'Cy Both')],
      subject: 'To two',
    });
    await desk.sent(id);
    await desk.json('POST', '/api/reminders', {
      messageIds: [id],
      personId: null,
      when: 'in 60 days',
      zone: 'Europe/London',
      condition: 'always',
    });
    desk.clock.advance(40 * DAY);
    await desk.sent((await desk.send({ recipients: [to('both@narrow.example', 'Cy Both')], subject: 'Again' })).id);
    for (const [name, address] of [
      ['Bo Late', 'late@narrow'],
      ['Cy Both', 'both@narrow'],
    ] as const)
      known.set(name, await idOf(address));
  });

  test('by last contact, and sorted by it', async () => {
    const before = String(desk.clock.now() - 30 * DAY);
    expect(await names({ contactTo: before })).toEqual(['Bo Late']);
    expect(await names({ contactFrom: before })).toEqual(['Cy Both']);
    expect(await names({ order: 'lastContact' })).toEqual(['Cy Both', 'Bo Late', 'Ida Cold']);
    expect(await names({ order: 'longestSilence' })).toEqual(['Bo Late', 'Cy Both', 'Ida Cold']);
    expect(await names({ show: 'not-written' })).toEqual(['Ida Cold']);
    const { people } = await directory('late@narrow');
    expect(people[0]!.lastContactAt! - firstSentAt).toBeLessThan(MINUTE);
    expect((await directory('cold@narrow')).people[0]!.lastContactAt).toBeNull();
    expect(await reading(known.get('Ida Cold')!)).toMatchObject({ lastContactAt: null, nextReminderAt: null });
  });

  test('by who has replied', async () => {
    const mailbox = desk.get(MailboxSettings);
    mailbox.save({ ...mailbox.view(), way: 'lmtp' });
    desk.clock.advance(MINUTE);
    const before = desk.clock.now();
    const { messageId } = mail.received.findLast(({ to: [first] }) => first === 'both@narrow.example')!.parsed;
    await deliverTo(
      desk,
      `From: both@narrow.example\nTo: ${ACCOUNT.address}\nSubject: Re: Again\nIn-Reply-To: ${messageId}\n` +
        'Message-ID: <reply@narrow.example>\n\nYes, please.\n',
      'both@narrow.example',
    );
    await until(async () => (await names({ show: 'replied' })).length > 0);
    expect(await names({ show: 'replied' })).toEqual(['Cy Both']);
    expect(await names({ show: 'not-replied' })).toEqual(['Bo Late']);
    // It is a contact, too.
    expect((await directory('both@narrow')).people[0]!.lastContactAt).toBeGreaterThanOrEqual(before);
  });

  test('by a reminder, also of a message to several', async () => {
    expect(await names({ show: 'reminder' })).toEqual(['Bo Late', 'Cy Both']);
    const { nextReminderAt } = await reading(known.get('Bo Late')!);
    // In the morning of that day.
    expect(Math.abs(nextReminderAt! - (firstSentAt + 60 * DAY))).toBeLessThan(DAY);
  });

  test('by tags, which are written as they are in use', async () => {
    expect(await names({ tag: 'café' })).toEqual(['Ida Cold']);
    await change(known.get('Bo Late')!, { tags: ['CAFÉ', 'CAFÉ ', 'to call'] });
    expect(await names({ tag: 'café' })).toEqual(['Bo Late', 'Ida Cold']);
    expect(await names({ words: 'to call' })).toEqual(['Bo Late']);
    expect(await desk.json('GET', '/api/people/tags')).toEqual([
      { tag: 'Helsinki', people: 1 },
      { tag: 'café', people: 2 },
      { tag: 'to call', people: 1 },
    ]);
    // What another window saves of them leaves the tags alone.
    await change(known.get('Bo Late')!, { company: 'Felt' });
    expect((await directory('late@narrow')).people[0]).toMatchObject({ tags: ['café', 'to call'], company: 'Felt' });
    const long = await change(known.get('Bo Late')!, { tags: ['x'.repeat(41)] });
    expect([long.status, await long.text()]).toEqual([422, expect.stringContaining('at most 40 characters')]);
  });

  test('by who is muted, and who is not tracked', async () => {
    await change(known.get('Cy Both')!, { muted: true });
    await desk.call('PUT', `/api/people/${known.get('Ida Cold')}/tracking`, { doNotTrack: true });
    expect(await names({ show: 'muted' })).toEqual(['Cy Both']);
    expect(await names({ show: 'not-tracked' })).toEqual(['Ida Cold']);
  });

  test('an import adds tags and takes none away, and its undo takes back what it added', async () => {
    const sheet = 'name,email,tags\n,late@narrow.example,"new, Café"\nEve,eve@narrow.example,"NEW; café"';
    const { counts } = await bring(sheet, { apply: true });
    expect(counts).toMatchObject({ change: 1, new: 1 });
    // Written as in use, and alike where the file writes them in two ways.
    expect((await directory('late@narrow')).people[0]!.tags).toEqual(['café', 'new', 'to call']);
    expect((await directory('eve@narrow')).people[0]!.tags).toEqual(['café', 'new']);
    await desk.call('POST', '/api/people/import/undo');
    expect((await directory('late@narrow')).people[0]!.tags).toEqual(['café', 'to call']);
  });

  test('who is erased is not brought back by undoing an import', async () => {
    await desk.sent(
      (
        await desk.send({
          recipients: [to('gone@narrow.example', 'Gil Gone'), to('both@narrow.example', 'Cy Both')],
          subject: 'To both',
        })
      ).id,
    );
    await bring('name,email,company,note\n,gone@narrow.example,Felt,Likes grey', { apply: true });
    const id = await idOf('gone@narrow');
    await bring('email,company\ngone@narrow.example,Reed', { apply: true });
    expect((await desk.call('DELETE', `/api/people/${id}`)).status).toBe(204);
    await desk.call('POST', '/api/people/import/undo');
    expect(desk.sqlite.prepare('select name, company, note from person where id = ?').get(id)).toEqual({
      name: '',
      company: '',
      note: '',
    });
  });

  test('who is merged brings their tags along, and who is erased leaves none', async () => {
    await desk.call('POST', `/api/people/${known.get('Bo Late')}/merge`, { into: known.get('Ida Cold') });
    expect((await directory('cold@narrow')).people[0]!.tags).toEqual(['Helsinki', 'café', 'to call']);
    expect(await desk.json('GET', `/api/people/${known.get('Ida Cold')}/data.json`)).toMatchObject({
      person: { tags: ['Helsinki', 'café', 'to call'] },
    });
    await desk.call('DELETE', `/api/people/${known.get('Ida Cold')}`);
    expect(await names({ tag: 'café' })).toEqual([]);
    expect(await desk.json('GET', '/api/people/tags')).toEqual([]);
  });
});

test('when somebody was last in touch is kept true through whatever becomes of the messages to them', () => {
  const { sqlite } = desk;
  const kept = sqlite.prepare('select id, last_contact_at at from person order by id');
  const counted = sqlite.prepare(`
    select person.id, nullif(max(max(coalesce(sent_at, 0), coalesce(last_reply_at, 0))), 0) at
    from person left join copy on copy.person_id = person.id group by person.id order by person.id`);
  const copies = sqlite.prepare('select id from copy order by id').pluck().all() as number[];
  const people = sqlite.prepare('select id from person order by id').pluck().all() as number[];
  const time = fc.option(fc.integer({ min: 1, max: 100 }));
  const step = fc.oneof(
    fc.record({ sql: fc.constant('update copy set sent_at = ? where id = ?'), to: time }),
    fc.record({ sql: fc.constant('update copy set last_reply_at = ? where id = ?'), to: time }),
    fc.record({ sql: fc.constant('update copy set person_id = ? where id = ?'), to: fc.constantFrom(...people) }),
    fc.record({ sql: fc.constant('delete from copy where id > ? and id = ?'), to: fc.constant(0) }),
  );
  expect(copies.length).toBeGreaterThan(2);
  expect(kept.all()).toEqual(counted.all());
  fc.assert(
    fc.property(fc.array(fc.tuple(step, fc.constantFrom(...copies)), { maxLength: 12 }), (steps) => {
      sqlite.exec('begin');
      try {
        for (const [{ sql, to }, id] of steps) sqlite.prepare(sql).run(to, id);
        expect(kept.all()).toEqual(counted.all());
      } finally {
        sqlite.exec('rollback');
      }
    }),
    { numRuns: 50 },
  );
});

describe('two who are one', () => {
  test('are found by their name, merged with all their messages, and split again', async () => {
    await read('bo@work.example', 'Bo Twice', 'To work');
    await read('bo@home.example', 'Bo Twice', 'To home');
    const [home, work] = [await idOf('bo@home'), await idOf('bo@work')];
    const same = await desk.json<Duplicates[]>('GET', '/api/people/duplicates');
    expect(
      same
        .find(({ name }) => name === 'Bo Twice')
        ?.people.map(({ id }) => id)
        .sort(),
    ).toEqual([work, home].sort());

    expect((await desk.call('POST', `/api/people/${home}/merge`, { into: work })).status).toBe(204);
    expect(await reading(work)).toMatchObject({ messagesTotal: 2, merged: [{ id: home, address: 'bo@home.example' }] });
    expect((await directory('bo@')).people).toMatchObject([{ id: work, messages: 2, opens: 2 }]);

    // What goes to the other address from now on is theirs, too, and so is their opt-out.
    await read('bo@home.example', 'Bo Twice', 'Again to home');
    expect((await reading(work)).messagesTotal).toBe(3);
    await desk.call('PUT', `/api/people/${work}/tracking`, { doNotTrack: true });
    expect(await desk.json('POST', '/api/people/recipients', { addresses: ['bo@home.example'] })).toMatchObject([
      { doNotTrack: true, personId: work, messages: 3, lookalike: null },
    ]);
    await desk.call('PUT', `/api/people/${work}/tracking`, { doNotTrack: false });
    // Unknown, at a domain that is one slip away from a known one; and at the known one.
    const unknown = await desk.json<RecipientView[]>('POST', '/api/people/recipients', {
      addresses: ['bo@hme.example', 'new@home.example'],
    });
    expect(unknown.map(({ personId, messages, lookalike }) => [personId, messages, lookalike])).toEqual([
      [null, 0, 'bo@home.example'],
      [null, 0, null],
    ]);
    // As many as a message may have, and no more.
    const many = (count: number) =>
      desk.call('POST', '/api/people/recipients', {
        addresses: Array.from({ length: count }, (_, n) => `somebody.with.a.long.name.${n}@unknown.example`),
      });
    expect((await many(500)).status).toBe(200);
    expect((await many(501)).status).toBe(422);

    expect((await desk.call('POST', `/api/people/${home}/unmerge`, { into: work })).status).toBe(204);
    expect((await reading(home)).messages.map(({ subject }) => subject)).toEqual(['Again to home', 'To home']);
    expect((await reading(work)).messages.map(({ subject }) => subject)).toEqual(['To work']);
    expect((await directory('bo@')).people.map(({ messages }) => messages).sort()).toEqual([1, 2]);
  });

  test('nobody is merged into themself or nobody', async () => {
    const id = await idOf('ada@list');
    expect((await desk.call('POST', `/api/people/${id}/merge`, { into: id })).status).toBe(422);
    expect((await desk.call('POST', `/api/people/${id}/merge`, { into: 999_999 })).status).toBe(404);
    expect((await desk.call('POST', `/api/people/${id}/unmerge`, { into: id })).status).toBe(404);
  });

  test('whoever is erased is erased at all their addresses', async () => {
    await read('cy@one.example', 'Cy Gone', 'First');
    const other = await read('cy@two.example', 'Cy Gone', 'Second');
    const [one, two] = [await idOf('cy@one'), await idOf('cy@two')];
    await desk.call('POST', `/api/people/${two}/merge`, { into: one });
    expect((await desk.call('DELETE', `/api/people/${one}`)).status).toBe(204);
    expect((await directory('cy@')).total).toBe(0);
    expect((await desk.call('GET', `/api/messages/${other}`)).status).toBe(404);
    expect(desk.sqlite.prepare("select count(*) from person where address like 'cy@%'").pluck().get()).toBe(0);
  });
});

describe('bringing people in', () => {
  const SHEET = [
    'Company;Full name;E-mail;Mobile;Time zone',
    'Loud Hall;Dee New;dee@bring.example;+44 1632 960555;Europe/Helsinki',
    ';Nobody;;;',
    ';Wrong;not an address;;',
    ';Again;DEE@bring.example;;',
    ';Odd;odd@bring.example;;Nowhere/Land',
  ].join('\r\n');

  test('is previewed first, done then, and undone', async () => {
    const look = await bring(SHEET);
    expect(look).toMatchObject({
      heads: ['Company', 'Full name', 'E-mail', 'Mobile', 'Time zone'],
      applied: false,
      counts: { new: 1, change: 0, same: 0, refused: 4 },
      columns: { company: 0, name: 1, address: 2, phone: 3, zone: 4, note: -1, doNotTrack: -1 },
    });
    expect(look.rows.map(({ problem }) => problem)).toEqual([
      'It has no address.',
      expect.stringContaining('not an address'),
      'The same address is above.',
      '“Nowhere/Land” is no time zone. Name it like Europe/Helsinki.',
      null,
    ]);
    expect((await directory('bring.example')).total).toBe(0);

    await bring(SHEET, { apply: true });
    expect((await directory('bring.example')).people).toMatchObject([
      { name: 'Dee New', company: 'Loud Hall', phone: '+44 1632 960555', zone: 'Europe/Helsinki' },
    ]);
    expect((await bring(SHEET)).counts).toMatchObject({ new: 0, same: 1 });

    // What the file does not say stays; what it says is new stands instead, until it is undone.
    const change = 'address,firm,do not track\ndee@bring.example,Quiet Hall,yes';
    expect((await bring(change, { apply: true })).counts.change).toBe(1);
    const changed = (await directory('bring.example')).people[0]!;
    expect(changed).toMatchObject({ name: 'Dee New', company: 'Quiet Hall', doNotTrack: true });
    await desk.json('POST', '/api/people/import/undo');
    expect((await directory('bring.example')).people[0]).toMatchObject({ company: 'Loud Hall', doNotTrack: false });
    expect((await desk.call('POST', '/api/people/import/undo')).status).toBe(422);
  });

  test('new people are gone again when it is undone, but not who was written to meanwhile', async () => {
    await bring('name,email\nEl,el@back.example\nFi,fi@back.example', { apply: true });
    await desk.sent((await desk.send({ recipients: [to('fi@back.example')] })).id);
    expect(await desk.json('POST', '/api/people/import/undo')).toEqual({ removed: 1 });
    expect((await directory('back.example')).people.map(({ name }) => name)).toEqual(['Fi']);
  });

  test('other columns are chosen, cards are read, and what is neither is refused in words', async () => {
    const text = 'a,b\ngil@cards.example,Gil';
    const columns = { ...guessColumns([]), address: 0, name: 1 };
    expect((await bring(text, { columns })).rows).toMatchObject([
      { name: 'Gil', address: 'gil@cards.example', action: 'new' },
    ]);
    const cards = [
      'BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Hal Card\r\nEMAIL;TYPE=work:hal@cards.example\r\nORG:Hall\\, Sons;Sales\r\nTEL;VALUE=uri:tel:+44-1632-960001\r\nEND:VCARD\r\n',
      'BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Ida Old\r\nN:Old;Ida;;;\r\nEMAIL;TYPE=INTERNET:ida@cards.example\r\nEND:VCARD\r\n',
    ].join('');
    expect((await bring(cards, { format: 'vcard', apply: true })).counts.new).toBe(2);
    expect((await directory('hal@cards')).people[0]).toMatchObject({ company: 'Hall, Sons', phone: '+44-1632-960001' });
    for (const [format, wrong] of [
      ['vcard', 'no cards at all'],
      ['csv', 'name,email\n"never closed'],
    ]) {
      const response = await desk.call('POST', '/api/people/import', {
        format,
        text: wrong,
        columns: null,
        apply: true,
      });
      expect([response.status, await response.text()]).toEqual([422, expect.stringMatching(/cannot be read/)]);
    }
  });
});

describe('taking people away', () => {
  test('a sheet and cards bring the same people back', async () => {
    const sheet = await (await desk.call('GET', '/api/people/people.csv')).text();
    const cards = await (await desk.call('GET', '/api/people/people.vcf')).text();
    const { total } = await directory('');
    for (const [format, text] of [
      ['csv', sheet],
      ['vcard', cards],
    ] as const) {
      const { counts } = await bring(text, { format });
      expect(counts).toEqual({ new: 0, change: 0, same: total, refused: 0 });
    }
  });

  const entry: fc.Arbitrary<Entry> = fc
    .record(
      Object.fromEntries(
        PERSON_FIELDS.map((field) => [
          field,
          fc.string({ unit: fc.constantFrom(...'abcé漢 ,;:"\'\\=+-@\n'), maxLength: 12 }).map((text) => text.trim()),
        ]),
      ) as Record<keyof Entry, fc.Arbitrary<string>>,
    )
    .map((one) => ({ ...one, address: `${one.address.length}@round.example`, doNotTrack: '' }));
  // One leading apostrophe before such a sign is the mark itself, which cannot be told from the value’s own.
  const plain = entry.filter((one) => Object.values(one).every((value) => !/^'[=+\-@]/.test(value)));

  test('whatever stands in a field comes back from a sheet, and is no formula there', () => {
    fc.assert(
      fc.property(fc.array(plain, { minLength: 1, maxLength: 5 }), (people) => {
        const text = writeCsv(people, true);
        expect(readCsv(text, null).entries).toEqual(people);
        for (const cells of parse(text) as string[][]) for (const cell of cells) expect(cell).not.toMatch(/^[=+\-@]/);
      }),
    );
  });

  test('and from cards', () => {
    const named = entry.map((one) => ({
      ...one,
      name: one.name || 'A name',
      company: one.company.replaceAll(';', ''),
    }));
    fc.assert(
      fc.property(fc.array(named, { minLength: 1, maxLength: 5 }), (people) => {
        expect(readCards(writeCards(people)).entries).toEqual(
          people.map((one) => ({ ...one, company: one.company.trim(), tags: tagsIn(one.tags).join(',') })),
        );
      }),
    );
  });
});

describe('a company that is entered later', () => {
  const found = async (words: string) => {
    await desk.get(SearchIndex).done();
    return (await desk.json<MessagePage>('GET', `/api/messages?words=${encodeURIComponent(words)}`)).messages.map(
      ({ id }) => id,
    );
  };
  const personOf = async (address: string) =>
    (await desk.json<PersonView[]>('GET', `/api/people?words=${encodeURIComponent(address)}`))[0]!;

  test('on a person’s page is found by search', async () => {
    const { id } = await desk.send({ recipients: [to('nobu@harbour.example', 'Nobu Arai')] });
    await desk.sent(id);
    expect(await found('Lanternworks')).toEqual([]);
    const person = await personOf('nobu@harbour.example');
    const known = { name: 'Nobuko Arai', phone: '', zone: '', note: '', muted: false };
    await desk.call('PUT', `/api/people/${person.id}`, { ...known, company: 'Lanternworks' });
    expect(await found('Lanternworks')).toEqual([id]);
    expect(await found('Nobuko')).toEqual([id]);
    await desk.call('PUT', `/api/people/${person.id}`, { ...known, company: '' });
    expect(await found('Lanternworks')).toEqual([]);
  });

  test('by two windows keeps what each has changed', async () => {
    await desk.sent((await desk.send({ recipients: [to('mo@harbour.example', 'Mo Arai')] })).id);
    const { id } = await personOf('mo@harbour.example');
    const change = (part: object) => desk.call('PUT', `/api/people/${id}`, part);
    for (const part of [
      { company: 'Harbour' },
      { phone: '+44 1632 960100' },
      { muted: true },
      { note: 'Met at the fair' },
    ])
      expect((await change(part)).status).toBe(204);
    expect(await desk.json('GET', `/api/people/${id}`)).toMatchObject({
      name: 'Mo Arai',
      company: 'Harbour',
      phone: '+44 1632 960100',
      note: 'Met at the fair',
      mutedAt: expect.any(Number),
    });
    await change({ muted: false, zone: '' });
    expect(await desk.json('GET', `/api/people/${id}`)).toMatchObject({ mutedAt: null, company: 'Harbour' });
    expect((await change({ zone: 'Nowhere/Land' })).status).toBe(422);
    expect((await change({ name: 7 })).status).toBe(422);
  });

  test('by an import is found by search, and no more once that is undone', async () => {
    const { id } = await desk.send({ recipients: [to('sini@harbour.example', 'Sini Salo')] });
    await desk.sent(id);
    const text = 'address,firm\nsini@harbour.example,Kelpworks\n';
    await desk.json('POST', '/api/people/import', { format: 'csv', text, columns: null, apply: true });
    expect(await found('Kelpworks')).toEqual([id]);
    await desk.json('POST', '/api/people/import/undo');
    expect(await found('Kelpworks')).toEqual([]);
  });
});
