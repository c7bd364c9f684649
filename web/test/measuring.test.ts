import { jest } from '@jest/globals';
import type { ReadingReport } from '@kiraku/core/contract';
import { Measuring } from '../viewer/src/measuring.js';
import { Network, type Asked } from './network.js';

const SECOND = 1000;
/** Windows of tests before stay open: each has a name of its own. */
let reading = '';
let readings = 0;

let network: Network;
let beacons: ReadingReport[];
let visibility: DocumentVisibilityState;
let isFocused: boolean;

/** What is stubbed is the browser's own: whether the window is seen, and its clock. */
beforeEach(() => {
  jest.useFakeTimers();
  [visibility, isFocused, beacons] = ['visible', true, []];
  reading = `reading ${(readings += 1)}`;
  Object.defineProperty(document, 'visibilityState', { configurable: true, get: () => visibility });
  document.hasFocus = () => isFocused;
  navigator.sendBeacon = (_url, body) => {
    const report = JSON.parse(body as string) as ReadingReport;
    if (report.reading === reading) beacons.push(report);
    return true;
  };
  network = new Network();
});
afterEach(() => {
  jest.useRealTimers();
});

const seen = (is: boolean) => {
  visibility = is ? 'visible' : 'hidden';
  document.dispatchEvent(new Event('visibilitychange'));
};
/** Reports of this window that nobody has looked at yet. */
const reported = () => network.asked.splice(0).filter(({ body }) => (body as ReadingReport).reading === reading);
/** Time goes on, and every report is taken. */
async function reads(ms: number): Promise<ReadingReport[]> {
  const taken: ReadingReport[] = [];
  for (let left = ms; left > 0; left -= 500) {
    await jest.advanceTimersByTimeAsync(500);
    for (const asked of reported()) {
      taken.push(asked.body as ReadingReport);
      void asked.respond({});
      await jest.advanceTimersByTimeAsync(1);
    }
  }
  return taken;
}
const began = () => {
  const measuring = new Measuring({ url: '/f/report', reading }, 'read');
  measuring.start();
  return measuring;
};
const total = (report: ReadingReport | undefined) => report?.visits.map(({ page, ms }) => [page, ms]);

test('a page that is read is reported with as much time as it was seen', async () => {
  began();
  const reports = await reads(20 * SECOND);
  expect(reports.length).toBeGreaterThan(1);
  const ms = reports.at(-1)!.visits[0]!.ms;
  expect(ms).toBeGreaterThan(10 * SECOND);
  expect(ms).toBeLessThanOrEqual(20 * SECOND);
});

test('a window that nobody sees counts nothing, and says at once how far it was', async () => {
  began();
  await reads(4 * SECOND);
  seen(false);
  const atLast = total(beacons.at(-1));
  const hidden = await reads(60 * SECOND);
  expect(total(hidden.at(-1)) ?? atLast).toEqual(atLast);
  expect(atLast![0]![1]).toBeLessThanOrEqual(4 * SECOND + 10);
});

test.each<[name: string, lose: (report: Asked) => Promise<void>]>([
  ['does not arrive', (report) => report.fail()],
  ['is not taken', (report) => report.respond({}, 503)],
])('a report that %s is made good by the next', async (_name, lose) => {
  began();
  await jest.advanceTimersByTimeAsync(3 * SECOND);
  const [lost] = reported();
  void lose(lost!);
  await jest.advanceTimersByTimeAsync(1);
  // The page is turned no more: only what was lost can be reported.
  seen(false);
  beacons = [];
  seen(true);
  const later = await reads(20 * SECOND);
  expect(later[0]!.visits[0]).toMatchObject({ visit: 1, page: 1 });
  expect(total(later.at(-1))![0]![1]).toBeGreaterThan((lost!.body as ReadingReport).visits[0]!.ms);
});

test('a reading that is not wanted for a moment is waited with, longer each time', async () => {
  began();
  let reports = 0;
  for (let left = 60 * SECOND; left > 0; left -= 500) {
    await jest.advanceTimersByTimeAsync(500);
    for (const asked of reported()) {
      reports += 1;
      void asked.respond({}, 503);
    }
  }
  expect(reports).toBeGreaterThan(2);
  expect(reports).toBeLessThan(9);
});

test('where the file is gone nothing more is reported', async () => {
  began();
  await jest.advanceTimersByTimeAsync(3 * SECOND);
  void reported()[0]!.respond({}, 410);
  await jest.advanceTimersByTimeAsync(60 * SECOND);
  seen(false);
  expect([reported(), beacons]).toEqual([[], []]);
});

test('of a visitor who is not measured nothing is reported', async () => {
  const measuring = new Measuring(null, 'read');
  measuring.start();
  measuring.happens({ kind: 'page', page: 2 });
  await jest.advanceTimersByTimeAsync(60 * SECOND);
  expect(reported()).toEqual([]);
});

test('each page that is turned to is a visit of its own', async () => {
  const measuring = began();
  await reads(3 * SECOND);
  measuring.happens({ kind: 'page', page: 2 });
  await reads(3 * SECOND);
  measuring.happens({ kind: 'page', page: 1 });
  const reports = await reads(6 * SECOND);
  const visits = new Map(
    [...reports, ...beacons].flatMap((report) => report.visits).map(({ visit, page }) => [visit, page]),
  );
  expect([...visits.values()].at(-1)).toBe(1);
});
