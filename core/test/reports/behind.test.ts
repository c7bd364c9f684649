import { listBehind, REPORT_VIEW, reportEntriesOf, reportViewFrom } from '@kiraku/core/reports';
import { DEFAULT_VIEW } from '@kiraku/core/sent';
import { daysText, readPeriod } from '@kiraku/core/time';
import fc from 'fast-check';

const NOW = new Date(2026, 10, 30, 9).getTime();

test('a number leads to the list of its days, archived messages among them', () => {
  const days = { from: new Date(2026, 8, 1).getTime(), to: new Date(2026, 10, 28).getTime() };
  const view = { ...REPORT_VIEW, company: 'Lindqvist' };
  expect(listBehind(view, days, 'clicked.of')).toEqual({
    ...DEFAULT_VIEW,
    company: 'Lindqvist',
    sent: '2026-09-01..2026-11-27',
    archived: 'any',
    sentWith: 'links',
    sort: 'sent',
  });
  expect(listBehind(view, { ...days, from: null }, 'read.n')).toMatchObject({
    sent: '..2026-11-27',
    sentWith: 'opens',
    show: 'opened',
  });
});

test('whole days are read as they were named', () => {
  const day = fc.integer({ min: -4000, max: 4000 }).map((days) => new Date(2026, 0, 1 + days).getTime());
  fc.assert(
    fc.property(fc.option(day), fc.option(day), (from, to) => {
      fc.pre(from !== null || to !== null);
      expect(readPeriod(daysText({ from, to }), NOW)).toEqual({ from, to });
    }),
  );
});

test('a report begins with the last days, and keeps what only a list can be narrowed by out of its address', () => {
  expect(reportViewFrom([])).toEqual(REPORT_VIEW);
  expect(reportEntriesOf(REPORT_VIEW)).toEqual([]);
  const ofAll = { ...REPORT_VIEW, sent: '' };
  expect(reportViewFrom(reportEntriesOf(ofAll))).toEqual(ofAll);
  const ofList: [string, string][] = [
    ['show', 'opened'],
    ['archived', 'true'],
    ['sort', 'opens'],
    ['domain', 'works.example'],
  ];
  expect(reportViewFrom(ofList)).toEqual({ ...REPORT_VIEW, domain: 'works.example' });
});
