import { Inject, Injectable } from '@nestjs/common';
import { and, asc, count, desc, eq, getTableColumns, gte, inArray, isNull, sql, type SQL } from 'drizzle-orm';
import type { SQLiteUpdateSetSource } from 'drizzle-orm/sqlite-core';
import type {
  CopyView,
  Draft,
  DraftContent,
  DraftFile,
  DraftRow,
  LinkView,
  Mailbox,
  Recipient,
  Recurrence,
  ListAction,
  Tally,
} from '@kiraku/core/contract';
import { MESSAGE_MOVES, type MessageMove } from '@kiraku/core/delivery';
import { BLANK_CONTENT, type Relative, contentOf } from '@kiraku/core/message';
import { EMPTY_TALLY } from '@kiraku/core/tracking';
import type { Place } from '../http/paging.js';
import { DATABASE, type Database } from '../store/database.js';
import { isListed } from '../store/listed.js';
import { copy, copyLink, incoming, messageBody, link, message, outbox, person, submission } from '../store/schema.js';
import { given, preparedOnce } from '../store/preparedOnce.js';
import { UnitOfWork } from '../store/unitOfWork.js';

type MessageRow = typeof message.$inferSelect;
/** A message with its message. */
export type WholeMessage = MessageRow & { html: string };
type NewMessage = typeof message.$inferInsert & { html: string };
export type CopyRow = typeof copy.$inferSelect;
export type NewCopy = typeof copy.$inferInsert;

const wholeMessage = preparedOnce((database) =>
  database
    .select({ ...getTableColumns(message), html: messageBody.html })
    .from(message)
    .innerJoin(messageBody, eq(messageBody.messageId, message.id))
    .where(eq(message.id, given(message.id)))
    .prepare(),
);

const { html: _html, ...BESIDES_TEXT } = BLANK_CONTENT;
const CONTENT_GIVEN = Object.fromEntries(
  Object.keys(BESIDES_TEXT).map((name) => [name, given(message[name as keyof typeof BESIDES_TEXT])]),
) as Record<keyof typeof BESIDES_TEXT, SQL>;

/** Drafts are written at each pause of whoever writes, and five hundred at a time for a round. */
const draftWriting = preparedOnce((database) => {
  const { id, revision, senderName, senderAddress, roundId, createdAt, updatedAt } = message;
  const [row, body] = [eq(message.id, given(id)), eq(messageBody.messageId, given(messageBody.messageId))];
  return {
    add: database
      .insert(message)
      .values({
        state: 'draft',
        ...CONTENT_GIVEN,
        ...{ senderName: given(senderName), senderAddress: given(senderAddress), roundId: given(roundId) },
        ...{ revision: 1, createdAt: given(createdAt), updatedAt: given(updatedAt) },
      })
      .returning()
      .prepare(),
    addBody: database
      .insert(messageBody)
      .values({ messageId: given(messageBody.messageId), html: given(messageBody.html) })
      .prepare(),
    save: database
      .update(message)
      .set({ ...CONTENT_GIVEN, revision: sql`${revision} + 1`, updatedAt: given(updatedAt) })
      .where(and(row, isDraft, eq(revision, given(revision))))
      .returning()
      .prepare(),
    saveBody: database
      .update(messageBody)
      .set({ html: given(messageBody.html) })
      .where(body)
      .prepare(),
  };
});

@Injectable()
export class MessagesRepository {
  constructor(
    @Inject(DATABASE) private readonly database: Database,
    private readonly unit: UnitOfWork,
  ) {}

  /** @param roundId of the round it is a part of */
  addDraft(content: DraftContent, sender: Mailbox, now: number, roundId: number | null = null): Draft {
    const { html, ...values } = content;
    const { add, addBody } = draftWriting(this.database);
    return this.unit.commit(() => {
      const from = { senderName: sender.name, senderAddress: sender.address };
      const row = add.get({ ...values, ...from, roundId, createdAt: now, updatedAt: now });
      addBody.run({ messageId: row.id, html });
      return draftOf({ ...row, html });
    });
  }

  draft(id: number): Draft | undefined {
    const row = this.row(id);
    return row?.state === 'draft' ? draftOf(row) : undefined;
  }

