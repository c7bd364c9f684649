import { Inject, Injectable } from '@nestjs/common';
import { and, desc, eq, gt, inArray, isNotNull, isNull, lt, ne, notInArray, or, sql, type SQL } from 'drizzle-orm';
import { kindsOf } from '@kiraku/core/activity';
import type { NetworkKind } from '@kiraku/core/contract';
import { FORGOTTEN_BELOW, HALF_LIFE_MS } from '@kiraku/core/tracking';
import type { Place } from '../http/paging.js';
import { DATABASE, type Database } from '../store/database.js';
import { copy, event, network } from '../store/schema.js';

/** More are not remembered: those seen last stay, and those that the user has named. */
const MAX_REMEMBERED_NETWORKS = 20_000;

export type NetworkRow = typeof network.$inferSelect;

/** What networks were seen to be, as the user sees and changes it. */
@Injectable()
export class NetworksRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  /** Those of which anything was learnt or said, the last seen first; `before` is the last of the page before. */
  page(limit: number, before: Place | null): NetworkRow[] {
    const isKnown = or(gt(network.filter, 0), gt(network.people, 0), isNotNull(network.namedAs));
    return this.database
      .select()
      .from(network)
      .where(and(isKnown, before ? sql`(${network.at}, ${network.id}) < (${before.value}, ${before.id})` : undefined))
      .orderBy(desc(network.at), desc(network.id))
      .limit(limit)
      .all();
  }

  /** Returns whether there is such a network. */
  name(id: number, namedAs: NetworkKind | null): boolean {
    return this.database.update(network).set({ namedAs }).where(eq(network.id, id)).run().changes > 0;
  }

  /** Returns whether there was such a network. */
  forget(id: number): boolean {
    return this.database.delete(network).where(eq(network.id, id)).run().changes > 0;
  }

  /**
   * Forgets networks of which little is left, and those that are too many.
   *
   * @param before those seen last before this time, too; null where how long readers are remembered has no end
   */
  forgetOld(before: number | null, now: number): void {
    const left = sql`(${network.filter} + ${network.people}) * pow(0.5, (${now} - ${network.at}) * 1.0 / ${HALF_LIFE_MS})`;
    const faded = and(lt(network.at, now - HALF_LIFE_MS), lt(left, FORGOTTEN_BELOW));
    this.forgetWhere(or(faded, before === null ? undefined : lt(network.at, before)));
    const lastSeen = this.database
      .select({ id: network.id })
      .from(network)
      .orderBy(desc(network.at))
      .limit(MAX_REMEMBERED_NETWORKS);
    this.forgetWhere(notInArray(network.id, lastSeen));
  }

  /**
   * Past hits like one: over the same network where that is remembered, or of the same person from the same address.
   *
   * @param counted whether they count now; those that the user has decided on are left out
   * @returns their numbers, the newest first
   */
  similar(eventId: number, counted: boolean, limit: number): number[] {
    const hit = this.database
      .select({ networkId: event.networkId, ip: event.ip, personId: copy.personId })
      .from(event)
      .innerJoin(copy, eq(copy.id, event.copyId))
      .where(eq(event.id, eventId))
      .get();
    if (!hit || hit.ip === null) return [];
    const isLike = and(
      ne(event.id, eventId),
      inArray(event.kind, kindsOf('hit')),
      eq(event.counted, counted),
      isNull(event.override),
      // What a fact decides, no correction of another hit changes.
      isNotNull(event.likelihood),
    );
    const overNetwork = hit.networkId === null ? [] : this.hits(and(eq(event.networkId, hit.networkId), isLike), limit);
    const ofPerson = this.database
      .select({ id: event.id, at: event.at })
      .from(copy)
      .innerJoin(event, and(eq(event.messageId, copy.messageId), eq(event.copyId, copy.id)))
      .where(and(eq(copy.personId, hit.personId), eq(event.ip, hit.ip), isLike))
      .orderBy(desc(event.at))
      .limit(limit)
      .all();
    const newestFirst = [...overNetwork, ...ofPerson].sort((a, b) => b.at - a.at || b.id - a.id);
    return [...new Set(newestFirst.map(({ id }) => id))].slice(0, limit);
  }

  private hits(condition: SQL | undefined, limit: number): { id: number; at: number }[] {
    return this.database
      .select({ id: event.id, at: event.at })
      .from(event)
      .where(condition)
      .orderBy(desc(event.at))
      .limit(limit)
      .all();
  }

  private forgetWhere(condition: SQL | undefined): void {
    this.database
      .delete(network)
      .where(and(isNull(network.namedAs), condition))
      .run();
  }
}
