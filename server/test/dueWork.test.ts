import { jest } from '@jest/globals';
import { Logger } from '@nestjs/common';
import { HOUR, MINUTE, SECOND } from '@kiraku/core/time';
import { Clock } from '@kiraku/server/environment/clock';
import type { HealthView } from '@kiraku/core/contract';
import { OutboxService } from '@kiraku/server/delivery/outbox.service';
import { DueWork, type Work } from '@kiraku/server/work/dueWork';
import { Desk, to } from './harness.js';
import { until } from './until.js';

const clock = new Clock();
const due = (run: Work['run']) => new DueWork({ name: 'a test', run }, clock);
/** Work that ends when it is told to. */
function slow() {
  const ends: ((next: number | null) => void)[] = [];
  const run = jest.fn<Work['run']>(() => new Promise<number | null>((resolve) => ends.push(resolve)));
  return { run, end: (next: number | null = null) => ends.shift()!(next) };
}

describe('work that is due', () => {
  beforeEach(() => {
    jest.useFakeTimers();
    Logger.overrideLogger(false);
  });
  afterEach(() => {
    jest.useRealTimers();
  });

  test('work runs when it is woken, and then when it said that more is due', async () => {
    const run = jest.fn(() => clock.now() + 10 * SECOND);
    const work = due(run);
    await jest.advanceTimersByTimeAsync(HOUR);
    expect(run).toHaveBeenCalledTimes(0);
    work.wake();
    expect(run).toHaveBeenCalledTimes(1);
    await jest.advanceTimersByTimeAsync(9 * SECOND);
    expect(run).toHaveBeenCalledTimes(1);
    await jest.advanceTimersByTimeAsync(SECOND);
    expect(run).toHaveBeenCalledTimes(2);
  });

  test('where nothing is due, it sleeps until it is woken', async () => {
    const run = jest.fn(() => null);
    const work = due(run);
    work.wake();
    await jest.advanceTimersByTimeAsync(24 * HOUR);
    expect(run).toHaveBeenCalledTimes(1);
    work.wake();
    expect(run).toHaveBeenCalledTimes(2);
  });

  test('what is due in an hour is not done earlier, and not later where the clock is put on', async () => {
    const run = jest.fn(() => clock.now() + HOUR);
    due(run).wake();
    await jest.advanceTimersByTimeAsync(59 * MINUTE);
    expect(run).toHaveBeenCalledTimes(1);
    // As after a machine was asleep: timers stood still, the clock did not.
    jest.setSystemTime(jest.now() + HOUR);
    await jest.advanceTimersByTimeAsync(MINUTE);
    expect(run).toHaveBeenCalledTimes(2);
  });

  test('it never runs twice at once; woken meanwhile, it runs once more', async () => {
    const { run, end } = slow();
    const work = due(run);
    for (let i = 0; i < 5; i += 1) work.wake();
    expect(run).toHaveBeenCalledTimes(1);
    end();
    await jest.advanceTimersByTimeAsync(0);
    expect(run).toHaveBeenCalledTimes(2);
    end();
    await work.idle();
    await jest.advanceTimersByTimeAsync(HOUR);
    expect(run).toHaveBeenCalledTimes(2);
  });

  test('work that finds more due each time leaves others their turn', async () => {
    const run = jest.fn(() => clock.now() - 1);
    due(run).wake();
    await jest.advanceTimersByTimeAsync(SECOND);
    expect(run.mock.calls.length).toBeLessThanOrEqual(11);
  });

  test.each<[name: string, run: Work['run']]>([
    [
      'throws',
      () => {
        throw new Error('Full disk');
      },
    ],
    ['rejects', () => Promise.reject(new Error('Full disk'))],
  ])('work that %s is tried again in a minute, and says why', async (_name, failing) => {
    let isMended = false;
    const run = jest.fn<Work['run']>((stopping) => (isMended ? null : failing(stopping)));
    const work = due(run);
    work.wake();
    await jest.advanceTimersByTimeAsync(0);
    const at = jest.now();
    expect(work.view()).toMatchObject({ lastError: { text: 'Full disk', at }, nextRunAt: at + MINUTE });
    await jest.advanceTimersByTimeAsync(59 * SECOND);
    expect(run).toHaveBeenCalledTimes(1);
    isMended = true;
    await jest.advanceTimersByTimeAsync(SECOND);
    expect(run).toHaveBeenCalledTimes(2);
    expect(work.view()).toMatchObject({ isRunning: false, lastError: null, nextRunAt: null });
  });

  test('a stop waits for what is under way, and begins nothing more', async () => {
    const { run, end } = slow();
    const work = due(run);
    work.wake();
    work.wake();
    let isStopped = false;
    const stopped = work.stop().then(() => (isStopped = true));
    await jest.advanceTimersByTimeAsync(SECOND);
    expect(isStopped).toBe(false);
    end(clock.now() + SECOND);
    await stopped;
    work.wake();
    await jest.advanceTimersByTimeAsync(HOUR);
    expect(run).toHaveBeenCalledTimes(1);
  });

  test('a stop does not wait for ever', async () => {
    const { run } = slow();
    const work = due(run);
    work.wake();
    const stopped = work.stop();
    await jest.advanceTimersByTimeAsync(10 * SECOND);
    await stopped;
    expect(run.mock.calls).toEqual([[expect.objectContaining({ aborted: true })]]);
  });
});

test('the health report names each work, when it runs, and why one failed', async () => {
  const desk = await Desk.start();
  const health = () => desk.json<HealthView>('GET', '/api/health');
  // What is done at a start has been done once.
  await until(async () => !(await health()).work.some(({ isRunning }) => isRunning));
  const { status, work } = await health();
  expect(status).toBe('ok');
  const names = work.map(({ name }) => name);
  expect(new Set(names).size).toBe(names.length);
  expect(work.filter(({ lastRunAt }) => lastRunAt === null)).toEqual([]);
  expect(work.find(({ name }) => name === 'retention')!.nextRunAt).toBeGreaterThan(desk.clock.now());

  // No mail server is there; and before it is tried again, the account is gone.
  const { id } = await desk.send({ recipients: [to('marit@lindqvist.example')] });
  await desk.until(id, ({ summary }) => summary.lastError !== null);
  desk.sqlite.prepare('delete from account').run();
  desk.clock.advance(HOUR);
  desk.get(OutboxService).wake();
  await desk.get(OutboxService).drained();
  const failing = await health();
  expect(failing.status).toBe('failing');
  expect(failing.work.find(({ name }) => name === 'outbox')!.lastError!.text).toMatch(/mail server, in the settings/);
  await desk.stop();
});
