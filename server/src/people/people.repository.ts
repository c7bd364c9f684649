import { Inject, Injectable } from '@nestjs/common';
import {
  and,
  asc,
  count,
  desc,
  eq,
  gt,
  gte,
  inArray,
  isNotNull,
  isNull,
  lt,
  ne,
  notLike,
  or,
  sql,
  type SQL,
} from 'drizzle-orm';
import type {
  Duplicates,
  CompanyRow,
  PeopleFilter,
  PeopleOrder,
  PeopleShown,
  PersonRow,
  PersonView,
} from '@kiraku/core/contract';
import { addressKey } from '@kiraku/core/message';
import { DATABASE, type Database } from '../store/database.js';
import { beginsWord, contains } from '../store/like.js';
import { copy, person, personTag, reminder } from '../store/schema.js';
import { TagsRepository } from './tags.repository.js';

export type PersonRowStored = typeof person.$inferSelect;

const VIEW = {
  id: person.id,
  name: person.name,
  address: person.address,
  company: person.company,
  messages: person.messages,
  doNotTrack: person.doNotTrack,
};
const NO_ACTIVITY = { opens: 0, clicks: 0, replies: 0, lastEventAt: null as number | null };

const replied = sql`exists (select 1 from ${copy} where ${copy.personId} = ${person.id} and ${copy.lastReplyAt} is not null)`;

/** Open reminders, each with everybody whom it is about. */
const REMINDED = sql`(
  select ${reminder.personId} as person_id, ${reminder.dueAt} as due_at from ${reminder}
  where ${reminder.state} in ('waiting', 'due') and ${reminder.personId} is not null
  union all
  select ${copy.personId}, ${reminder.dueAt} from ${reminder} join ${copy} on ${copy.messageId} = ${reminder.messageId}
  where ${reminder.state} in ('waiting', 'due') and ${reminder.personId} is null
)`;

const SHOWN: Record<PeopleShown, SQL | undefined> = {
  all: undefined,
  replied,
  'not-replied': and(gt(person.messages, 0), sql`not ${replied}`),
  'not-written': eq(person.messages, 0),
  reminder: sql`${person.id} in (select person_id from ${REMINDED})`,
  muted: isNotNull(person.mutedAt),
  'not-tracked': eq(person.doNotTrack, true),
};

const ORDERS: Record<PeopleOrder, SQL[]> = {
  // Who has no name stands by their address.
  name: [
    sql`case ${person.name} when '' then ${person.addressKey} else ${person.name} end collate nocase`,
    asc(person.id),
  ],
  lastContact: [desc(person.lastContactAt), asc(person.id)],
  longestSilence: [sql`${person.lastContactAt} asc nulls last`, asc(person.id)],
  messages: [desc(person.messages), asc(person.id)],
  company: [sql`${person.company} = ''`, sql`${person.company} collate nocase`, asc(person.id)],
};

/** Not another address of somebody, and not erased. */
const isPerson = and(isNull(person.mergedInto), notLike(person.addressKey, 'erased %'));

function found(words: string): SQL | undefined {
  if (words === '') return isPerson;
  return and(
    isPerson,
    or(
      contains(person.name, words),
      contains(person.addressKey, words),
      contains(person.company, words),
      sql`${person.id} in (select ${personTag.personId} from ${personTag} where ${contains(personTag.tag, words)})`,
    ),
  );
}

function listed({ words, show, tag, contactFrom, contactTo }: PeopleFilter): SQL | undefined {
  return and(
    found(words),
    SHOWN[show],
    tag === ''
      ? undefined
      : sql`${person.id} in (select ${personTag.personId} from ${personTag} where ${personTag.tag} = ${tag})`,
    contactFrom === null ? undefined : gte(person.lastContactAt, contactFrom),
    contactTo === null ? undefined : lt(person.lastContactAt, contactTo),
  );
}

@Injectable()
export class PeopleRepository {
  constructor(
    @Inject(DATABASE) private readonly database: Database,
    private readonly tags: TagsRepository,
  ) {}

  /** Changes what is known, or wanted, of somebody; false where there is nobody by this number. */
  set(id: number, part: Partial<Omit<typeof person.$inferInsert, 'id'>>): boolean {
    return this.database.update(person).set(part).where(eq(person.id, id)).run().changes === 1;
  }

  /** Resolves what the recipients of a message did until a time; null undoes that. False where there are none. */
  resolveRecipients(messageId: number, resolvedAt: number | null): boolean {
    const recipients = this.database.select({ id: copy.personId }).from(copy).where(eq(copy.messageId, messageId));
    return this.database.update(person).set({ resolvedAt }).where(inArray(person.id, recipients)).run().changes > 0;
  }

  /** People whose name, address, company or tag contains the words: those who are called so first, then the most written-to. */
  suggest(words: string, limit: number): PersonView[] {
    return this.database
      .select(VIEW)
      .from(person)
      .where(found(words))
      .orderBy(
        desc(or(beginsWord(person.name, words), beginsWord(person.addressKey, words))!),
        desc(person.messages),
        person.name,
      )
      .limit(limit)
      .all();
  }