  /** Drafts behind a place, last written first. */
  drafts(after: Place | null, limit: number): DraftRow[] {
    const { id, recipients, subject, updatedAt } = message;
    return this.database
      .select({ id, recipients, subject, updatedAt })
      .from(message)
      .where(and(isSingleDraft, after ? sql`(${updatedAt}, ${id}) < (${after.value}, ${after.id})` : undefined))
      .orderBy(desc(updatedAt), desc(id))
      .limit(limit)
      .all();
  }

  countDrafts(): number {
    return this.database.select({ n: count() }).from(message).where(isSingleDraft).get()!.n;
  }

  /** Saves if the draft still is at that revision; undefined where it is not, or is gone. */
  saveDraft(id: number, revision: number, { html, ...content }: DraftContent, now: number): Draft | undefined {
    const { save, saveBody } = draftWriting(this.database);
    return this.unit.commit(() => {
      const row = save.get({ ...content, id, revision, updatedAt: now });
      if (!row) return undefined;
      saveBody.run({ messageId: id, html });
      return draftOf({ ...row, html });
    });
  }

  removeDraft(id: number): boolean {
    return (
      this.database
        .delete(message)
        .where(and(eq(message.id, id), isDraft))
        .run().changes === 1
    );
  }

  /**
   * Lets a draft leave at a time; false where another window was first. What waits in a round stands in no list until
   * it leaves: there may be hundreds of it.
   */
  schedule(
    id: number,
    revision: number,
    sender: Mailbox,
    { sendAt, recurrence }: { sendAt: number; recurrence: Recurrence | null },
    now: number,
  ): boolean {
    const lastActivityAt = sql<number>`case when ${message.roundId} is null then ${now} end`;
    const left = { queuedAt: now, lastActivityAt, senderName: sender.name, senderAddress: sender.address };
    return this.move(id, 'send', { sendAt, recurrence, ...left }, eq(message.revision, revision));
  }

  /** Writes the next one of a message that recurs. Returns its number. */
  repeat(id: number, sendAt: number, recurrence: Recurrence | null, now: number): number {
    const row = this.row(id)!;
    const { senderName, senderAddress } = row;
    return this.add({
      ...contentOf(row),
      // Each time the newest.
      files: row.files.map((one) => ({ ...one, versionId: null })),
      // A plan is for one message; a reminder for each.
      plan: null,
      state: 'scheduled',
      senderName,
      senderAddress,
      sendAt,
      recurrence,
      revision: 1,
      createdAt: now,
      updatedAt: now,
      queuedAt: now,
      lastActivityAt: now,
    }).id;
  }

  /** Change time for a message that has not left; false where it has. */
  reschedule(id: number, sendAt: number): boolean {
    return this.move(id, 'reschedule', { sendAt });
  }

  /** Makes a scheduled message a draft again; false where it has left. */
  recall(id: number, now: number): boolean {
    const set = { sendAt: null, recurrence: null, queuedAt: null, lastActivityAt: null, updatedAt: now };
    return this.move(id, 'recall', set);
  }

  /** A scheduled message is on its way; false where it was recalled, or given another time, meanwhile. */
  leave(id: number, sendAt: number): boolean {
    const lastActivityAt = sql<number>`coalesce(${message.lastActivityAt}, ${sendAt})`;
    return this.move(id, 'leave', { sendAt: null, lastActivityAt }, eq(message.sendAt, sendAt));
  }

  /** The scheduled message that leaves next by itself, and not by a round’s pace, not counting those that should have left before a time. */
  nextScheduled(notBefore: number): { id: number; sendAt: number } | undefined {
    const row = this.database
      .select({ id: message.id, sendAt: message.sendAt })
      .from(message)
      .where(and(isScheduled, isNull(message.roundId), gte(message.sendAt, notBefore)))
      .orderBy(asc(message.sendAt), asc(message.id))
      .limit(1)
      .get();
    return row && { id: row.id, sendAt: row.sendAt! };
  }

  /** What is to be sent of a scheduled message, as it was written. */
  scheduled(id: number): Draft | undefined {
    const row = this.row(id);
    return row?.state === 'scheduled' ? draftOf(row) : undefined;
  }

