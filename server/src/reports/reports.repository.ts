import { Inject, Injectable } from '@nestjs/common';
import { and, eq, gte, sql } from 'drizzle-orm';
import type { SentMessage } from '@kiraku/core/reports';
import { compile, type Compiled } from '../store/compile.js';
import { DATABASE, type Database } from '../store/database.js';
import { link, message, sentFile, template } from '../store/schema.js';
import { isRead } from '../store/isRead.js';

/** What is true of a message, each a bit of one number: of very many messages a column each would take too long. */
const FACTS = {
  isTracked: sql`${message.trackOpens} and ${message.untrackedReason} is null`,
  hasLinks: sql`${message.id} in (select ${link.messageId} from ${link} where ${link.tracked})`,
  hasFiles: sql`${message.id} in (select ${sentFile.messageId} from ${sentFile})`,
  wasRead: isRead,
  wasClicked: sql`${message.clicks} > 0`,
  wasViewed: sql`${message.fileViews} > 0`,
  wasReplied: sql`${message.replies} > 0`,
};
const NAMES = Object.keys(FACTS) as (keyof typeof FACTS)[];
const BIT = Object.fromEntries(NAMES.map((name, n) => [name, 1 << n])) as Record<keyof typeof FACTS, number>;
const BITS = NAMES.map((name) => sql`((${FACTS[name]}) * ${sql.raw(String(BIT[name]))})`);

type SentMessageRow = [
  sentAt: number,
  templateId: number | null,
  facts: number,
  firstOpenAt: number | null,
  repliedAt: number | null,
];

/** Reads what reports are made of. */
@Injectable()
export class ReportsRepository {
  private readonly messagesSince: Compiled;

  constructor(@Inject(DATABASE) private readonly database: Database) {
    const { sentAt, templateId, firstOpenAt, repliedAt } = message;
    this.messagesSince = compile(
      database,
      database
        .select({ sentAt, templateId, facts: sql.join(BITS, sql` | `), firstOpenAt, repliedAt })
        .from(message)
        // In the words of the list's index, so that no row is read.
        .where(
          and(
            sql`${message.folder} is not 'deleted'`,
            eq(message.state, 'sent'),
            gte(message.sentAt, sql.placeholder('from')),
          ),
        ),
    );
  }

  /** Messages that were sent from a time on, save those that were taken out of the list; in no order. */
  messages(from: number): SentMessage[] {
    return this.messagesSince.all({ from }).map((row) => {
      const [sentAt, templateId, facts, firstOpenAt, repliedAt] = row as SentMessageRow;
      return {
        sentAt,
        templateId,
        isTracked: (facts & BIT.isTracked) > 0,
        hasLinks: (facts & BIT.hasLinks) > 0,
        hasFiles: (facts & BIT.hasFiles) > 0,
        wasRead: (facts & BIT.wasRead) > 0,
        wasClicked: (facts & BIT.wasClicked) > 0,
        wasViewed: (facts & BIT.wasViewed) > 0,
        wasReplied: (facts & BIT.wasReplied) > 0,
        firstOpenAt,
        repliedAt,
      };
    });
  }

  /** Of all templates, those among them that were deleted: what they did stays true. */
  templateNames(): Map<number, string> {
    const rows = this.database.select({ id: template.id, name: template.name }).from(template).all();
    return new Map(rows.map(({ id, name }) => [id, name]));
  }
}
