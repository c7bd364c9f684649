import { Injectable } from '@nestjs/common';
import { personText } from '@kiraku/core/sentences';
import type { DraftContent, DraftPlan, DraftReminder, Mailbox } from '@kiraku/core/contract';
import {
  advance,
  afterWorkingDays,
  bestSendTime,
  readWhen,
  endsWithReply,
  resolvedText,
  type DueAt,
  type Plan,
  type PlanEvent,
} from '@kiraku/core/followups';
import { addressKey } from '@kiraku/core/message';
import { DAY } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { invalid } from '../http/problem.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { FollowupsRepository, type PlanRow } from './followups.repository.js';

/** A working day without a better hour begins so. */
const MORNING = '09:30';
const REPLIED = 'Replied';
/** Of opens, so many say when somebody reads. */
const MAX_READ_TIMES = 2000;
/** Nobody means the middle of the night: a better hour is looked for within these. */
const DAYTIME = { from: 7, to: 19 };

/** Reminders by itself: set when a message leaves, and ended by what happens to it. */
@Injectable()
export class FollowupsService {
  constructor(
    private readonly followups: FollowupsRepository,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  /** Sets the reminder and the plan of a message that leaves. Call it in the transaction in which it does. */
  begin(messageId: number, { reminder, plan }: { reminder: DraftReminder | null; plan: DraftPlan | null }): void {
    const now = this.clock.now();
    const step = this.followups.stepOf(messageId);
    if (step) return void this.advance(this.followups.plan(step.planId)!, { kind: 'left', at: now });
    if (reminder) {
      const { when, zone, condition, note, byEmail } = reminder;
      const read = readWhen(when, now, zone);
      // It was read when it was saved; a day on which it means nothing any more is answered by a day.
      const dueAt = 'at' in read ? read.at : now + DAY;
      const personId = this.followups.onlyRecipient(messageId);
      this.followups.addReminder({
        state: 'waiting',
        dueAt,
        condition,
        note,
        byEmail,
        zone,
        messageId,
        personId,
        createdAt: now,
      });
    }
    if (plan) {
      const steps = plan.steps.map((one) => ({ ...one, state: 'planned' as const, dueAt: null, reason: null }));
      const [busy] = this.followups.plannedPeople(this.followups.recipients(messageId));
      const id = this.followups.addPlan(messageId, plan.zone, steps);
      const event: PlanEvent = busy ? { kind: 'ended', why: inPlan(busy) } : { kind: 'left', at: now };
      this.advance(this.followups.plan(id)!, event);
    }
  }

  /**
   * Whether a message that is to be followed goes to nobody whom another plan writes to.
   *
   * @throws 422 where it does
   */
  checkFree({ plan, recipients }: Pick<DraftContent, 'plan' | 'recipients'>): void {
    if (!plan) return;
    const people = this.followups.numbersOf(recipients.map(({ address }) => addressKey(address)));
    const [busy] = this.followups.plannedPeople(people);
    if (busy) throw invalid(`${inPlan(busy)}. Stop that one first, or send this message without follow-ups.`);
  }

  /** A reply has come: all that is pending on these messages rests. Call it in the transaction that records it. */
  replied(messageIds: number[]): void {
    this.ended(messageIds, REPLIED);
    const now = this.clock.now();
    for (const { id, condition } of this.followups.openRemindersOf(messageIds))
      if (endsWithReply(condition))
        this.followups.setReminder(id, { state: 'resolved', reason: REPLIED, endedAt: now });
  }

  /** Ends the plans of some messages. Call it in the transaction that records why. */
  ended(messageIds: number[], why: string): void {
    for (const plan of this.followups.plansOf(messageIds)) this.advance(plan, { kind: 'ended', why });
  }

  /** Ends the plans of a person, who has declined or was erased. */
  endedFor(personId: number, why: string): void {
    for (const plan of this.followups.plansOfPerson(personId)) this.advance(plan, { kind: 'ended', why });
  }

  /** Ends the plans of which a message was due by a time. Call it in the transaction that says why. */
  endedDueBy(at: number, why: string): void {
    for (const plan of this.followups.duePlans(at)) this.advance(plan, { kind: 'ended', why });
  }

  /**
   * Ends reminders whose messages have done what they waited for; the others that are due ask from now on.
   *
   * @param byEmail whether all of them go by email, and not only those of which it was wanted
   */
  remind(now: number, byEmail: boolean): void {
    this.unit.commit(() => {
      this.resolve();
      for (const { id, byEmail: isWanted, messageId } of this.followups.dueReminders(now)) {
        this.followups.setReminder(id, { state: 'due', emailPending: isWanted || byEmail });
        this.unit.note({ reminderId: id });
        if (messageId !== null) this.unit.note({ messageId });
      }
    });
  }

  /** Reminders whose messages did what they waited for go away automatically, and say so. */
  private resolve(): void {
    const now = this.clock.now();
    for (const { id, counts, messageId } of this.followups.resolvable()) {
      this.followups.setReminder(id, { state: 'resolved', reason: resolvedText(counts), endedAt: now });
      if (messageId !== null) this.unit.note({ messageId });
    }
  }

  /**
   * What a plan becomes, written down. A message of it that has not left is recalled where the plan ends: so none leaves
   * once that is committed.
   *
   * @returns the step that is to be sent now
   */
  advance(row: PlanRow, event: PlanEvent): number | undefined {
    const before: Plan = row;
    const { plan, send } = advance(before, event, this.dueAt(row));
    if (plan === before) return undefined;
    const endedAt = plan.state === 'running' ? null : this.clock.now();
    this.followups.setPlan(row.id, { state: plan.state, reason: plan.reason, endedAt });
    plan.steps.forEach(({ state, dueAt, reason }, index) => {
      const step = row.steps[index]!;
      this.followups.setStep(step.id, { state, dueAt, reason });
      if (plan.state === 'stopped' && step.messageId !== null) this.followups.undoSend(step.messageId);
    });
    this.unit.note({ messageId: row.messageId });
    return send === null ? undefined : row.steps[send]!.id;
  }

  /** The hour at which a person is most likely to read, by their own clocks; null where nobody has opened at anything. */
  bestSendTime(personId: number | null, zone: string) {
    const readTimes = this.followups.readTimes(personId, MAX_READ_TIMES);
    return bestSendTime(readTimes, this.zoneOf(personId, zone), this.clock.now());
  }

  private dueAt({ messageId, zone }: PlanRow): DueAt {
    return ({ workingDays, time }, from) => {
      if (time !== null) return afterWorkingDays(from, workingDays, time, zone);
      const reader = this.followups.onlyRecipient(messageId);
      // Their hour, by their clocks.
      return afterWorkingDays(from, workingDays, this.likelyTime(reader, zone), this.zoneOf(reader, zone));
    };
  }

  private likelyTime(personId: number | null, zone: string): string {
    const best = this.bestSendTime(personId, zone);
    if (!best || best.hour < DAYTIME.from || best.hour > DAYTIME.to) return MORNING;
    return `${String(best.hour).padStart(2, '0')}:00`;
  }

  private zoneOf(personId: number | null, zone: string): string {
    return (personId !== null && this.followups.zoneOf(personId)) || zone;
  }
}

function inPlan(person: Mailbox): string {
  return `${personText(person)} is already getting automatic follow-ups`;
}
