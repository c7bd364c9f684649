import { classify, copyOfReport, type Candidate, type Classified } from '@kiraku/core/inbox';
import { readMail } from '@kiraku/server/mime/readMail';
import { ABOUT, RECIPIENT, REPORTS, type Expected } from './reports.js';

const COPIES: Candidate[] = [
  { copyId: 1, messageId: 1, personId: 1, address: RECIPIENT, messageIdHeader: ABOUT },
  {
    copyId: 2,
    messageId: 1,
    personId: 2,
    address: 'eilif@nordhus.example',
    messageIdHeader: '<another@tallowreed.example>',
  },
];

const NOBODY = { personIds: new Set<number>(), quotedCopyIds: [] };

/** What a mail says of the one copy; null where it says nothing of it. */
function saidOf(found: Classified): Expected {
  if (found.kind === 'receipt') {
    const copy = copyOfReport({ ...found, ...NOBODY, mayBeElsewhere: false }, COPIES);
    return copy?.copyId === 1 ? { disposition: found.disposition } : null;
  }
  if (found.kind !== 'delivery') return null;
  const [report] = found.recipients.filter(
    ({ addresses }) =>
      copyOfReport({ about: found.about, addresses, ...NOBODY, mayBeElsewhere: true }, COPIES)?.copyId === 1,
  );
  return report ? { action: report.action, failing: report.failing ?? undefined } : null;
}

test('there are forty and more of them', () => expect(REPORTS.length).toBeGreaterThanOrEqual(40));

test.each(REPORTS)('$name', async ({ mail, expected }) => {
  const opened = await readMail(Buffer.from(mail), null);
  const said = saidOf(classify(opened!));
  if (expected === null) expect(said).toBeNull();
  else expect(said).toMatchObject(expected);
});
