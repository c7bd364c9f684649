import type { PersonData } from '@kiraku/core/contract';
import { personDataText, reasonText } from '@kiraku/core/sentences';

const NOBODY: PersonData = {
  person: {
    id: 1,
    name: 'Marit Oakes',
    address: 'marit@lindqvist.example',
    company: '',
    phone: '',
    zone: '',
    note: '',
    tags: [],
    mutedAt: null,
    createdAt: 0,
    doNotTrack: false,
    optedOutAt: null,
  },
  messages: [],
  incoming: [],
  events: [],
};
const EVENT: PersonData['events'][number] = {
  at: 0,
  kind: 'page_viewed',
  counted: true,
  reason: null,
  subject: 'Panels',
  link: null,
  file: 'Panels.pdf',
  page: 3,
  readMs: 65_000,
  givenAddress: null,
  ip: '192.0.2.7',
  userAgent: null,
  place: null,
};

test('of somebody of whom little is known, only that is said', () => {
  const text = personDataText(NOBODY);
  expect(text).toContain('What is known about Marit Oakes\n\nAddress: marit@lindqvist.example\nKnown since: ');
  expect(text).toContain('Messages (0):');
  expect(text).not.toMatch(/Company|Phone|Time zone|Note|null|undefined/);
});

test.each<[part: Partial<PersonData['person']>, line: RegExp]>([
  [{}, /^Tracking: allowed$/m],
  [{ doNotTrack: true }, /^Tracking: switched off$/m],
  [{ doNotTrack: true, optedOutAt: 0 }, /^Tracking: opted out on .*1970/m],
  [{ name: '' }, /^What is known about marit@lindqvist\.example$/m],
])('of %j it is said', (part, line) => {
  expect(personDataText({ ...NOBODY, person: { ...NOBODY.person, ...part } })).toMatch(line);
});

test('an event says all that is kept of it, and in words why it is not counted', () => {
  const lines = personDataText({
    ...NOBODY,
    events: [EVENT, { ...EVENT, counted: false, reason: 'many-links' }],
  }).split('\n');
  const [first, second] = lines.filter((line) => line.includes('page viewed'));
  expect(first).toMatch(/: page viewed, “Panels”; “Panels\.pdf”; page 3; for 1 min 5 s; from 192\.0\.2\.7$/);
  expect(second).toMatch(new RegExp(`; not counted: ${reasonText('many-links')}$`));
});
