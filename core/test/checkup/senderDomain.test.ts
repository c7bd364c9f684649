import { dmarcFinding, spfFinding, withThoseAbove } from '@kiraku/core/checkup';

const spf = (...records: string[]) => spfFinding('reed.example', records, 'smtp.reed.example');
const dmarc = (...records: string[]) => dmarcFinding('reed.example', records, 'ines@reed.example');

test.each<[string, string[], string]>([
  ['ends in a soft fail', ['v=spf1 include:_spf.provider.example ~all'], 'ok'],
  ['stands beside others', ['google-site=abc', 'v=spf1 mx -all', 'v=spf10 all'], 'ok'],
  ['is written in capitals', ['V=SPF1 MX -ALL'], 'ok'],
  ['leads to another', ['v=spf1 redirect=_spf.provider.example'], 'ok'],
  ['is missing', [], 'failing'],
  ['is of another version', ['v=spf10 -all'], 'failing'],
  ['is there twice', ['v=spf1 mx -all', 'v=spf1 a -all'], 'failing'],
  ['lets everybody send', ['v=spf1 +all'], 'attention'],
  ['lets everybody send, without a sign', ['v=spf1 mx all'], 'attention'],
  ['has no end', ['v=spf1 mx'], 'attention'],
  [
    'asks for too many others',
    [`v=spf1 ${Array.from({ length: 11 }, (_, n) => `include:s${n}.example`).join(' ')} -all`],
    'failing',
  ],
  [
    'asks for just as many as may be',
    [`v=spf1 ${Array.from({ length: 10 }, (_, n) => `a:s${n}.example`).join(' ')} -all`],
    'ok',
  ],
  ['names many addresses', [`v=spf1 ${Array.from({ length: 30 }, (_, n) => `ip4:192.0.2.${n}`).join(' ')} -all`], 'ok'],
])('an SPF record that %s', (_what, records, state) => {
  expect(spf(...records).state).toBe(state);
});

test('where it is missing, one is proposed for the server that mail leaves by', () => {
  expect(spf().records).toEqual([{ name: 'reed.example', type: 'TXT', value: 'v=spf1 a:smtp.reed.example mx ~all' }]);
  expect(spfFinding('reed.example', [], '192.0.2.7').records[0]!.value).toBe('v=spf1 ip4:192.0.2.7 mx ~all');
  expect(spf('v=spf1 mx -all').records).toEqual([]);
});

test.each<[string, string[], string]>([
  ['says reject', ['v=DMARC1; p=reject; rua=mailto:a@reed.example'], 'ok'],
  ['says none, with blanks', ['v=DMARC1 ; sp=reject; p = none'], 'ok'],
  ['is missing', [], 'attention'],
  ['is no such record', ['v=DMARC11; p=none', 'p=none'], 'attention'],
  ['is there twice', ['v=DMARC1; p=none', 'v=DMARC1; p=none'], 'attention'],
  ['has no policy', ['v=DMARC1; sp=reject'], 'failing'],
  ['has a policy that there is not', ['v=DMARC1; p=maybe'], 'failing'],
])('a DMARC record that %s', (_what, records, state) => {
  expect(dmarc(...records).state).toBe(state);
});

test('its policy is that of the domain, and one is proposed where there is none', () => {
  expect(dmarc('v=DMARC1; sp=none; p=quarantine').detail).toMatch(/: quarantine\.$/);
  expect(dmarc().records).toEqual([
    { name: '_dmarc.reed.example', type: 'TXT', value: 'v=DMARC1; p=none; rua=mailto:ines@reed.example' },
  ]);
});

test('a domain stands below those above it, and none of a single label', () => {
  expect(withThoseAbove('sales.reed.co.example')).toEqual(['sales.reed.co.example', 'reed.co.example', 'co.example']);
  expect(withThoseAbove('reed.example')).toEqual(['reed.example']);
  expect(withThoseAbove('localhost')).toEqual(['localhost']);
});
