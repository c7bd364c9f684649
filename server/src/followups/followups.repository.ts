import { Inject, Injectable } from '@nestjs/common';
import {
  and,
  asc,
  count,
  desc,
  eq,
  gt,
  inArray,
  isNotNull,
  isNull,
  lte,
  min,
  ne,
  or,
  sql,
  type SQL,
} from 'drizzle-orm';
import { kindsOf } from '@kiraku/core/activity';
import type { Condition, Mailbox, OpenFollowups } from '@kiraku/core/contract';
import { ENDED_BY, type Counts, type Plan } from '@kiraku/core/followups';
import type { DueReminder } from '@kiraku/core/notifications';
import { DATABASE, type Database } from '../store/database.js';
import { copy, event, incoming, message, person, plan, planStep, reminder, template } from '../store/schema.js';

export type ReminderRow = typeof reminder.$inferSelect;
type NewReminder = typeof reminder.$inferInsert;
export type StepRow = typeof planStep.$inferSelect;
export type PlanRow = typeof plan.$inferSelect & { steps: StepRow[] };

/** What became of a message, as conditions ask for it. */
const COUNTS = {
  opens: message.opens,
  clicks: message.clicks,
  fileViews: message.fileViews,
  // A reply that is only probably one is none until the user has said so.
  replies: sql<number>`iif(${message.replies} = 0, 0, max(0, ${message.replies} - (select count(*) from ${incoming} where ${incoming.messageId} = ${message.id} and ${incoming.kind} = 'reply' and ${incoming.copyId} is not null and ${incoming.doubt} is not null and ${incoming.verdict} is null)))`,
};
const isOpen = inArray(reminder.state, ['waiting', 'due']);
/** The conditions of {@link ENDED_BY} that no longer hold. */
const hasEnded = or(
  ...(Object.keys(ENDED_BY) as Condition[])
    .filter((condition) => ENDED_BY[condition].length > 0)
    .map((condition) =>
      and(eq(reminder.condition, condition), or(...ENDED_BY[condition].map((name) => sql`${COUNTS[name]} > 0`))),
    ),
);
const isRunning = eq(plan.state, 'running');
const isPlanned = eq(planStep.state, 'planned');
/** Says at which hours somebody reads. */
const saysHours = and(eq(event.counted, true), inArray(event.kind, kindsOf('hours')));

