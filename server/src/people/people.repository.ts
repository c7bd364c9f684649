import { Inject, Injectable } from '@nestjs/common';
import { and, desc, eq, inArray, or, sql } from 'drizzle-orm';
import type { Mailbox, PersonView } from '@kiraku/core/contract';
import { addressKey, domainOf, isOfDomain } from '@kiraku/core/message';
import { PrivacySettings } from '../settings/privacy.settings.js';
import { DATABASE, type Database } from '../store/database.js';
import { contains } from '../store/like.js';
import { person } from '../store/schema.js';

@Injectable()
export class PeopleRepository {
  constructor(
    @Inject(DATABASE) private readonly database: Database,
    private readonly privacy: PrivacySettings,
  ) {}

  /** The person with this address, made where there is none; a name is taken over where none was known. */
  ensure(mailbox: Mailbox, now: number): number {
    const row = this.database
      .insert(person)
      .values({ addressKey: addressKey(mailbox.address), address: mailbox.address, name: mailbox.name, createdAt: now })
      .onConflictDoUpdate({
        target: person.addressKey,
        set: { name: sql`case when ${person.name} = '' then excluded.name else ${person.name} end` },
      })
      .returning({ id: person.id })
      .get();
    return row.id;
  }

  countMessage(personId: number): void {
    this.database
      .update(person)
      .set({ messages: sql`${person.messages} + 1` })
      .where(sql`${person.id} = ${personId}`)
      .run();
  }

  /** Those of the addresses whose people are written to without tracking, as keys. */
  notTracked(addresses: string[]): Set<string> {
    const rows = this.database
      .select({ key: person.addressKey })
      .from(person)
      .where(and(inArray(person.addressKey, addresses.map(addressKey)), eq(person.doNotTrack, true)))
      .all();
    const { untrackedDomains } = this.privacy.view();
    const byDomain = addresses.map(addressKey).filter((key) => isOfDomain(domainOf(key), untrackedDomains));
    return new Set([...rows.map(({ key }) => key), ...byDomain]);
  }

  /** Changes what is known, or wanted, of somebody; false where there is nobody by this number. */
  set(id: number, part: Partial<Omit<typeof person.$inferInsert, 'id'>>): boolean {
    return this.database.update(person).set(part).where(eq(person.id, id)).run().changes === 1;
  }

  /** People whose name, address or firm contains the words, most written-to first. */
  suggest(words: string, limit: number): PersonView[] {
    return this.database
      .select({
        id: person.id,
        name: person.name,
        address: person.address,
        firm: person.firm,
        messages: person.messages,
        doNotTrack: person.doNotTrack,
      })
      .from(person)
      .where(or(contains(person.name, words), contains(person.addressKey, words), contains(person.firm, words)))
      .orderBy(desc(person.messages), person.name)
      .limit(limit)
      .all();
  }
}
