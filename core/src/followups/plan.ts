import type { DraftStep, PlanState, StepState } from '../contract/index.js';
import { holds, resolvedText, type Counts } from './condition.js';

/** A plan as far as decisions go. */
export interface Plan {
  state: PlanState;
  /** Why it was stopped. */
  reason: string | null;
  steps: PlannedStep[];
}

export interface PlannedStep extends DraftStep {
  state: StepState;
  dueAt: number | null;
  /** Why it waits although its time has come. */
  reason: string | null;
}

/** What becomes of a plan. */
export type PlanEvent =
  /** The message that it follows, or its last step, has left. */
  | { kind: 'left'; at: number }
  /** The sender takes one message out of it. */
  | { kind: 'omitted'; index: number }
  /** A reply came, a copy could not be delivered, they opted out, or the sender pressed Stop. */
  | { kind: 'ended'; why: string }
  /** Time has gone on. `replyProblem`: why a reply could not be seen now; null where it would be. */
  | {
      kind: 'check';
      at: number;
      counts: Counts;
      replyProblem: string | null;
    };

/**
 * What the next step goes by: what was done with the message before it; but a reply to any of them is a reply.
 *
 * @param messages what became of each that has left, in their order; at least one
 */
export function countsOf(messages: readonly Counts[]): Counts {
  const replies = messages.reduce((sum, message) => sum + message.replies, 0);
  return { ...messages.at(-1)!, replies };
}

/** How long a step is, from when the message before it left. */
export type DueAt = (step: DraftStep, from: number) => number;

/**
 * What a plan becomes by something that happened, and the step that is to be sent now, by its index; null for none. A
 * plan that has ended stays as it is whatever comes: no order of events sends a step after a reply.
 */
export function advance(plan: Plan, event: PlanEvent, dueAt: DueAt): { plan: Plan; send: number | null } {
  if (plan.state !== 'running') return { plan, send: null };
  switch (event.kind) {
    case 'ended':
      return { plan: stopped(plan, event.why), send: null };
    case 'omitted':
      return { plan: omitted(plan, event.index, dueAt), send: null };
    case 'left':
      return { plan: scheduled(plan, event.at, dueAt), send: null };
    case 'check':
      return checked(plan, event, dueAt);
  }
}

function stopped(plan: Plan, why: string): Plan {
  const steps = plan.steps.map((step) => (step.state === 'planned' ? { ...step, state: 'stopped' as const } : step));
  return { state: 'stopped', reason: why, steps };
}

/** Without one of the messages to come; where it was the next one, the one after it counts from its time. */
function omitted(plan: Plan, index: number, dueAt: DueAt): Plan {
  const step = plan.steps[index];
  if (step?.state !== 'planned') return plan;
  const rest = { ...plan, steps: changed(plan.steps, index, { state: 'stopped' }) };
  return step.dueAt === null ? rest : scheduled(rest, step.dueAt, dueAt);
}

/** Gives the next step its time; a plan without one is done. */
function scheduled(plan: Plan, from: number, dueAt: DueAt): Plan {
  const next = plan.steps.findIndex(({ state }) => state === 'planned');
  if (next < 0) return { ...plan, state: 'done' };
  return { ...plan, steps: changed(plan.steps, next, { dueAt: dueAt(plan.steps[next]!, from), reason: null }) };
}

function checked(
  plan: Plan,
  { at, counts, replyProblem }: Extract<PlanEvent, { kind: 'check' }>,
  dueAt: DueAt,
): { plan: Plan; send: number | null } {
  // Whatever a step waits for: who has replied is sent nothing.
  if (counts.replies > 0) return { plan: stopped(plan, resolvedText(counts)), send: null };
  const next = plan.steps.findIndex(({ state }) => state === 'planned');
  const step = plan.steps[next];
  if (!step || step.dueAt === null || step.dueAt > at) return { plan, send: null };
  if (replyProblem !== null && step.reason === replyProblem) return { plan, send: null };
  if (replyProblem !== null)
    return { plan: { ...plan, steps: changed(plan.steps, next, { reason: replyProblem }) }, send: null };
  if (!holds(step.condition, counts)) {
    const steps = changed(plan.steps, next, { state: 'skipped', reason: resolvedText(counts) });
    return { plan: scheduled({ ...plan, steps }, step.dueAt, dueAt), send: null };
  }
  return { plan: { ...plan, steps: changed(plan.steps, next, { state: 'sent', reason: null }) }, send: next };
}

function changed(steps: PlannedStep[], index: number, change: Partial<PlannedStep>): PlannedStep[] {
  return steps.map((step, at) => (at === index ? { ...step, ...change } : step));
}

export const PLAN_LIMITS = { maxSteps: 5, maxWorkingDays: 60 } as const;