@Injectable()
export class FollowupsRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  addReminder(row: NewReminder): number {
    return this.database.insert(reminder).values(row).returning({ id: reminder.id }).get().id;
  }

  reminder(id: number): ReminderRow | undefined {
    return this.database.select().from(reminder).where(eq(reminder.id, id)).get();
  }

  setReminder(id: number, set: Partial<ReminderRow>): void {
    this.database.update(reminder).set(set).where(eq(reminder.id, id)).run();
  }

  removeReminder(id: number): void {
    this.database.delete(reminder).where(eq(reminder.id, id)).run();
  }

  /** Those that wait or ask, earliest first. */
  openReminders(limit: number): ReminderRow[] {
    return this.database.select().from(reminder).where(isOpen).orderBy(asc(reminder.dueAt)).limit(limit).all();
  }

  /** Those that were done or went away, the latest first. */
  endedReminders(since: number, limit: number): ReminderRow[] {
    return this.database
      .select()
      .from(reminder)
      .where(gt(reminder.endedAt, since))
      .orderBy(desc(reminder.endedAt))
      .limit(limit)
      .all();
  }

  remindersOf(messageIds: number[]): ReminderRow[] {
    return this.database
      .select()
      .from(reminder)
      .where(inArray(reminder.messageId, messageIds))
      .orderBy(asc(reminder.dueAt))
      .all();
  }

  /** Those of some messages that wait or ask. */
  openRemindersOf(messageIds: number[]): ReminderRow[] {
    return this.database
      .select()
      .from(reminder)
      .where(and(isOpen, inArray(reminder.messageId, messageIds)))
      .all();
  }

  /** Open ones whose messages have done what they waited for, with what became of these. */
  resolvable(): (ReminderRow & { counts: Counts })[] {
    return this.database
      .select({ reminder, counts: COUNTS })
      .from(reminder)
      .innerJoin(message, eq(message.id, reminder.messageId))
      .where(and(isOpen, hasEnded))
      .all()
      .map(({ reminder: row, counts }) => ({ ...row, counts }));
  }

  /** Those whose time has come, and that have not said so. */
  dueReminders(now: number): ReminderRow[] {
    return this.database
      .select()
      .from(reminder)
      .where(and(eq(reminder.state, 'waiting'), lte(reminder.dueAt, now)))
      .orderBy(asc(reminder.dueAt))
      .all();
  }

  /** How reminders notify. */
  notified(ids: number[]): DueReminder[] {
    if (ids.length === 0) return [];
    const rows = this.database
      .select({
        id: reminder.id,
        dueAt: reminder.dueAt,
        condition: reminder.condition,
        note: reminder.note,
        messageId: reminder.messageId,
        subject: message.subject,
        name: person.name,
        address: person.address,
      })
      .from(reminder)
      .leftJoin(message, eq(message.id, reminder.messageId))
      .leftJoin(person, eq(person.id, reminder.personId))
      .where(inArray(reminder.id, ids))
      .all();
    return rows.map(({ name, address, ...row }) => ({
      ...row,
      person: address === null ? null : { name: name ?? '', address },
    }));
  }

  emailPending(): ReminderRow[] {
    return this.database
      .select()
      .from(reminder)
      .where(and(isOpen, eq(reminder.emailPending, true)))
      .all();
  }

  /** When the next reminder or step will be due; null for none. */
  nextAt(now: number): number | null {
    const next = this.database
      .select({ at: min(reminder.dueAt) })
      .from(reminder)
      .where(and(eq(reminder.state, 'waiting'), gt(reminder.dueAt, now)))
      .get()?.at;
    const step = this.database
      .select({ at: planStep.dueAt })
      .from(planStep)
      .innerJoin(plan, eq(plan.id, planStep.planId))
      .where(and(isPlanned, gt(planStep.dueAt, now), isRunning))
      .orderBy(asc(planStep.dueAt))
      .limit(1)
      .get()?.at;
    const times = [next, step].filter((at) => at != null);
    return times.length === 0 ? null : Math.min(...times);
  }

  /** What became of some messages, in the order given. */
  countsOf(messageIds: number[]): Counts[] {
    const rows = this.database
      .select({ id: message.id, ...COUNTS })
      .from(message)
      .where(inArray(message.id, messageIds));
    const byId = new Map(rows.all().map(({ id, ...counts }) => [id, counts]));
    return messageIds.flatMap((id) => byId.get(id) ?? []);
  }

  /** Who may have replied to one of some messages, where the user has not said yet whether they did. */
  undecidedReply(messageIds: number[]): Mailbox | undefined {
    return this.database
      .select({ name: incoming.fromName, address: incoming.fromAddress })
      .from(incoming)
      .where(
        and(
          inArray(incoming.messageId, messageIds),
          inArray(incoming.kind, ['reply', 'perhaps-automatic']),
          isNotNull(incoming.doubt),
          isNull(incoming.verdict),
        ),
      )
      .limit(1)
      .get();
  }

  addPlan(messageId: number, zone: string, steps: Plan['steps']): number {
    const { id } = this.database
      .insert(plan)
      .values({ messageId, zone, state: 'running' })
      .returning({ id: plan.id })
      .get();
    this.database
      .insert(planStep)
      .values(steps.map((step) => ({ ...step, planId: id })))
      .run();
    return id;
  }

  plan(id: number): PlanRow | undefined {
    return this.plansWhere(eq(plan.id, id))[0];
  }

  /** Those that run, of which a message is on its way or due first at their head. */
  runningPlans(limit: number): PlanRow[] {
    const nextAt = sql`(select min(${planStep.dueAt}) from ${planStep} where ${planStep.planId} = ${plan.id} and ${isPlanned})`;
    const first = this.database.select({ id: plan.id }).from(plan).where(isRunning).orderBy(nextAt).limit(limit).all();
    const ids = first.map(({ id }) => id);
    return this.plansWhere(inArray(plan.id, ids));
  }

  /** Those that run, of which a message is due by a time. */
  duePlans(at: number): PlanRow[] {
    const ids = this.database
      .select({ id: planStep.planId })
      .from(planStep)
      .where(and(isPlanned, lte(planStep.dueAt, at)));
    return this.plansWhere(and(isRunning, inArray(plan.id, ids))!);
  }

  /** Those that have ended, the latest. */
  endedPlans(since: number, limit: number): PlanRow[] {
    const ids = this.database
      .select({ id: plan.id })
      .from(plan)
      .where(gt(plan.endedAt, since))
      .orderBy(desc(plan.endedAt))
      .limit(limit);
    return this.plansWhere(inArray(plan.id, ids));
  }

  /** How many are open. */
  open(): OpenFollowups {
    const reminders = this.database
      .select({ state: reminder.state, count: count() })
      .from(reminder)
      .where(isOpen)
      .groupBy(reminder.state)
      .all();
    const of = (state: ReminderRow['state']) => reminders.find((row) => row.state === state)?.count ?? 0;
    const running = this.database.select({ count: count() }).from(plan).where(isRunning).get()!.count;
    return { due: of('due'), waiting: of('waiting'), running };
  }

  /** The plans that follow some messages, or that these are steps of. */
  plansOf(messageIds: number[]): PlanRow[] {
    const steps = this.database
      .select({ id: planStep.planId })
      .from(planStep)
      .where(inArray(planStep.messageId, messageIds));
    return this.plansWhere(or(inArray(plan.messageId, messageIds), inArray(plan.id, steps))!);
  }

  /** Those of some people to whom a plan writes. */
  plannedPeople(personIds: number[]): Mailbox[] {
    return this.database
      .selectDistinct({ name: person.name, address: person.address })
      .from(plan)
      .innerJoin(copy, eq(copy.messageId, plan.messageId))
      .innerJoin(person, eq(person.id, copy.personId))
      .where(and(isRunning, inArray(person.id, personIds)))
      .all();
  }

  /** The running plans of a person: of messages that went to them. */
  plansOfPerson(personId: number): PlanRow[] {
    const messageIds = this.database.select({ id: copy.messageId }).from(copy).where(eq(copy.personId, personId));
    return this.plansWhere(and(isRunning, inArray(plan.messageId, messageIds))!);
  }

  setPlan(id: number, set: Partial<typeof plan.$inferSelect>): void {
    this.database.update(plan).set(set).where(eq(plan.id, id)).run();
  }

  step(id: number): StepRow | undefined {
    return this.database.select().from(planStep).where(eq(planStep.id, id)).get();
  }

  setStep(id: number, set: Partial<StepRow>): void {
    this.database.update(planStep).set(set).where(eq(planStep.id, id)).run();
  }

  /** The step that became a message. */
  stepOf(messageId: number): StepRow | undefined {
    return this.database.select().from(planStep).where(eq(planStep.messageId, messageId)).get();
  }

  /** Takes a message away that a step became, unless it has left. */
  undoSend(messageId: number): void {
    this.database
      .delete(message)
      .where(and(eq(message.id, messageId), eq(message.state, 'scheduled')))
      .run();
  }

  templateNames(ids: number[]): Map<number, string> {
    const rows = this.database
      .select({ id: template.id, name: template.name })
      .from(template)
      .where(inArray(template.id, ids))
      .all();
    return new Map(rows.map(({ id, name }) => [id, name]));
  }

  people(ids: number[]) {
    const { id, name, address, phone } = person;
    return this.database.select({ id, name, address, phone }).from(person).where(inArray(person.id, ids)).all();
  }

  /** The one person a message went to; null where there were several. */
  onlyRecipient(messageId: number): number | null {
    const rows = this.database
      .selectDistinct({ id: copy.personId })
      .from(copy)
      .where(eq(copy.messageId, messageId))
      .limit(2)
      .all();
    return rows.length === 1 ? rows[0]!.id : null;
  }

  numbersOf(addressKeys: string[]): number[] {
    return this.database
      .select({ id: person.id })
      .from(person)
      .where(inArray(person.addressKey, addressKeys))
      .all()
      .map(({ id }) => id);
  }

  recipients(messageId: number): number[] {
    return this.database
      .selectDistinct({ id: copy.personId })
      .from(copy)
      .where(eq(copy.messageId, messageId))
      .all()
      .map(({ id }) => id);
  }

  /** When people opened, the newest: of one person, of the others of their company, and of everybody. */
  readTimes(personId: number | null, limit: number): { own: number[]; company: number[]; all: number[] } {
    const row =
      personId === null ? undefined : this.database.select().from(person).where(eq(person.id, personId)).get();
    const isOfCompany =
      row && row.company !== '' ? and(eq(person.company, row.company), ne(person.id, row.id)) : undefined;
    return {
      own: row ? this.readTimesOf(eq(person.id, row.id), limit) : [],
      company: isOfCompany ? this.readTimesOf(isOfCompany, limit) : [],
      all: this.database
        .select({ at: event.at })
        .from(event)
        .where(saysHours)
        .orderBy(desc(event.at))
        .limit(limit)
        .all()
        .map(({ at }) => at),
    };
  }

  /** From the people to the activity to their messages: few of very many events are theirs. */
  private readTimesOf(who: SQL | undefined, limit: number): number[] {
    return this.database
      .select({ at: event.at })
      .from(person)
      .innerJoin(copy, eq(copy.personId, person.id))
      .innerJoin(event, and(eq(event.messageId, copy.messageId), eq(event.copyId, copy.id)))
      .where(and(who, saysHours))
      .orderBy(desc(event.at))
      .limit(limit)
      .all()
      .map(({ at }) => at);
  }

  zoneOf(personId: number): string {
    return this.database.select({ zone: person.zone }).from(person).where(eq(person.id, personId)).get()?.zone ?? '';
  }

  private plansWhere(which: SQL): PlanRow[] {
    const plans = this.database.select().from(plan).where(which).orderBy(asc(plan.id)).all();
    const steps = this.database
      .select()
      .from(planStep)
      .where(inArray(planStep.planId, this.database.select({ id: plan.id }).from(plan).where(which)))
      .orderBy(asc(planStep.id))
      .all();
    const byId = new Map<number, PlanRow>(plans.map((row) => [row.id, { ...row, steps: [] }]));
    for (const step of steps) byId.get(step.planId)!.steps.push(step);
    return [...byId.values()];
  }
}
