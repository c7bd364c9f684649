import { ascending } from 'd3-array';
import { and, inArray, ne, sql, type SQL } from 'drizzle-orm';
import type { ListFilter, SubjectOutcome } from '@kiraku/core/contract';
import { RateCounter, type Counting } from '@kiraku/core/reports';
import { byNumber, sourceOf, WIDE_INDEX } from '../sent/source.repository.js';
import type { Database } from '../store/database.js';
import { SUM_OF_FACTS } from '../store/messageFacts.js';
import { message, template } from '../store/schema.js';

/** More than these nobody compares. */
const MAX_SUBJECTS = 20;

/** Reads what reports are made of. */
export class ReportsRepository {
  private counting: Counting | undefined;
  private countingSubjects: ((subject: string) => void) | undefined;

  constructor(private readonly database: Database) {
    // SQLite calls it with each row, for which no object is made: so a million messages take a second, and no memory.
    const take: Counting = (facts, sentAt, templateId, firstOpenAt, repliedAt) =>
      this.counting!(facts, sentAt, templateId, firstOpenAt, repliedAt);
    database.$client.function('count_for_report', take);
    database.$client.function('count_subject', (subject: string) => void this.countingSubjects!(subject));
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
    const { where } = sourceOf(this.database, filter, now, WIDE_INDEX);
    const counters = new Map(this.mostUsed(where).map((subject) => [subject, new RateCounter()]));
    const isCounted = and(inArray(message.subject, [...counters.keys()]), where);
    const rows = this.database.all<{ subject: string; facts: number }>(
      sql`select ${message.subject} as subject, ${SUM_OF_FACTS} as facts from ${message} indexed by message_subject where ${isCounted}`,
    );
    for (const { subject, facts } of rows) counters.get(subject)!.add(facts);
    return [...counters].map(([subject, rates]) => ({ subject, messages: rates.messages, ...rates.evidence() }));
  }

  /** To go through the rows takes a fifth of what it takes to find the row of each message of an index. */
  private mostUsed(where: SQL): string[] {
    const counts = new Map<string, number>();
    this.countingSubjects = (subject) => counts.set(subject, (counts.get(subject) ?? 0) + 1);
    this.database.get(
      sql`select count(count_subject(${message.subject})) from ${byNumber} where ${and(where, ne(message.subject, ''))}`,
    );
    // Of a million messages it would keep as many subjects until the next report.
    this.countingSubjects = undefined;
    return [...counts]
      .filter(([, messages]) => messages > 1)
      .sort(([a, ofA], [b, ofB]) => ofB - ofA || ascending(a, b))
      .slice(0, MAX_SUBJECTS)
      .map(([subject]) => subject);
  }

  /** Of all templates, those among them that were deleted: what they did stays true. */
  templateNames(): Map<number, string> {
    const rows = this.database.select({ id: template.id, name: template.name }).from(template).all();
    return new Map(rows.map(({ id, name }) => [id, name]));
  }
}
