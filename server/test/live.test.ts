import type { LiveUpdate, SessionView } from '@kiraku/core/contract';
import { MINUTE, SECOND } from '@kiraku/core/time';
import { LiveService } from '@kiraku/server/notifications/live.service';
import { JudgingSettings } from '@kiraku/server/tracking/judging.settings';
import { kinds, draftContent, trackingUrlsOf, desk, mail, useDesk } from './harness.js';
import { until } from './until.js';

let id: number;
let image: string;

useDesk('all');
beforeAll(async () => {
  id = (await desk.send({})).id;
  await desk.sent(id);
  image = trackingUrlsOf(mail.to('marit@lindqvist.example')).image!;
  desk.clock.advance(10 * SECOND);
});

/** A window that listens, as a browser does by the HTML standard. */
class Window {
  readonly updates: LiveUpdate[] = [];
  lastId = '';
  private readonly abort = new AbortController();

  static async open(lastId?: string): Promise<Window> {
    const window = new Window();
    const headers: Record<string, string> = lastId === undefined ? {} : { 'last-event-id': lastId };
    const cookieless = await desk.call('GET', '/api/live', undefined, headers);
    void window.read(cookieless);
    await window.until(() => window.lastId !== '');
    return window;
  }

  get events() {
    return this.updates.flatMap((update) => update.events);
  }

  until(is: () => boolean): Promise<void> {
    return until(is, { more: () => JSON.stringify(this.updates) });
  }

  close(): void {
    this.abort.abort();
  }

  private async read(response: Response): Promise<void> {
    const reader = response.body!.getReader();
    const decoder = new TextDecoder();
    this.abort.signal.addEventListener('abort', () => void reader.cancel().catch(() => undefined));
    let text = '';
    for (;;) {
      const { value, done } = await reader.read().catch(() => ({ value: undefined, done: true }));
      if (done) return;
      text += decoder.decode(value, { stream: true });
      const blocks = text.split('\n\n');
      text = blocks.pop()!;
      for (const block of blocks) {
        const data = /^data: (.*)$/m.exec(block)?.[1];
        if (!data) continue;
        this.lastId = /^id: (.*)$/m.exec(block)![1]!;
        this.updates.push(JSON.parse(data));
      }
    }
  }
}

const open = async () => {
  desk.clock.advance(2 * MINUTE);
  await desk.visit(image);
};

test('an open reaches every window, with the row as it now reads', async () => {
  const windows = [await Window.open(), await Window.open()];
  await open();
  await Promise.all(windows.map((window) => window.until(() => window.events.length > 0)));
  for (const window of windows) {
    expect(kinds(window.events)).toEqual(['opened']);
    const detail = await desk.detail(id);
    expect(window.updates.at(-1)!.messages).toEqual([detail.summary]);
    window.close();
  }
});

test('a window that slept gets what it missed, once, also over a restart', async () => {
  const window = await Window.open();
  await open();
  await window.until(() => window.events.length === 1);
  window.close();

  await open();
  await desk.close();
  await desk.open();
  await open();
  const awake = await Window.open(window.lastId);
  await open();
  await awake.until(() => awake.events.length >= 3);
  // What were told twice would have come before the next.
  await open();
  await awake.until(() => awake.events.length >= 4);
  expect(awake.events).toHaveLength(4);
  expect(new Set(awake.events.map((event) => event.eventId)).size).toBe(4);
  expect(awake.events[0]!.eventId).toBeGreaterThan(window.events[0]!.eventId);
  awake.close();
});

test('a stop waits for no window', async () => {
  const window = await Window.open();
  const began = Date.now();
  await desk.close();
  // The stream itself would go on for ever, with a beat each 20 seconds.
  expect(Date.now() - began).toBeLessThan(19_000);
  await desk.open();
  window.close();
});

test('after a night of hits it is asked to load again, rather than each one', async () => {
  const window = await Window.open();
  window.close();
  const settings = desk.get(JudgingSettings);
  settings.save({ ...settings.view(), proxies: ['127.0.0.1'] });
  const visits = Array.from({ length: 400 }, (_, n) =>
    desk.visit(image, { headers: { 'x-forwarded-for': `192.0.2.${n % 200}` } }),
  );
  await Promise.all(visits);
  const awake = await Window.open(window.lastId);
  expect(awake.updates[0]).toMatchObject({ gap: true });
  expect(awake.events.length).toBeLessThan(10);
  await open();
  await awake.until(() => awake.updates.length >= 2);
  expect(awake.updates[1]).toMatchObject({ gap: false, events: [{ messageId: id }] });
  awake.close();
});

test('what is sent or drafted in one window reaches the others', async () => {
  const window = await Window.open();
  await desk.json('POST', '/api/drafts', draftContent());
  await window.until(() => window.updates.some((update) => update.draftsChanged));
  const sent = await desk.send({ subject: 'From another window' });
  await window.until(() =>
    window.updates.some((update) => update.messages.some((row) => row.id === sent.id && row.state === 'sent')),
  );
  window.close();
});

test('what happens after it was read who has signed in reaches a window that listens only later', async () => {
  const { liveAfter } = await desk.json<SessionView>('GET', '/api/session');
  await open();
  const window = await Window.open(liveAfter);
  await window.until(() => window.events.length > 0);
  expect(kinds(window.events)).toEqual(['opened']);
  window.close();
  expect(await (await fetch(`${desk.url}/api/session`)).json()).toMatchObject({ liveAfter: '' });
});

test('a place that is none is taken for “from now on”', async () => {
  const window = await Window.open('nonsense');
  expect(window.events).toEqual([]);
  window.close();
});

test('a window that does not keep up is updated later, all at once, and nothing is lost', async () => {
  let isReady = false;
  const sent: LiveUpdate[] = [];
  const subscription = desk.get(LiveService).subscribe(undefined, {
    isReady: () => isReady,
    send: (_cursor, update) => sent.push(update),
  });
  // One that keeps up has been told all of it.
  const witness = await Window.open();
  await open();
  await open();
  await witness.until(() => witness.events.length === 2);
  witness.close();
  expect(sent).toEqual([]);
  isReady = true;
  await open();
  for (let n = 0; n < 200 && sent.length === 0; n += 1) await new Promise((resolve) => setTimeout(resolve, 20));
  subscription.unsubscribe();
  expect(sent.flatMap(({ events }) => events)).toHaveLength(3);
});
