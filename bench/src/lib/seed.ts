import { rmSync } from 'node:fs';
import type { Config } from '@kiraku/server/environment/config';
import { randomLcg } from 'd3-random';
import { databaseFile } from '@kiraku/server/environment/config';
import { openDatabase } from '@kiraku/server/store/database';
import { copy, copyLink, messageBody, link, message, person, setting } from '@kiraku/server/store/schema';
import { newToken } from '@kiraku/server/tracking/tokens';

export interface Seeded {
  imageTokens: string[];
  linkTokens: string[];
}

const BODY = '<p>Dear reader,</p><p>here is <a href="https://tallowreed.example/felt">the felt</a>.</p>'.repeat(10);

/** What subjects are made of, in many messages each. */
const WORDS = 'felt panels reading room price samples curtains acoustic reed proposal'.split(' ');
/** What is written besides, the first most often. */
const SYLLABLES = 'ba be bi bo ka ke ki ko la le li lo ma me mi mo ra re ri ro sa se si so'.split(' ');
const OTHER_WORDS = SYLLABLES.flatMap((first) => SYLLABLES.map((second) => `${first}${second}n`));
const WORDS_PER_BODY = 40;

/** As many messages as somebody gets on average. */
export const MESSAGES_PER_PERSON = 50;

/**
 * A data folder with sent messages of one recipient and one link each.
 *
 * @param lastSentAt when the last one was sent; the others each a while before
 */
export function seed(config: Config, messages: number, lastSentAt = Date.now() - 60_000, betweenMs = 1000): Seeded {
  rmSync(config.dataDir, { recursive: true, force: true });
  const database = openDatabase(databaseFile(config));
  const seeded: Seeded = { imageTokens: [], linkTokens: [] };
  const now = Date.now();
  database.$client.transaction(() => {
    for (let id = 0; id <= messages / MESSAGES_PER_PERSON; id += 1) {
      const address = addressOf(id);
      database.insert(person).values({ id, addressKey: address, address, name: 'A', createdAt: now }).run();
    }
    for (let id = 1; id <= messages; id += 1) {
      const sentAt = Math.floor(lastSentAt - id * betweenMs);
      const personId = Math.floor(id / MESSAGES_PER_PERSON);
      const [imageToken, linkToken] = [newToken(), newToken()];
      const recipient = { kind: 'to' as const, name: 'A', address: addressOf(personId) };
      database
        .insert(message)
        .values({
          id,
          state: 'sent',
          senderName: 'Ines',
          senderAddress: 'ines@tallowreed.example',
          recipients: [recipient],
          subject: subjectOf(id),
          trackOpens: true,
          trackClicks: true,
          revision: 1,
          createdAt: sentAt,
          updatedAt: sentAt,
          queuedAt: sentAt,
          sentAt,
          lastActivityAt: sentAt,
        } as typeof message.$inferInsert)
        .run();
      database.insert(messageBody).values({ messageId: id, html: BODY }).run();
      database
        .insert(copy)
        .values({
          id,
          messageId: id,
          personId,
          ...recipient,
          state: 'sent',
          messageIdHeader: `<${id}@x>`,
          imageToken,
          sentAt,
        })
        .run();
      database
        .insert(link)
        .values({
          id,
          messageId: id,
          position: 0,
          text: 'the felt',
          url: 'https://tallowreed.example/felt',
          tracked: true,
        })
        .run();
      database.insert(copyLink).values({ token: linkToken, copyId: id, linkId: id }).run();
      seeded.imageTokens.push(imageToken);
      seeded.linkTokens.push(linkToken);
    }
    const text = database.$client.prepare(
      "insert into message_text (rowid, subject, people, body, note) values (?, ?, ?, ?, '')",
    );
    for (let id = 1; id <= messages; id += 1) text.run(id, subjectOf(id), `A ${addressOf(id)}`, bodyOf(id));
    database.insert(setting).values({ key: 'search.indexedUpTo', value: 0 }).run();
  })();
  database.$client.close();
  return seeded;
}

/** What the nth message of {@link seed} is called. */
export function subjectOf(message: number): string {
  return `${WORDS[message % 3]} ${WORDS[message % 7]} ${WORDS[message % WORDS.length]} ${message}`;
}

/** Words of which some stand in most messages, and most in few. */
function bodyOf(message: number): string {
  const random = randomLcg(message / 2 ** 32);
  const words = Array.from(
    { length: WORDS_PER_BODY },
    () => OTHER_WORDS[Math.floor(OTHER_WORDS.length * random() ** 4)],
  );
  return `Dear reader, ${words.join(' ')}`;
}

function addressOf(person: number): string {
  return `a${person}@x${person % 100}.example`;
}
