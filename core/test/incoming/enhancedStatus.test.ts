import { codeIn, failingOf, failingWords, type Failing } from '@kiraku/core/incoming';

test.each<[code: string, failing: Failing]>([
  ['5.1.1', 'address-unknown'],
  ['5.1.3', 'address-unknown'],
  ['5.1.6', 'address-unknown'],
  ['5.1.10', 'address-unknown'],
  ['4.1.1', 'address-unknown'],
  ['5.1.2', 'domain-unknown'],
  ['5.4.4', 'domain-unknown'],
  ['5.2.2', 'mailbox-full'],
  ['4.2.2', 'mailbox-full'],
  ['5.2.1', 'mailbox-closed'],
  ['5.2.3', 'too-large'],
  ['5.3.4', 'too-large'],
  ['5.7.1', 'refused-as-spam'],
  ['5.7.7', 'refused-as-spam'],
  ['5.7.26', 'refused-as-spam'],
  ['5.7.27', 'refused-as-spam'],
  ['5.7.28', 'refused-as-spam'],
  ['5.4.6', 'loop'],
  ['4.4.1', 'not-reached'],
  ['5.4.7', 'not-reached'],
  ['5.7.0', 'refused'],
  ['5.7.13', 'refused'],
  ['5.0.0', 'other'],
  ['5.1.8', 'other'],
  ['', 'other'],
])('by the code %s: %s', (code, failing) => {
  expect(failingOf(code, '')).toBe(failing);
});

test.each<[said: string, failing: Failing]>([
  ['550 User unknown', 'address-unknown'],
  ['The mailbox you wrote to does not exist', 'address-unknown'],
  ["Recipient address doesn't exist", 'address-unknown'],
  ['550 Mailbox unavailable', 'address-unknown'],
  ['550 unknown user marit', 'address-unknown'],
  ['No such person here', 'address-unknown'],
  ['550 no mailbox by that name', 'address-unknown'],
  ['This is not our customer', 'address-unknown'],
  ['Host or domain name not found', 'domain-unknown'],
  ['DNS said NXDOMAIN', 'domain-unknown'],
  ['Mailbox is full', 'mailbox-full'],
  ['452 over quota', 'mailbox-full'],
  ['exceeded its storage quota', 'mailbox-full'],
  ['account has been disabled', 'mailbox-closed'],
  ['mailbox suspended', 'mailbox-closed'],
  ['552 message too large', 'too-large'],
  ['size limit exceeded', 'too-large'],
  ['exceeds the maximum size', 'too-large'],
  ['554 looks like spam', 'refused-as-spam'],
  ['listed on a blocklist', 'refused-as-spam'],
  ['poor reputation', 'refused-as-spam'],
  ['rejected by DMARC', 'refused-as-spam'],
  ['content rejected', 'refused-as-spam'],
  ['connection timed out', 'not-reached'],
  ['Connection refused', 'not-reached'],
  ['no route to host', 'not-reached'],
  ['try again later', 'not-reached'],
  ['something else', 'other'],
])('by the words “%s”: %s', (said, failing) => {
  expect(failingOf('', said)).toBe(failing);
});

test('a code says more than words, unless it says hardly anything', () => {
  expect(failingOf('5.2.2', 'User unknown')).toBe('mailbox-full');
  expect(failingOf('5.7.0', 'User unknown')).toBe('address-unknown');
  expect(failingOf('5.7.0', 'Nothing that one knows')).toBe('refused');
  expect(failingOf('5.9.9', 'over quota')).toBe('mailbox-full');
});

test('the words name what to do, and quote the server as far as is sensible', () => {
  expect(failingWords('mailbox-full', '')).toBe('Their mailbox is full. Try again later, or call.');
  expect(failingWords('address-unknown', ' 550\r\n  no   such user ')).toBe(
    'There is no such address. Check the spelling, or whether they have left. Their server said: “550 no such user”',
  );
  expect(failingWords('other', 'x'.repeat(400))).toBe(
    `It could not be delivered. Their server said: “${'x'.repeat(300)}”`,
  );
  const kinds: Failing[] = [
    'address-unknown',
    'domain-unknown',
    'mailbox-full',
    'mailbox-closed',
    'too-large',
    'refused-as-spam',
    'refused',
    'not-reached',
    'loop',
    'other',
  ];
  const sentences = kinds.map((kind) => failingWords(kind, ''));
  expect(new Set(sentences).size).toBe(kinds.length);
  for (const sentence of sentences) expect(sentence).toMatch(/^[A-Z].{15,}\.$/);
});

test.each([
  ['550 5.1.1 no', '5.1.1'],
  ['4.12.123', '4.12.123'],
  ['status 2.0.0', '2.0.0'],
  ['version 3.1.1', ''],
  ['15.1.1', ''],
  ['5.1', ''],
  ['', ''],
])('the first code in “%s” is “%s”', (text, code) => {
  expect(codeIn(text)).toBe(code);
});
