import { and, sql } from 'drizzle-orm';
import type { ListFilter, SubjectOutcome } from '@kiraku/core/contract';
import { FACT_NAMES, FACTS, rateOf, type Counting, type Fact } from '@kiraku/core/reports';
import { sourceOf, WIDE_INDEX } from '../sent/source.repository.js';
import type { Database } from '../store/database.js';
import { isRead } from '../store/isRead.js';
import { message, template } from '../store/schema.js';

const CONDITIONS: Record<Fact, ReturnType<typeof sql>> = {
  isTracked: sql`(${message.trackOpens} and ${message.untrackedReason} is null)`,
  hasLinks: sql`${message.hasLinks}`,
  hasFiles: sql`${message.hasFiles}`,
  wasRead: isRead,
  wasClicked: sql`(${message.clicks} > 0)`,
  wasViewed: sql`(${message.fileViews} > 0)`,
  wasReplied: sql`(${message.replies} > 0)`,
};
const SUM_OF_FACTS = sql.join(
  FACT_NAMES.map((name) => sql`${CONDITIONS[name]} * ${sql.raw(String(FACTS[name]))}`),
  sql` + `,
);

/** More than these nobody compares. */
const MAX_SUBJECTS = 20;

type SubjectRow = Record<'messages' | 'replied' | 'withLinks' | 'clicked' | 'tracked' | 'read', number> & {
  subject: string;
};

/** Reads what reports are made of. */
export class ReportsRepository {
  private counting: Counting | undefined;

  constructor(private readonly database: Database) {
    // SQLite calls it with each row, for which no object is made: so a million messages take a second, and no memory.
    const take: Counting = (facts, sentAt, templateId, firstOpenAt, repliedAt) =>
      this.counting!(facts, sentAt, templateId, firstOpenAt, repliedAt);
    database.$client.function('count_for_report', take);
  }

  /** Gives each message of a filter to be counted, in no order. */
  each(filter: ListFilter, now: number, counting: Counting): void {
    const { from, where } = sourceOf(this.database, filter, now, WIDE_INDEX);
    const { sentAt, templateId, firstOpenAt, repliedAt } = message;
    this.counting = counting;
    this.database.get(
      sql`select count(count_for_report(${SUM_OF_FACTS}, ${sentAt}, ${templateId}, ${firstOpenAt}, ${repliedAt})) from ${from} where ${where}`,
    );
  }

  /** Subjects that several messages of a filter have, the most used first, with what became of these. */
  subjects(filter: ListFilter, now: number): SubjectOutcome[] {
    const { from, where } = sourceOf(this.database, filter, now, WIDE_INDEX);
    const sum = (...facts: Fact[]) =>
      sql<number>`sum(${sql.join(
        facts.map((fact) => CONDITIONS[fact]),
        sql` and `,
      )})`;
    const rows = this.database.all<SubjectRow>(sql`
      select ${message.subject} as subject, count(*) as messages, ${sum('wasReplied')} as replied,
        ${sum('hasLinks')} as "withLinks", ${sum('hasLinks', 'wasClicked')} as clicked,
        ${sum('isTracked')} as tracked, ${sum('isTracked', 'wasRead')} as read
      from ${from} where ${and(where, sql`${message.subject} <> ''`)}
      group by ${message.subject} having count(*) > 1 order by count(*) desc, ${message.subject} limit ${MAX_SUBJECTS}`);
    return rows.map(({ subject, messages, replied, withLinks, clicked, tracked, read }) => ({
      ...{ subject, messages, replied: rateOf(replied, messages) },
      ...{ clicked: rateOf(clicked, withLinks), read: rateOf(read, tracked) },
    }));
  }

  /** Of all templates, those among them that were deleted: what they did stays true. */
  templateNames(): Map<number, string> {
    const rows = this.database.select({ id: template.id, name: template.name }).from(template).all();
    return new Map(rows.map(({ id, name }) => [id, name]));
  }
}