  /** A page of the list of people. */
  directory(filter: PeopleFilter, offset: number, limit: number): PersonRow[] {
    const people = this.database
      .select({
        ...VIEW,
        phone: person.phone,
        zone: person.zone,
        mutedAt: person.mutedAt,
        optedOutAt: person.optedOutAt,
        lastContactAt: person.lastContactAt,
      })
      .from(person)
      .where(listed(filter))
      .orderBy(...ORDERS[filter.order])
      .limit(limit)
      .offset(offset)
      .all();
    const ids = people.map(({ id }) => id);
    const actions = this.activityOf(ids);
    const tags = this.tags.of(ids);
    const reminders = this.nextReminders(ids);
    return people.map(({ mutedAt, ...row }) => ({
      ...row,
      ...(actions.get(row.id) ?? NO_ACTIVITY),
      muted: mutedAt !== null,
      tags: tags.get(row.id) ?? [],
      nextReminderAt: reminders.get(row.id) ?? null,
    }));
  }

  count(filter: PeopleFilter): number {
    return this.database.select({ n: count() }).from(person).where(listed(filter)).get()!.n;
  }

  /** When somebody was last in touch with, and when the next reminder about them is due. */
  contact(id: number): { lastContactAt: number | null; nextReminderAt: number | null } {
    return {
      lastContactAt: this.find(id)?.lastContactAt ?? null,
      nextReminderAt: this.nextReminders([id]).get(id) ?? null,
    };
  }

  /** Mail domains with who is there, most written-to first. */
  companies(words: string, limit: number): CompanyRow[] {
    const domain = sql<string>`substr(${person.addressKey}, instr(${person.addressKey}, '@') + 1)`;
    return this.database
      .select({
        domain,
        company: sql<string>`max(${person.company})`,
        people: count(),
        messages: sql<number>`sum(${person.messages})`,
      })
      .from(person)
      .where(found(words))
      .groupBy(domain)
      .orderBy(desc(sql`sum(${person.messages})`), domain)
      .limit(limit)
      .all();
  }

  /** People with the same name, by name. */
  duplicates(limit: number): Duplicates[] {
    const same = this.database
      .select({ name: sql`lower(${person.name})` })
      .from(person)
      .where(and(isPerson, ne(person.name, '')))
      .groupBy(sql`lower(${person.name})`)
      .having(gt(count(), 1))
      .limit(limit);
    const rows = this.database
      .select(VIEW)
      .from(person)
      .where(and(isPerson, sql`lower(${person.name}) in ${same}`))
      .orderBy(sql`lower(${person.name})`, desc(person.messages))
      .all();
    const byName = new Map<string, Duplicates>();
    for (const { doNotTrack: _doNotTrack, ...row } of rows) {
      const key = row.name.toLowerCase();
      byName.set(key, { name: row.name, people: [...(byName.get(key)?.people ?? []), row] });
    }
    return [...byName.values()];
  }

  /** One person’s own row; undefined where there is nobody by this number, or they are another address of somebody. */
  find(id: number): PersonRowStored | undefined {
    return this.database
      .select()
      .from(person)
      .where(and(eq(person.id, id), isNull(person.mergedInto)))
      .get();
  }

  /** Other addresses of somebody. */
  merged(id: number): { id: number; address: string }[] {
    return this.database
      .select({ id: person.id, address: person.address })
      .from(person)
      .where(eq(person.mergedInto, id))
      .orderBy(person.id)
      .all();
  }

  /** Gives copies from one person to another, all or only those to an address; returns the messages concerned. */
  moveCopies(from: number, to: number, address: string | null): number[] {
    const rows = this.database
      .select({ id: copy.id, messageId: copy.messageId, address: copy.address })
      .from(copy)
      .where(eq(copy.personId, from))
      .all()
      .filter((row) => address === null || addressKey(row.address) === addressKey(address));
    for (const { id } of rows) this.database.update(copy).set({ personId: to }).where(eq(copy.id, id)).run();
    return [...new Set(rows.map(({ messageId }) => messageId))];
  }

  /** Everybody, in the order of their numbers, for what goes through them all. */
  after(id: number, limit: number): PersonRowStored[] {
    return this.database
      .select()
      .from(person)
      .where(and(gt(person.id, id), isPerson))
      .orderBy(person.id)
      .limit(limit)
      .all();
  }

  /** Those with one of some addresses, by their keys. */
  byKeys(keys: string[]): Map<string, PersonRowStored> {
    const rows = this.database.select().from(person).where(inArray(person.addressKey, keys)).all();
    return new Map(rows.map((row) => [row.addressKey, row]));
  }

  /** Forgets people who were never written to; returns how many. */
  removeUnwritten(ids: number[]): number {
    return this.database
      .delete(person)
      .where(and(inArray(person.id, ids), eq(person.messages, 0)))
      .run().changes;
  }

  private nextReminders(ids: number[]): Map<number, number> {
    const rows = this.database
      .select({ id: sql<number>`person_id`, dueAt: sql<number>`min(due_at)` })
      .from(REMINDED)
      .where(inArray(sql`person_id`, ids))
      .groupBy(sql`person_id`)
      .all();
    return new Map(rows.map(({ id, dueAt }) => [id, dueAt]));
  }

  private activityOf(ids: number[]): Map<number, typeof NO_ACTIVITY> {
    const rows = this.database
      .select({
        id: copy.personId,
        opens: sql<number>`sum(${copy.opens})`,
        clicks: sql<number>`sum(${copy.clicks})`,
        replies: sql<number>`sum(${copy.replies})`,
        lastEventAt: sql<number | null>`max(${copy.lastEventAt})`,
      })
      .from(copy)
      .where(inArray(copy.personId, ids))
      .groupBy(copy.personId)
      .all();
    return new Map(rows.map(({ id, ...actions }) => [id, actions]));
  }
}
