import { Inject, Injectable } from '@nestjs/common';
import { and, asc, desc, eq, getTableColumns, gt, inArray, lte, or } from 'drizzle-orm';
import type { Disposition, IncomingVerdict, IncomingView } from '@kiraku/core/contract';
import type { Candidate, RecentCopy } from '@kiraku/core/incoming';
import { addressKey } from '@kiraku/core/message';
import type { PublicTarget } from '@kiraku/core/tracking';
import { DATABASE, type Database } from '../store/database.js';
import { copy, copyFile, copyLink, incoming, incomingOriginal, message, person } from '../store/schema.js';

/** A mail can name tens of thousands of others. */
const MAX_REFERENCES = 200;
/** A message has no more recipients. */
const MAX_CANDIDATES = 5000;

const CANDIDATE = {
  copyId: copy.id,
  messageId: copy.messageId,
  personId: copy.personId,
  address: copy.address,
  messageIdHeader: copy.messageIdHeader,
};

@Injectable()
export class IncomingRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  isKnown(identity: string): boolean {
    return (
      this.database.select({ id: incoming.id }).from(incoming).where(eq(incoming.identity, identity)).get() !==
      undefined
    );
  }

  /** Whether a copy has one of some Message-IDs: of very many, no more than the first are looked up. */
  isAbout(messageIdHeaders: readonly string[]): boolean {
    return this.messagesOf(messageIdHeaders, []).length > 0;
  }

  /** The copies of the messages that are named by some Message-IDs, or by copies of theirs. */
  candidates(messageIdHeaders: readonly string[], copyIds: readonly number[]): Candidate[] {
    const messageIds = this.messagesOf(messageIdHeaders, copyIds);
    if (messageIds.length === 0) return [];
    return this.database
      .select(CANDIDATE)
      .from(copy)
      .where(inArray(copy.messageId, messageIds))
      .orderBy(asc(copy.id))
      .limit(MAX_CANDIDATES)
      .all();
  }

  /** The copies to which public addresses belong, in the order of these. */
  copiesOfTargets(targets: readonly PublicTarget[]): number[] {
    return targets.flatMap(({ kind, token }) => {
      const found =
        kind === 'link'
          ? this.database.select({ id: copyLink.copyId }).from(copyLink).where(eq(copyLink.token, token)).get()
          : kind === 'file'
            ? this.database.select({ id: copyFile.copyId }).from(copyFile).where(eq(copyFile.token, token)).get()
            : this.database.select({ id: copy.id }).from(copy).where(eq(copy.imageToken, token)).get();
      return found ? [found.id] : [];
    });
  }

  /** Whose some addresses are: of merged ones, the person into whom they were. */
  personsOf(addresses: readonly string[]): Set<number> {
    const keys = addresses.slice(0, MAX_REFERENCES).map(addressKey);
    if (keys.length === 0) return new Set();
    const rows = this.database
      .select({ id: person.id, mergedInto: person.mergedInto })
      .from(person)
      .where(inArray(person.addressKey, keys))
      .all();
    return new Set(rows.map(({ id, mergedInto }) => mergedInto ?? id));
  }

  /** The newest copies to some people, of those that left within a time. */
  recentTo(personIds: ReadonlySet<number>, since: number, until: number, limit: number): RecentCopy[] {
    if (personIds.size === 0) return [];
    const rows = this.database
      .select({ ...CANDIDATE, subject: message.subject, sentAt: copy.sentAt })
      .from(copy)
      .innerJoin(message, eq(message.id, copy.messageId))
      .where(and(inArray(copy.personId, [...personIds]), gt(copy.sentAt, since), lte(copy.sentAt, until)))
      .orderBy(desc(copy.sentAt))
      .limit(limit)
      .all();
    return rows.map((row) => ({ ...row, sentAt: row.sentAt! }));
  }

  private messagesOf(messageIdHeaders: readonly string[], copyIds: readonly number[]): number[] {
    if (messageIdHeaders.length + copyIds.length === 0) return [];
    const rows = this.database
      .selectDistinct({ messageId: copy.messageId })
      .from(copy)
      .where(
        or(
          inArray(copy.messageIdHeader, messageIdHeaders.slice(0, MAX_REFERENCES)),
          inArray(copy.id, copyIds.slice(0, MAX_REFERENCES)),
        ),
      )
      .all();
    return rows.map(({ messageId }) => messageId);
  }

  add(row: typeof incoming.$inferInsert): number {
    return this.database.insert(incoming).values(row).returning({ id: incoming.id }).get().id;
  }

  /** What came back for some messages, the oldest first. */
  of(messageIds: number[]): IncomingView[] {
    const rows = this.database
      .select({
        ...getTableColumns(incoming),
        knownName: copy.name,
        knownAddress: copy.address,
        originalOf: incomingOriginal.incomingId,
      })
      .from(incoming)
      .leftJoin(copy, eq(copy.id, incoming.copyId))
      .leftJoin(incomingOriginal, eq(incomingOriginal.incomingId, incoming.id))
      .where(inArray(incoming.messageId, messageIds))
      .orderBy(asc(incoming.at))
      .all();
    return rows.map(({ id, kind, at, messageId, copyId, subject, words, doubt, verdict, problem, ...row }) => ({
      id,
      kind,
      at,
      messageId,
      copyId,
      subject,
      words,
      doubt,
      verdict,
      problem,
      hasOriginal: row.originalOf !== null,
      from: { name: row.fromName || nameOf(row), address: row.fromAddress },
    }));
  }

  row(id: number): typeof incoming.$inferSelect | undefined {
    return this.database.select().from(incoming).where(eq(incoming.id, id)).get();
  }

  /** @param copyId whose it is, where that was not known */
  setVerdict(id: number, verdict: IncomingVerdict, copyId: number | null): void {
    this.database.update(incoming).set({ verdict, copyId }).where(eq(incoming.id, id)).run();
  }

  /** Whether a copy is one of a message. */
  isCopyOf(copyId: number, messageId: number): boolean {
    const where = and(eq(copy.id, copyId), eq(copy.messageId, messageId));
    return this.database.select({ id: copy.id }).from(copy).where(where).get() !== undefined;
  }

  keepOriginal(incomingId: number, raw: Buffer): void {
    this.database.insert(incomingOriginal).values({ incomingId, raw }).run();
  }

  /** A mail as it came; undefined where it is not kept. */
  original(incomingId: number): Buffer | undefined {
    return this.database.select().from(incomingOriginal).where(eq(incomingOriginal.incomingId, incomingId)).get()?.raw;
  }

  setMdnState(copyId: number, mdnState: Disposition): void {
    this.database.update(copy).set({ mdnState }).where(eq(copy.id, copyId)).run();
  }
}

/** As they are known here, where their program does not say. */
function nameOf({
  fromAddress,
  knownName,
  knownAddress,
}: {
  fromAddress: string;
  knownName: string | null;
  knownAddress: string | null;
}) {
  return knownName !== null && addressKey(fromAddress) === addressKey(knownAddress ?? '') ? knownName : '';
}
