import type { BestSendTime } from '../contract/index.js';
import { hourText, openedOrClicked } from './person.js';

/** From this ratio to an average hour on it is worth saying. */
const MIN_RATIO = 1.5;
const HOURS_OF_WEEK = 7 * 24;

/** How many opens and clicks are known of a person, of others at their company, and of everybody. */
export interface BestSendTimeBasis {
  own: number;
  company: number;
  all: number;
  /** The share of the estimate that rests on their own, from 0 to 1. */
  ownWeight: number;
}

/** “Tuesday around 10:00, 4 times as likely as an average hour”: a likelihood, never a fact. */
export function bestSendTimeText({ weekday, hour, probability }: BestSendTime): string {
  const ratio = probability * HOURS_OF_WEEK;
  const likely = ratio >= MIN_RATIO ? `, ${Math.round(ratio * 10) / 10} times as likely as an average hour` : '';
  return hourText({ weekday, hour }) + likely;
}

/** What the best time to send is based on, and how sure it is. */
export function basisSentence({ own, company, all, ownWeight }: BestSendTimeBasis): string {
  if (ownWeight >= 0.5) return `Based on ${openedOrClicked(own)} of their own: fairly sure.`;
  if (own > 0) return `Based on ${openedOrClicked(own)} of their own, and on others: a hint.`;
  if (company > 0)
    return `Nothing is known of them yet: based on ${openedOrClicked(company)} by others at their company.`;
  return `Nothing is known of them yet: based on ${openedOrClicked(all)} by everybody.`;
}
