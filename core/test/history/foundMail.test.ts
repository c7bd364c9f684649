import fc from 'fast-check';
import { earlierMail, FoundMail, type EarlierMail, type MailHeader } from '@kiraku/core/history';
import { addressKey } from '@kiraku/core/message';

const NOW = Date.UTC(2026, 5, 1);
const header = (part: Partial<MailHeader> & { date?: string } = {}): MailHeader => ({
  from: { name: 'Ines', address: 'ines@tallowreed.example' },
  to: [{ name: 'Marit', address: 'marit@lindqvist.example' }],
  cc: [],
  bcc: [],
  subject: 'Felt',
  messageIdHeader: '<a@x.example>',
  references: [],
  headers: new Map([['date', part.date ?? 'Tue, 1 Mar 2022 10:00:00 +0100']]),
  ...part,
});

test.each([
  ['Tue, 1 Mar 2022 10:00:00 +0100 (CET)', Date.UTC(2022, 2, 1, 9)],
  ['1 Mar 2022 09:00 GMT', Date.UTC(2022, 2, 1, 9)],
  ['Thu, 01 Jan 1970 00:00:00 +0000', 'no-date'],
  ['Tue, 1 Mar 2033 10:00:00 +0100', 'no-date'],
  ['soon', 'no-date'],
  ['', 'no-date'],
])('the date “%s” is %s', (date, expected) => {
  const mail = earlierMail(header({ date }), NOW);
  expect(typeof mail === 'string' ? mail : mail.at).toBe(expected);
});

test('each recipient is one, and the sender none', () => {
  const mail = earlierMail(
    header({
      to: [
        { name: 'Marit', address: 'marit@lindqvist.example' },
        { name: '', address: 'Marit@Lindqvist.example' },
        { name: 'Ines', address: 'INES@tallowreed.example' },
      ],
      cc: [{ name: 'x', address: 'undisclosed recipients' }],
      bcc: [{ name: 'Ben', address: 'ben@x.example' }],
    }),
    NOW,
  ) as EarlierMail;
  expect(mail.recipients.map(({ kind, address }) => [kind, address])).toEqual([
    ['to', 'marit@lindqvist.example'],
    ['bcc', 'ben@x.example'],
  ]);
  expect(earlierMail(header({ to: [] }), NOW)).toBe('no-recipient');
});

test('the conversation is kept oldest first, each message once', () => {
  const references = ['<c@x.example>', '<c@x.example>', '<b@x.example>', '<a@x.example>'];
  expect((earlierMail(header({ references }), NOW) as EarlierMail).conversation).toEqual([
    '<a@x.example>',
    '<b@x.example>',
    '<c@x.example>',
  ]);
});

const address = fc.constantFrom('a@x.example', 'b@x.example', 'c@x.example', 'A@x.example');
const mails = fc.array(
  fc.record({
    at: fc.integer({ min: 0, max: 50 }),
    from: fc.record({ name: fc.constant(''), address: fc.constantFrom('me@x.example', 'you@x.example') }),
    recipients: fc
      .uniqueArray(address, { minLength: 1, selector: addressKey })
      .chain((all) =>
        fc.tuple(
          ...all.map((one) =>
            fc.constantFrom('', 'One', 'Two').map((name) => ({ kind: 'to' as const, name, address: one })),
          ),
        ),
      ),
    subject: fc.constant(''),
    messageIdHeader: fc.constant(null),
    conversation: fc.constant<string[]>([]),
  }),
);
const foundIn = (all: readonly EarlierMail[]) => {
  const found = new FoundMail();
  for (const mail of all) found.add(mail);
  return found;
};
const both = new Set(['me@x.example', 'you@x.example']);

test('in any order the same people are found, as often and as late as they were written to', () => {
  fc.assert(
    fc.property(mails, (all) => {
      const sorted = (found: FoundMail) =>
        found
          .peopleOf(both)
          .map(({ address: one, messages, lastAt }) => [addressKey(one), messages, lastAt])
          .sort();
      const found = foundIn(all);
      expect(sorted(foundIn([...all].reverse()))).toEqual(sorted(found));
      const sum = found.peopleOf(both).reduce((total, { messages }) => total + messages, 0);
      expect(sum).toBe(all.reduce((total, { recipients }) => total + recipients.length, 0));
      expect(found.view(both).senders.reduce((total, { messages }) => total + messages, 0)).toBe(all.length);
    }),
  );
});

test('a name is that of the last mail which has one', () => {
  const to = (name: string, at: number): EarlierMail => ({
    ...(earlierMail(header(), NOW) as EarlierMail),
    at,
    recipients: [{ kind: 'to', name, address: 'marit@lindqvist.example' }],
  });
  const found = foundIn([to('Marit Oakes', 5), to('', 9), to('Marit', 2)]);
  expect(found.peopleOf(new Set(['ines@tallowreed.example']))).toMatchObject([
    { name: 'Marit Oakes', messages: 3, lastAt: 9 },
  ]);
});

test('whose mail it is: the user’s, else whoever sent most', () => {
  const from = (one: string): EarlierMail => ({
    ...(earlierMail(header(), NOW) as EarlierMail),
    from: { name: '', address: one },
  });
  const found = foundIn([from('old@x.example'), from('old@x.example'), from('me@x.example')]);
  const own = (addresses: string[]) =>
    found
      .view(new Set(addresses))
      .senders.filter(({ isOwn }) => isOwn)
      .map(({ address: one }) => one);
  expect(own(['me@x.example'])).toEqual(['me@x.example']);
  expect(own(['nobody@x.example'])).toEqual(['old@x.example']);
});
