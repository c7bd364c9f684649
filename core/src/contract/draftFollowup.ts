/** By what a reminder still makes sense when its time has come. */
export const STEP_CONDITIONS = ['not-replied', 'not-opened', 'not-clicked'] as const;
export const CONDITIONS = [...STEP_CONDITIONS, 'always'] as const;
export type Condition = (typeof CONDITIONS)[number];
/** Of a message that follows: who has replied is sent nothing in any case. */
export type StepCondition = (typeof STEP_CONDITIONS)[number];

/** A reminder as it is set while writing: its time counts from when the message leaves. */
export interface DraftReminder {
  /** As it was typed: “in 2 days”, “Thursday 9:00”. */
  when: string;
  /** By whose clocks (IANA). */
  zone: string;
  condition: Condition;
  /** For oneself; never sent. */
  note: string;
  /** Whether an e-mail to oneself says so too. */
  byEmail: boolean;
}

/** One message more that is to go out automatically while no reply comes. */
export interface DraftStep {
  templateId: number;
  condition: StepCondition;
  /** After so many working days since the message before it. */
  workingDays: number;
  /** At this time of their day, “09:30”; null for the hour at which they are most likely to read. */
  time: string | null;
}

/** Automatic follow-ups, by the clocks of a zone. */
export interface DraftPlan {
  zone: string;
  steps: DraftStep[];
}
