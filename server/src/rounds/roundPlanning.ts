import { Injectable } from '@nestjs/common';
import type { Recipient } from '@kiraku/core/contract';
import { addressKey } from '@kiraku/core/message';
import { planTimes } from '@kiraku/core/rounds';
import { namesText, personText } from '@kiraku/core/sentences';
import { Clock } from '../environment/clock.js';
import { FollowupsService } from '../followups/followups.service.js';
import { invalid } from '../http/problem.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import { SendChecks } from '../messages/sendChecks.js';
import { SendingSettings } from '../settings/sending.settings.js';
import { RoundTexts, unfilledOf } from './roundTexts.js';
import { RoundsRepository, type MemberRow, type StoredRound } from './rounds.repository.js';

const MAX_NAMED_MEMBERS = 3;

/** When each message of a round leaves. Call it in the transaction of what follows from it. */
@Injectable()
export class RoundPlanning {
  constructor(
    private readonly rounds: RoundsRepository,
    private readonly texts: RoundTexts,
    private readonly messages: MessagesRepository,
    private readonly checks: SendChecks,
    private readonly followups: FollowupsService,
    private readonly settings: SendingSettings,
    private readonly clock: Clock,
  ) {}

  /**
   * Gives every message that waits its time, after the time in which it can be undone.
   *
   * @throws 422 where one of them cannot be sent: nothing leaves then
   */
  schedule(round: StoredRound): void {
    const waiting = this.drafts(round.id);
    this.checkFilled(waiting);
    for (const { messageId } of waiting) this.checks.check(this.messages.draft(messageId)!);
    const times = this.timesOf(round, waiting, this.clock.now() + this.settings.undoSendMs());
    this.texts.schedule(waiting.map(({ messageId }, index) => ({ messageId, sendAt: times[index]! })));
  }

  /** Moves what waits on, from now: nothing was sent for a while, and what was missed must not leave all at once. */
  moveOn(round: StoredRound): void {
    const byTime = this.scheduled(round.id).sort((a, b) => a.sendAt! - b.sendAt!);
    const times = this.timesOf(round, byTime, this.clock.now());
    byTime.forEach(({ messageId }, index) => this.messages.reschedule(messageId, times[index]!));
  }

  /** Takes what waits back: nothing leaves until it has a time again. */
  recall(round: StoredRound): void {
    for (const { messageId } of this.scheduled(round.id)) this.messages.recall(messageId, this.clock.now());
  }

  /** Takes one message back: its recipient gets none. */
  leaveOut(messageId: number): void {
    this.messages.recall(messageId, this.clock.now());
    this.rounds.setMembers([messageId], { leftOut: true });
  }

  /** Gives one message another time. */
  postpone(messageId: number, sendAt: number): void {
    this.messages.reschedule(messageId, sendAt);
  }

  private timesOf(round: StoredRound, members: readonly MemberRow[], from: number): number[] {
    const { pace } = round;
    const { slowedBy } = this.texts.verdictOf(round);
    const people = this.rounds.people(members.map(({ recipients }) => firstOf(recipients).address));
    const waiting = members.map(({ recipients }) => {
      const known = people.get(addressKey(firstOf(recipients).address));
      const zone = known?.zone || pace.zone;
      const best = pace.kind === 'best-time' && known ? this.followups.bestSendTime(known.personId, zone) : null;
      return { zone, bestAt: best?.at ?? null };
    });
    return planTimes(waiting, pace, from, slowedBy).map(Math.round);
  }

  /** All that have a time, whoever opted out since among them: that is looked at when they would leave. */
  private scheduled(roundId: number): MemberRow[] {
    return this.rounds.members(roundId).filter(({ state }) => state === 'scheduled');
  }

  /** Those who are to get a message yet and have no time; whoever opted out gets none. */
  private drafts(roundId: number): MemberRow[] {
    const members = this.rounds.members(roundId).filter(({ state, leftOut }) => !leftOut && state === 'draft');
    const optedOut = this.rounds.optedOut(members.flatMap(addressesOf));
    return members.filter((member) => !addressesOf(member).some((address) => optedOut.has(addressKey(address))));
  }

  private checkFilled(members: readonly MemberRow[]): void {
    const unfilled = members.filter((member) => unfilledOf(member).length > 0);
    if (unfilled.length === 0) return;
    const names = namesText(
      unfilled.map(({ recipients }) => personText(firstOf(recipients))),
      MAX_NAMED_MEMBERS,
    );
    throw invalid(`A placeholder cannot be filled for ${names}. Fill it in by hand, or leave them out.`);
  }
}

function addressesOf({ recipients }: MemberRow): string[] {
  return recipients.map(({ address }) => address);
}

function firstOf(recipients: readonly Recipient[]): Recipient {
  return recipients[0] ?? { kind: 'to', name: '', address: '' };
}
