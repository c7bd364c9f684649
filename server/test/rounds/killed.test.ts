import { setTimeout as pause } from 'node:timers/promises';
import Sqlite from 'better-sqlite3';
import type { RoundView } from '@kiraku/core/contract';
import { roundPlanOf } from '@kiraku/core/rounds';
import { Desk, MailServer } from '../harness.js';
import { Kiraku } from '../processes.js';
import { until } from '../until.js';

const PEOPLE = 40;
const KILLS = 5;
/** As many as are on their way at a time: one whose “250” was not noted before a kill goes again. */
const ON_THEIR_WAY = 4;
const ACCEPTING_MS = 60;

test('killed again and again while a round leaves: everybody gets it, and nobody another', async () => {
  const mail = await MailServer.start({
    // So slowly that every kill meets some on their way.
    onMailFrom: (_address, _session, callback) => void setTimeout(callback, ACCEPTING_MS),
  });
  const desk = await Desk.start(mail.port);
  const recipients = Array.from({ length: PEOPLE }, (_, n) => ({
    ...{ name: `Reader ${n}`, address: `reader${n}@x.example`, cells: [`${n}`] },
  }));
  const asked = { name: 'Killed', draftId: null, personIds: [], columns: ['number'], recipients, zone: 'UTC' };
  const round = await desk.json<RoundView>('POST', '/api/rounds', asked);
  await desk.json('PUT', `/api/rounds/${round.id}`, {
    ...roundPlanOf(round),
    revision: round.revision,
    wordings: ['A', 'B'].map((subject) => ({ subject: `${subject} {{number}}`, html: '<p>For {{name}}</p>' })),
    pace: { ...round.pace, kind: 'at-once' },
  });
  await desk.json('POST', `/api/rounds/${round.id}/start`);
  await desk.close();

  const kiraku = await Kiraku.start(desk.config);
  for (let n = 1; n <= KILLS; n += 1) {
    const wanted = Math.min(n * 5 + Math.floor(Math.random() * 3), PEOPLE - 1);
    await until(() => mail.received.length >= wanted, { withinMs: 60_000 });
    await pause(Math.random() * ACCEPTING_MS);
    await kiraku.kill('desk');
  }
  const database = new Sqlite(`${desk.config.dataDir}/kiraku.sqlite`, { readonly: true });
  const waiting = database.prepare("select count(*) from message where state <> 'sent'").pluck();
  await until(() => waiting.get() === 0, { withinMs: 60_000 });
  await kiraku.stop();

  const ids = new Map<string, Set<string>>();
  for (const { to, parsed } of mail.received) ids.set(to[0]!, (ids.get(to[0]!) ?? new Set()).add(parsed.messageId!));
  expect(ids.size).toBe(PEOPLE);
  expect([...ids.values()].filter(({ size }) => size > 1)).toEqual([]);
  expect(mail.received.length - PEOPLE).toBeLessThanOrEqual(KILLS * ON_THEIR_WAY);
  for (const { to, parsed } of mail.received) expect(`reader${parsed.subject!.slice(2)}@x.example`).toBe(to[0]);
  expect(database.prepare('select count(*) from copy').pluck().get()).toBe(PEOPLE);
  expect(database.pragma('integrity_check')).toEqual([{ integrity_check: 'ok' }]);
  database.close();
  await mail.stop();
}, 300_000);
