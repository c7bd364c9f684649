import { Injectable } from '@nestjs/common';
import type { DraftContent, DraftPlan, DraftReminder, Mailbox } from '@kiraku/core/contract';
import {
  advance,
  afterWorkingDays,
  bestHour,
  holds,
  readWhen,
  restsOnAnswer,
  settledWords,
  type DueAt,
  type Plan,
  type PlanEvent,
} from '@kiraku/core/followups';
import { addressKey } from '@kiraku/core/message';
import { DAY } from '@kiraku/core/time';
import { personWords } from '@kiraku/core/tracking';
import { Clock } from '../clock.js';
import { invalid } from '../http/problem.js';
import { Changes } from '../store/changes.js';
import { FollowupsRepository, type PlanRow } from './followups.repository.js';

/** A working day without a better hour begins so. */
const MORNING = '09:30';
const ANSWERED = 'Answered';
/** Of looks, so many say when somebody reads. */
const MOST_LOOKS = 2000;
/** Nobody means the middle of the night: a better hour is looked for within these. */
const DAYTIME = { from: 7, to: 19 };

/** What comes back by itself: set when a letter leaves, and ended by what happens to it. */
@Injectable()
export class FollowupsService {
  constructor(
    private readonly followups: FollowupsRepository,
    private readonly changes: Changes,
    private readonly clock: Clock,
  ) {}

  /** Sets the reminder and the plan of a letter that leaves. Call it in the transaction in which it does. */
  begin(messageId: number, { reminder, plan }: { reminder: DraftReminder | null; plan: DraftPlan | null }): void {
    const now = this.clock.now();
    const step = this.followups.stepOf(messageId);
    if (step) return void this.advance(this.followups.plan(step.planId)!, { kind: 'left', at: now });
    if (reminder) {
      const { when, zone, condition, note, mails } = reminder;
      const read = readWhen(when, now, zone);
      // It was read when it was saved; a day on which it means nothing any more is answered by a day.
      const dueAt = 'at' in read ? read.at : now + DAY;
      const personId = this.followups.onlyRecipient(messageId);
      this.followups.addReminder({
        ...{ state: 'waiting', dueAt, condition, note, mails, zone, messageId, personId, createdAt: now },
      });
    }
    if (plan) {
      const steps = plan.steps.map((one) => ({ ...one, state: 'planned' as const, dueAt: null, words: null }));
      const [busy] = this.followups.plannedPeople(this.followups.recipients(messageId));
      const id = this.followups.addPlan(messageId, plan.zone, steps);
      const event: PlanEvent = busy ? { kind: 'ended', why: inPlan(busy) } : { kind: 'left', at: now };
      this.advance(this.followups.plan(id)!, event);
    }
  }

  /**
   * Whether a letter that is to be followed goes to nobody whom another plan writes to.
   *
   * @throws 422 where it does
   */
  checkFree({ plan, recipients }: Pick<DraftContent, 'plan' | 'recipients'>): void {
    if (!plan) return;
    const people = this.followups.numbersOf(recipients.map(({ address }) => addressKey(address)));
    const [busy] = this.followups.plannedPeople(people);
    if (busy) throw invalid(`${inPlan(busy)}. Stop that one first, or send this letter without.`);
  }

  /** An answer has come: all that is pending on these letters rests. Call it in the transaction that records it. */
  answered(messageIds: number[]): void {
    this.ended(messageIds, ANSWERED);
    const now = this.clock.now();
    for (const { id, condition } of this.followups.openRemindersOf(messageIds))
      if (restsOnAnswer(condition)) this.followups.setReminder(id, { state: 'settled', words: ANSWERED, endedAt: now });
  }

  /** Ends the plans of some letters. Call it in the transaction that records why. */
  ended(messageIds: number[], why: string): void {
    for (const plan of this.followups.plansOf(messageIds)) this.advance(plan, { kind: 'ended', why });
  }

  /** Ends the plans of a person, who has declined or was erased. */
  endedFor(personId: number, why: string): void {
    for (const plan of this.followups.plansOfPerson(personId)) this.advance(plan, { kind: 'ended', why });
  }

  /** Reminders whose letters have done what they waited for. */
  settleable() {
    return this.followups.waitingWithCounts().filter(({ condition, counts }) => !holds(condition, counts));
  }

  /** Reminders whose letters did what they waited for go away by themselves, and say so. */
  settle(): void {
    const now = this.clock.now();
    for (const { id, condition, counts, messageId } of this.settleable()) {
      this.followups.setReminder(id, { state: 'settled', words: settledWords(condition, counts), endedAt: now });
      if (messageId !== null) this.changes.note({ messageId });
    }
  }

  /**
   * What a plan becomes, written down. A letter of it that has not left is taken back where the plan ends: so none leaves
   * once that is committed.
   *
   * @returns the step that is to be sent now
   */
  advance(row: PlanRow, event: PlanEvent): number | undefined {
    const before: Plan = row;
    const { plan, send } = advance(before, event, this.dueAt(row));
    if (plan === before) return undefined;
    const endedAt = plan.state === 'running' ? null : this.clock.now();
    this.followups.setPlan(row.id, { state: plan.state, words: plan.words, endedAt });
    plan.steps.forEach(({ state, dueAt, words }, index) => {
      const step = row.steps[index]!;
      this.followups.setStep(step.id, { state, dueAt, words });
      if (plan.state === 'stopped' && step.messageId !== null) this.followups.takeBack(step.messageId);
    });
    this.changes.note({ messageId: row.messageId });
    return send === null ? undefined : row.steps[send]!.id;
  }

  /** The hour at which a person is most likely to read, by their own clocks; null where nobody has looked at anything. */
  bestHour(personId: number | null, zone: string) {
    const looks = this.followups.looks(personId, MOST_LOOKS);
    return bestHour(looks, this.zoneOf(personId, zone), this.clock.now());
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
    const best = this.bestHour(personId, zone);
    if (!best || best.hour < DAYTIME.from || best.hour > DAYTIME.to) return MORNING;
    return `${String(best.hour).padStart(2, '0')}:00`;
  }

  private zoneOf(personId: number | null, zone: string): string {
    return (personId !== null && this.followups.zoneOf(personId)) || zone;
  }
}

function inPlan(person: Mailbox): string {
  return `${personWords(person)} is being written to by another plan already`;
}
