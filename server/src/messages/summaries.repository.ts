import { Inject, Injectable } from '@nestjs/common';
import { greatest, group, least } from 'd3-array';
import { and, asc, eq, getTableColumns, ne, sql } from 'drizzle-orm';
import { wasRead, type PROOF_COUNTS } from '@kiraku/core/activity';
import type { Mailbox, MessageSummary, Tally, TrailEvent } from '@kiraku/core/contract';
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
      .select({
        messageId: copy.messageId,
        name: copy.name,
        address: copy.address,
        lastError: copy.lastError,
        company: person.company,
        lastEventAt: copy.lastEventAt,
        repliedAt: copy.repliedAt,
        opens: copy.opens,
        clicks: copy.clicks,
        fileViews: copy.fileViews,
        replies: copy.replies,
      })
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
      return row ? summaryOf(row, copies.get(id) ?? [], this.events.trailEvents(id)) : [];
    });
  }
}

type MessageRow = typeof message.$inferSelect;
type CopyRow = Pick<typeof copy.$inferSelect, 'name' | 'address' | 'lastError'> &
  Pick<Tally, 'lastEventAt' | 'repliedAt' | (typeof PROOF_COUNTS)[number]> & { company: string };

function summaryOf(row: MessageRow, copies: CopyRow[], trailEvents: TrailEvent[]): MessageSummary {
  return {
    id: row.id,
    state: row.state as MessageSummary['state'],
    subject: row.subject,
    recipients: row.recipients,
    origin: row.origin,
    untrackedReason: row.untrackedReason,
    recurrence: row.recurrence,
    company: copies[0]?.company ?? '',
    trackOpens: row.trackOpens,
    trackClicks: row.trackClicks,
    queuedAt: row.queuedAt ?? row.createdAt,
    sendAt: row.sendAt,
    sentAt: row.sentAt,
    lastActivityAt: row.lastActivityAt ?? row.createdAt,
    forgottenAt: row.forgottenAt,
    tally: tallyOfRow(row),
    trailEvents,
    muted: row.mutedAt !== null,
    archived: row.folder !== null,
    hasNote: row.note !== '',
    lastError: lastErrorOf(copies),
    lastActor: oneOfSeveral(
      copies,
      greatest(copies, ({ lastEventAt }) => lastEventAt),
    ),
    firstReplier: oneOfSeveral(
      copies,
      least(copies, ({ repliedAt }) => repliedAt),
    ),
    withoutSign: copies.filter((one) => !wasRead(one)).length,
  };
}

function oneOfSeveral(copies: CopyRow[], one: CopyRow | undefined): Mailbox | null {
  return one && copies.length > 1 ? { name: one.name, address: one.address } : null;
}

/** Of several recipients it is said who has it. */
function lastErrorOf(copies: CopyRow[]): string | null {
  const named = copies.length > 1;
  const withError = copies.filter(({ lastError }) => lastError !== null);
  return withError.map(({ address, lastError }) => (named ? `${address}: ${lastError}` : lastError)).join('; ') || null;
}
