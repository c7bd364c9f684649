import fc from 'fast-check';
import { readMailto } from '@kiraku/core/message';

const recipients = (uri: string) => readMailto(uri)?.recipients.map(({ kind, address }) => `${kind} ${address}`);

test.each<[uri: string, expected: string[]]>([
  ['mailto:marit@lindqvist.example', ['to marit@lindqvist.example']],
  ['MAILTO:marit@lindqvist.example,jun@lindqvist.example', ['to marit@lindqvist.example', 'to jun@lindqvist.example']],
  ['mailto:?to=a@x.example&cc=b@x.example&bcc=c@x.example', ['to a@x.example', 'cc b@x.example', 'bcc c@x.example']],
  ['mailto:a@x.example?cc=A@X.example', ['to a@x.example']],
  ['mailto:ines%2Bpanels@x.example', ['to ines+panels@x.example']],
  ['mailto:ines+panels@x.example', ['to ines+panels@x.example']],
  ['mailto:no-address,a@x.example', ['to a@x.example']],
  ['mailto:%E4', []],
  ['mailto:', []],
])('%s', (uri, expected) => expect(recipients(uri)).toEqual(expected));

test('subject and body are filled in, the body as text', () => {
  expect(readMailto('mailto:a@x.example?subject=Felt%20%26%20reed&body=Dear%20A,%0D%0A%3Cb%3Ehello%3C/b%3E')).toEqual({
    recipients: [{ kind: 'to', name: '', address: 'a@x.example' }],
    subject: 'Felt & reed',
    html: '<p>Dear A,</p><p>&lt;b&gt;hello&lt;/b&gt;</p>',
  });
});

test('nothing else is taken from a link of a stranger', () => {
  const read = readMailto(
    'mailto:a@x.example?attach=/etc/passwd&from=b@x.example&in-reply-to=%3Cc@x%3E&subject=a%0D%0AB: c',
  );
  expect(read).toEqual({ recipients: [expect.anything()], subject: 'a B: c', html: '' });
});

test.each(['', 'http://x.example', 'javascript:alert(1)', 'x-mailto:a@x.example', ' mailto:a@x.example'])(
  '“%s” is no such link',
  (uri) => expect(readMailto(uri)).toBeNull(),
);

test('whatever a link says, it is read, and no markup comes out of it', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), fc.string(), (path, query) => {
      const { html } = readMailto(`mailto:${path}?body=${encodeURIComponent(query)}&${path}`)!;
      expect(html.replace(/<\/?p>/g, '')).not.toMatch(/[<>]/);
    }),
  );
});
