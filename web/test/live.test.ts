import { jest } from '@jest/globals';
import type { LiveUpdate } from '@kiraku/core/contract';
import { listenLive } from '../src/app/live.js';

const SECOND = 1000;

/** The browser's own stream, as far as the page uses it. */
class Stream extends EventTarget {
  static readonly CLOSED = 2;
  static readonly OPEN = 1;
  static all: Stream[] = [];
  readyState = Stream.OPEN;
  constructor(readonly url: string) {
    super();
    Stream.all.push(this);
  }
  close(): void {
    this.readyState = Stream.CLOSED;
  }
  says(id: string, update: object): void {
    this.dispatchEvent(new MessageEvent('message', { data: JSON.stringify(update), lastEventId: id }));
  }
  is(what: 'open' | 'beat' | 'error'): void {
    this.dispatchEvent(new Event(what));
  }
}
const newest = () => Stream.all.at(-1)!;

let updates: LiveUpdate[];
let states: string[];
let close: () => string;
beforeEach(() => {
  jest.useFakeTimers();
  Stream.all = [];
  [updates, states] = [[], []];
  Object.assign(globalThis, { EventSource: Stream });
  close = listenLive({
    after: '5.2',
    onUpdate: (update) => updates.push(update),
    onState: (state) => states.push(state),
  });
});
afterEach(() => {
  close();
  jest.useRealTimers();
});

test('it begins where it is told to, also where it breaks before anything was pushed', () => {
  expect(newest().url).toBe('/api/live?after=5.2');
  window.dispatchEvent(new Event('online'));
  expect([Stream.all.length, newest().url]).toEqual([2, '/api/live?after=5.2']);
});

test('what is pushed is passed on', () => {
  newest().is('open');
  newest().says('7', { messages: [] });
  expect([states, updates]).toEqual([['live'], [{ messages: [] }]]);
});

test('a stream that has been silent for too long is opened anew, after the last push that was taken', () => {
  newest().says('7', {});
  jest.advanceTimersByTime(49 * SECOND);
  expect(Stream.all).toHaveLength(1);
  jest.advanceTimersByTime(SECOND);
  expect(Stream.all).toHaveLength(2);
  expect(Stream.all[0]!.readyState).toBe(Stream.CLOSED);
  expect(newest().url).toBe('/api/live?after=7');
});

test('a beat is enough for the connection to be taken for alive', () => {
  for (let beats = 0; beats < 10; beats += 1) {
    jest.advanceTimersByTime(20 * SECOND);
    newest().is('beat');
  }
  expect(Stream.all).toHaveLength(1);
});

test('after an error of the server it is opened again; what the browser does itself is left to it', () => {
  newest().is('error');
  jest.advanceTimersByTime(10 * SECOND);
  expect([states, Stream.all.length]).toEqual([['lost'], 1]);
  newest().readyState = Stream.CLOSED;
  newest().is('error');
  jest.advanceTimersByTime(2 * SECOND);
  expect(Stream.all).toHaveLength(2);
});

test('when the machine is back on the network, it is opened at once', () => {
  window.dispatchEvent(new Event('online'));
  expect(Stream.all).toHaveLength(2);
});

test('once closed, it says after which push another goes on', () => {
  newest().says('7.2', {});
  expect(close()).toBe('7.2');
});

test('once closed, it stays closed, also where it was about to be opened again', () => {
  newest().readyState = Stream.CLOSED;
  newest().is('error');
  close();
  window.dispatchEvent(new Event('online'));
  jest.advanceTimersByTime(200 * SECOND);
  expect(Stream.all).toHaveLength(1);
});
