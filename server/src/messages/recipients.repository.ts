import { Inject, Injectable } from '@nestjs/common';
import { and, eq, inArray, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import type { Mailbox, RecipientView } from '@kiraku/core/contract';
import { addressKey, domainOf, isOfDomain, lookalikesOf } from '@kiraku/core/message';
import { PrivacySettings } from '../settings/privacy.settings.js';
import { DATABASE, type Database } from '../store/database.js';
import { person } from '../store/schema.js';

/** People as those to whom messages go. */
/** What is known of whose address it is. */
export interface KnownPerson {
  personId: number;
  name: string;
  company: string;
  zone: string;
  messages: number;
  optedOut: boolean;
  doNotTrack: boolean;
}

@Injectable()
export class RecipientsRepository {
  constructor(
    @Inject(DATABASE) private readonly database: Database,
    private readonly privacy: PrivacySettings,
  ) {}

  /** The person with this address, their main one or another, made where there is none; a name is taken over where none was known. */
  ensure(mailbox: Mailbox, now: number): number {
    const row = this.database
      .insert(person)
      .values({ addressKey: addressKey(mailbox.address), address: mailbox.address, name: mailbox.name, createdAt: now })
      .onConflictDoUpdate({
        target: person.addressKey,
        set: { name: sql`case when ${person.name} = '' then excluded.name else ${person.name} end` },
      })
      .returning({ id: person.id, mergedInto: person.mergedInto })
      .get();
    return row.mergedInto ?? row.id;
  }

  countMessage(personId: number): void {
    this.database
      .update(person)
      .set({ messages: sql`${person.messages} + 1` })
      .where(sql`${person.id} = ${personId}`)
      .run();
  }

  /** Whose addresses these are, by how they are compared; of whoever was merged into another, that other. */
  people(addresses: readonly string[]): Map<string, KnownPerson> {
    const main = alias(person, 'main');
    const rows = this.database
      .select({
        key: person.addressKey,
        personId: sql<number>`coalesce(${main.id}, ${person.id})`,
        name: person.name,
        company: sql<string>`coalesce(${main.company}, ${person.company})`,
        zone: sql<string>`coalesce(${main.zone}, ${person.zone})`,
        messages: sql<number>`coalesce(${main.messages}, ${person.messages})`,
        optedOut: sql<number>`coalesce(${main.optedOutAt}, ${person.optedOutAt}) is not null`.mapWith(Boolean),
        doNotTrack: sql<number>`coalesce(${main.doNotTrack}, ${person.doNotTrack})`.mapWith(Boolean),
      })
      .from(person)
      .leftJoin(main, eq(main.id, person.mergedInto))
      .where(inArray(person.addressKey, addresses.map(addressKey)))
      .all();
    return new Map(rows.map(({ key, ...known }) => [key, known]));
  }

  /** What is known of addresses, in their order. */
  known(addresses: string[]): RecipientView[] {
    const byKey = this.people(addresses);
    const notTracked = this.notTracked(addresses);
    const unknown = addresses.filter((address) => !byKey.has(addressKey(address)));
    const lookalikes = lookalikesOf(unknown, unknown.length === 0 ? [] : this.domains());
    return addresses.map((address) => {
      const row = byKey.get(addressKey(address));
      return {
        address,
        personId: row?.personId ?? null,
        name: row?.name ?? '',
        company: row?.company ?? '',
        messages: row?.messages ?? 0,
        doNotTrack: notTracked.has(addressKey(address)),
        lookalike: lookalikes.get(address) ?? null,
      };
    });
  }

  /** The mail domains at which people are, each once. */
  private domains(): string[] {
    return this.database
      .selectDistinct({ domain: sql<string>`substr(${person.addressKey}, instr(${person.addressKey}, '@') + 1)` })
      .from(person)
      .all()
      .map(({ domain }) => domain);
  }

  /** Those of the addresses whose people are written to without tracking, as keys. */
  notTracked(addresses: string[]): Set<string> {
    const main = alias(person, 'main');
    const rows = this.database
      .select({ key: person.addressKey })
      .from(person)
      .leftJoin(main, eq(main.id, person.mergedInto))
      .where(
        and(
          inArray(person.addressKey, addresses.map(addressKey)),
          sql`coalesce(${main.doNotTrack}, ${person.doNotTrack})`,
        ),
      )
      .all();
    const { untrackedDomains } = this.privacy.view();
    const byDomain = addresses.map(addressKey).filter((key) => isOfDomain(domainOf(key), untrackedDomains));
    return new Set([...rows.map(({ key }) => key), ...byDomain]);
  }
}
