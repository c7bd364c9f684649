import { Inject, Injectable } from '@nestjs/common';
import { group } from 'd3-array';
import { and, asc, eq, getTableColumns, ne, sql } from 'drizzle-orm';
import type { Mark, MessageSummary } from '@kiraku/core/contract';
import { isAmong } from '../store/among.js';
import { DATABASE, type Database } from '../store/database.js';
import { copy, message, person } from '../store/schema.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { tallyOfRow } from './messages.repository.js';

/** Sent messages as rows of the list. Every page asks for them, all day: so the statements are prepared once. */
@Injectable()
export class SummariesRepository {
  private readonly messagesOf;
  private readonly copiesOf;

  constructor(
    @Inject(DATABASE) database: Database,
    private readonly events: EventsRepository,
  ) {
    const ids = sql.placeholder('ids');
    this.messagesOf = database
      .select(getTableColumns(message))
      .from(message)
      .where(and(isAmong(message.id, ids), ne(message.state, 'draft')))
      .prepare();
    this.copiesOf = database
      .select({ messageId: copy.messageId, address: copy.address, trouble: copy.trouble, firm: person.firm })
      .from(copy)
      .innerJoin(person, eq(person.id, copy.personId))
      .where(isAmong(copy.messageId, ids))
      .orderBy(asc(copy.id))
      .prepare();
  }

  /** In the order given; without drafts, and those that are not there. */
  of(ids: number[]): MessageSummary[] {
    const among = { ids: JSON.stringify(ids) };
    const rows = new Map(this.messagesOf.all(among).map((row) => [row.id, row]));
    const copies = group(this.copiesOf.all(among), ({ messageId }) => messageId);
    return ids.flatMap((id) => {
      const row = rows.get(id);
      return row ? summaryOf(row, copies.get(id) ?? [], this.events.marks(id)) : [];
    });
  }
}

type MessageRow = typeof message.$inferSelect;
type CopyRow = Pick<typeof copy.$inferSelect, 'address' | 'trouble'> & { firm: string };

function summaryOf(row: MessageRow, copies: CopyRow[], marks: Mark[]): MessageSummary {
  return {
    id: row.id,
    state: row.state as MessageSummary['state'],
    subject: row.subject,
    recipients: row.recipients,
    origin: row.origin,
    untracked: row.untracked,
    recurrence: row.recurrence,
    firm: copies[0]?.firm ?? '',
    trackOpens: row.trackOpens,
    trackLinks: row.trackLinks,
    queuedAt: row.queuedAt ?? row.createdAt,
    sendAt: row.sendAt,
    sentAt: row.sentAt,
    latestAt: row.latestAt ?? row.createdAt,
    forgottenAt: row.forgottenAt,
    tally: tallyOfRow(row),
    marks,
    silenced: row.silencedAt !== null,
    archived: row.shelf !== null,
    hasNote: row.note !== '',
    trouble: troubleOf(copies),
  };
}

/** Of several recipients it is said who has it. */
function troubleOf(copies: CopyRow[]): string | null {
  const named = copies.length > 1;
  const troubled = copies.filter(({ trouble }) => trouble !== null);
  return troubled.map(({ address, trouble }) => (named ? `${address}: ${trouble}` : trouble)).join('; ') || null;
}
