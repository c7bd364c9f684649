import { Inject, Injectable } from '@nestjs/common';
import { and, eq, gte, sql } from 'drizzle-orm';
import type { SentLetter } from '@kiraku/core/reports';
import { compile, type Compiled } from '../store/compile.js';
import { DATABASE, type Database } from '../store/database.js';
import { link, message, sentFile, template } from '../store/schema.js';

/** What is true of a letter, each a bit of one number: of very many letters a column each would take too long. */
const FACTS = {
  isTracked: sql`${message.trackOpens} and ${message.untracked} is null`,
  hasLinks: sql`${message.id} in (select ${link.messageId} from ${link} where ${link.tracked})`,
  hasFiles: sql`${message.id} in (select ${sentFile.messageId} from ${sentFile})`,
  wasOpened: sql`${message.opens} > 0`,
  wasClicked: sql`${message.clicks} > 0`,
  wasViewed: sql`${message.fileViews} > 0`,
  wasAnswered: sql`${message.answers} > 0`,
};
const NAMES = Object.keys(FACTS) as (keyof typeof FACTS)[];
const BIT = Object.fromEntries(NAMES.map((name, n) => [name, 1 << n])) as Record<keyof typeof FACTS, number>;
const BITS = NAMES.map((name) => sql`((${FACTS[name]}) * ${sql.raw(String(BIT[name]))})`);

type LetterRow = [
  sentAt: number,
  templateId: number | null,
  facts: number,
  firstOpenAt: number | null,
  answeredAt: number | null,
];

/** Reads what reports are made of. */
@Injectable()
export class ReportsRepository {
  private readonly lettersSince: Compiled;

  constructor(@Inject(DATABASE) private readonly database: Database) {
    const { sentAt, templateId, firstOpenAt, answeredAt } = message;
    this.lettersSince = compile(
      database,
      database
        .select({ sentAt, templateId, facts: sql.join(BITS, sql` | `), firstOpenAt, answeredAt })
        .from(message)
        // In the words of the list's index, so that no row is read.
        .where(
          and(
            sql`${message.shelf} is not 'removed'`,
            eq(message.state, 'sent'),
            gte(message.sentAt, sql.placeholder('from')),
          ),
        ),
    );
  }

  /** Letters that were sent from a time on, save those that were taken out of the list; in no order. */
  letters(from: number): SentLetter[] {
    return this.lettersSince.all({ from }).map((row) => {
      const [sentAt, templateId, facts, firstOpenAt, answeredAt] = row as LetterRow;
      return {
        sentAt,
        templateId,
        isTracked: (facts & BIT.isTracked) > 0,
        hasLinks: (facts & BIT.hasLinks) > 0,
        hasFiles: (facts & BIT.hasFiles) > 0,
        wasOpened: (facts & BIT.wasOpened) > 0,
        wasClicked: (facts & BIT.wasClicked) > 0,
        wasViewed: (facts & BIT.wasViewed) > 0,
        wasAnswered: (facts & BIT.wasAnswered) > 0,
        firstOpenAt,
        answeredAt,
      };
    });
  }

  /** Of all templates, those among them that were thrown away: what they did stays true. */
  templateNames(): Map<number, string> {
    const rows = this.database.select({ id: template.id, name: template.name }).from(template).all();
    return new Map(rows.map(({ id, name }) => [id, name]));
  }
}
