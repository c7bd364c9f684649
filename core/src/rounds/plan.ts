import type { RoundContent, RoundPlan } from '../contract/round.js';

/** Of anything that has it, what all messages of a round have besides their wording. */
export function roundContentOf(from: RoundContent): RoundContent {
  const { trackOpens, trackClicks, disclose, note, templateId, reminder, plan, files } = from;
  return { trackOpens, trackClicks, disclose, note, templateId, reminder, plan, files };
}

/** Of a round, what is written of it before it begins. */
export function roundPlanOf(from: RoundPlan): RoundPlan {
  const { name, wordings, pace, recentDays, decideAt } = from;
  return { ...roundContentOf(from), name, wordings, pace, recentDays, decideAt };
}
