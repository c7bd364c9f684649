import type { PublicHit } from '@kiraku/server/tracking/arrival';
import { HitWriter } from '@kiraku/server/tracking/hitWriter';
import { Places } from '@kiraku/server/tracking/places';
import { DAY } from '@kiraku/core/time';
import { databaseFile, type Config } from '@kiraku/server/environment/config';
import { openDatabase } from '@kiraku/server/store/database';
import { randomInt, randomLcg } from 'd3-random';
import { multiply } from './multiply.js';
import { seed, type Seeded } from './seed.js';

const ROWS_AT_ONCE = 500;
/** Of more messages than these, the rest are made of what was judged for these. */
const MAX_JUDGED_MESSAGES = 20_000;
const AGENTS = [
  'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Safari/537.36',
  'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0',
  'Mozilla/5.0 (iPhone; CPU iPhone OS 18_6 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Mobile/15E148',
  'Mozilla/5.0 (Windows NT 5.1; rv:11.0) Gecko Firefox/11.0 (via ggpht.com GoogleImageProxy)',
  'Mozilla/5.0',
  'LinkInspector/1.0 (+https://inspect.example/bot)',
];

/**
 * Sent messages and the activity to them, through the same judging as real hits, from a fixed seed. Of many, a part is
 * judged, and the rest are the same again, each part a week longer ago.
 *
 * @returns the tokens of all messages, and how many hits were judged and written a second
 */
export function seedLarge(config: Config, messages: number, events: number): Seeded & { perSecond: number } {
  const parts = Math.ceil(messages / MAX_JUDGED_MESSAGES);
  const judged = seedJudged(config, Math.ceil(messages / parts), Math.ceil(events / parts));
  return { ...judged, ...multiply(config, parts) };
}

function seedJudged(config: Config, messages: number, events: number): Seeded & { perSecond: number } {
  const now = Date.now();
  // Sent in the two months before the two months in which they are read.
  const seeded = seed(config, messages, now - 61 * DAY, (60 * DAY) / messages);
  const database = openDatabase(databaseFile(config));
  const writer = new HitWriter(database, new Places());
  const write = database.$client.transaction((hits: PublicHit[]) => writer.write(hits));
  const random = randomLcg(0.42);
  const pick = (below: number) => randomInt.source(random)(below)();
  const stepMs = (60 * DAY) / events;
  const began = performance.now();
  for (let done = 0; done < events; done += ROWS_AT_ONCE) {
    const from = now - (events - done) * stepMs;
    const hits = Array.from({ length: ROWS_AT_ONCE }, (_, n): PublicHit => {
      const message = pick(messages);
      const isClick = pick(5) === 0;
      return {
        token: (isClick ? seeded.linkTokens : seeded.imageTokens)[message]!,
        target: isClick ? 'link' : 'image',
        at: Math.floor(from + n * stepMs),
        ip: `203.0.${message % 250}.${pick(250)}`,
        userAgent: AGENTS[pick(AGENTS.length)]!,
        method: 'GET',
        purpose: '',
        ownDevice: false,
        dnt: false,
      };
    });
    write.immediate(hits);
  }
  const perSecond = events / ((performance.now() - began) / 1000);
  database.$client.pragma('wal_checkpoint(TRUNCATE)');
  database.$client.close();
  return { ...seeded, perSecond };
}