  /** A message that a mail program submitted: it is on its way from the start. */
  addSubmitted(row: Omit<NewMessage, 'state' | 'origin' | 'revision'>, raw: Buffer): number {
    const { id } = this.add({ ...row, state: 'queued', origin: 'submitted', revision: 1 });
    this.database.insert(submission).values({ messageId: id, raw }).run();
    return id;
  }

  /** A submitted message as it was submitted. */
  submitted(messageId: number): Buffer | undefined {
    return this.database.select().from(submission).where(eq(submission.messageId, messageId)).get()?.raw;
  }

  copy(copyId: number): CopyRow | undefined {
    return this.database.select().from(copy).where(eq(copy.id, copyId)).get();
  }

  /** Gives a copy to another address. */
  readdress(copyId: number, address: string, personId: number): void {
    this.database.update(copy).set({ address, personId }).where(eq(copy.id, copyId)).run();
  }

  /** The tokens of a copy's redirects, by the position of their link. */
  linkTokens(copyId: number): Map<number, string> {
    const rows = this.database
      .select({ position: link.position, token: copyLink.token })
      .from(copyLink)
      .innerJoin(link, eq(link.id, copyLink.linkId))
      .where(eq(copyLink.copyId, copyId))
      .all();
    return new Map(rows.map(({ position, token }) => [position, token]));
  }

  /** Where some redirects lead, by their tokens; those that are none of ours are left out. */
  targetsOf(tokens: string[]): Map<string, string> {
    const rows = this.database
      .select({ token: copyLink.token, url: link.url })
      .from(copyLink)
      .innerJoin(link, eq(link.id, copyLink.linkId))
      .where(inArray(copyLink.token, tokens))
      .all();
    return new Map(rows.map(({ token, url }) => [token, url]));
  }

  /** Of some tokens of images, those that are ours. */
  imagesOf(tokens: string[]): Set<string> {
    const rows = this.database
      .select({ token: copy.imageToken })
      .from(copy)
      .where(inArray(copy.imageToken, tokens))
      .all();
    return new Set(rows.map(({ token }) => token));
  }

  setRecipients(id: number, recipients: Recipient[]): void {
    this.update(eq(message.id, id), { recipients });
  }

  /** What a message left with: the versions of its files, and whether there is anything of it that is tracked. */
  setCarried(id: number, carried: { files: DraftFile[]; hasLinks: boolean; hasFiles: boolean }): void {
    this.update(eq(message.id, id), carried);
  }

  setNote(id: number, note: string): boolean {
    return this.update(eq(message.id, id), { note });
  }

  addLink(row: typeof link.$inferInsert): number {
    return this.database.insert(link).values(row).returning({ id: link.id }).get().id;
  }

  addCopy(row: NewCopy): number {
    return this.database.insert(copy).values(row).returning({ id: copy.id }).get().id;
  }

  addCopyLinks(rows: (typeof copyLink.$inferInsert)[]): void {
    if (rows.length > 0) this.database.insert(copyLink).values(rows).run();
  }

  row(id: number): WholeMessage | undefined {
    return wholeMessage(this.database).get({ id });
  }

  /** The newest messages to one person, with how many there are and when the first one left. */
  ofPerson(personId: number, limit: number): { ids: number[]; total: number; firstSentAt: number | null } {
    const rows = this.database
      .select({ id: copy.messageId, sentAt: copy.sentAt })
      .from(copy)
      .where(eq(copy.personId, personId))
      .orderBy(desc(copy.id))
      .all();
    const ids = [...new Set(rows.map(({ id }) => id))];
    return {
      ids: ids.slice(0, limit),
      total: ids.length,
      firstSentAt: rows.findLast((row) => row.sentAt)?.sentAt ?? null,
    };
  }

  /** Messages to the people that a message went to, the newest, with the Message-IDs by which they hang together. */
  relatives(messageId: number, limit: number): Relative[] {
    const people = this.database.select({ id: copy.personId }).from(copy).where(eq(copy.messageId, messageId));
    return this.database
      .select({ id: message.id, header: copy.messageIdHeader, conversation: message.conversation })
      .from(copy)
      .innerJoin(message, eq(message.id, copy.messageId))
      .where(and(inArray(copy.personId, people), isListed))
      .orderBy(desc(copy.id))
      .limit(limit)
      .all();
  }

  applyAction(ids: number[], action: ListAction, now: number): void {
    const sent = and(inArray(message.id, ids), isListed);
    this.database.update(message).set(LIST_CHANGES[action](now)).where(sent).run();
  }

  /** Whether a message is one of many alike. */
  isOfRound(id: number): boolean {
    return (
      this.database.select({ roundId: message.roundId }).from(message).where(eq(message.id, id)).get()?.roundId != null
    );
  }

  copies(messageId: number): Omit<CopyView, 'readers' | 'passedOn'>[] {
    const rows = this.database
      .select({
        copy,
        company: person.company,
        phone: person.phone,
        doNotTrack: person.doNotTrack,
        nextAttemptAt: outbox.nextAttemptAt,
      })
      .from(copy)
      .innerJoin(person, eq(person.id, copy.personId))
      .leftJoin(outbox, eq(outbox.copyId, copy.id))
      .where(eq(copy.messageId, messageId))
      .orderBy(asc(copy.id))
      .all();
    return rows.map(({ copy: row, company, phone, doNotTrack, nextAttemptAt }) => ({
      id: row.id,
      personId: row.personId,
      recipient: { kind: row.kind, name: row.name, address: row.address },
      company,
      phone,
      state: row.state,
      messageIdHeader: row.messageIdHeader,
      sentAt: row.sentAt,
      lastError: row.lastError,
      nextAttemptAt,
      dsnState: row.dsnState,
      mdnState: row.mdnState,
      doNotTrack,
      tally: tallyOfRow(row),
    }));
  }

  /** The Message-IDs of what people replied to a message, the oldest first. `copyId`: of one of them; null for all. */
  replies(messageId: number, copyId: number | null): string[] {
    return this.database
      .select({ header: incoming.messageIdHeader })
      .from(incoming)
      .where(
        and(
          eq(incoming.messageId, messageId),
          inArray(incoming.kind, ['reply', 'perhaps-automatic']),
          copyId === null ? undefined : eq(incoming.copyId, copyId),
        ),
      )
      .orderBy(asc(incoming.at))
      .all()
      .flatMap(({ header }) => header ?? []);
  }

  links(messageId: number): LinkView[] {
    const { id, position, text, url, tracked, clicks, lastClickAt } = link;
    const columns = { id, position, text, url, tracked, clicks, lastClickAt };
    return this.database
      .select(columns)
      .from(link)
      .where(eq(link.messageId, messageId))
      .orderBy(asc(link.position))
      .all();
  }

  private add({ html, ...values }: NewMessage): WholeMessage {
    return this.unit.commit(() => {
      const row = this.database.insert(message).values(values).returning().get();
      this.database.insert(messageBody).values({ messageId: row.id, html }).run();
      return { ...row, html };
    });
  }

  /** False where the message is not, or no longer, in the state from which this is possible. */
  private move(id: number, move: MessageMove, set: SQLiteUpdateSetSource<typeof message>, besides?: SQL): boolean {
    const { from, to } = MESSAGE_MOVES[move];
    return this.update(and(eq(message.id, id), eq(message.state, from), besides), { ...set, state: to });
  }

  private update(which: SQL | undefined, set: SQLiteUpdateSetSource<typeof message>): boolean {
    return this.database.update(message).set(set).where(which).run().changes === 1;
  }
}

const LIST_CHANGES: Record<ListAction, (now: number) => Partial<MessageRow>> = {
  archive: () => ({ folder: 'archived' }),
  unarchive: () => ({ folder: null }),
  delete: () => ({ folder: 'deleted' }),
  restore: () => ({ folder: null }),
  mute: (now) => ({ mutedAt: now }),
  unmute: () => ({ mutedAt: null }),
};

const isDraft = eq(message.state, MESSAGE_MOVES.send.from);
/** Those that are no part of a round. */
const isSingleDraft = and(isDraft, isNull(message.roundId));
const isScheduled = eq(message.state, MESSAGE_MOVES.leave.from);

function draftOf(row: WholeMessage): Draft {
  const { id, revision, updatedAt } = row;
  return { id, revision, updatedAt, ...contentOf(row) };
}

/** The counts of a message, or of a copy, out of its row. */
export function tallyOfRow(row: Tally): Tally {
  return Object.fromEntries(
    Object.keys(EMPTY_TALLY).map((name) => [name, row[name as keyof Tally]]),
  ) as unknown as Tally;
}
