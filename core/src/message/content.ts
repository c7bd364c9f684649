import type { DraftContent } from '../contract/message.js';

/** A letter before anything is written. */
export const BLANK_CONTENT: DraftContent = {
  recipients: [],
  subject: '',
  html: '',
  trackOpens: true,
  trackLinks: true,
  disclose: false,
  deliveryReceipt: false,
  readReceipt: false,
  trackForDays: null,
  note: '',
  templateId: null,
  conversation: [],
  reminder: null,
  plan: null,
  files: [],
};

const FIELDS = Object.keys(BLANK_CONTENT) as (keyof DraftContent)[];

/** Of anything that has a letter's content, the content alone. */
export function contentOf(from: DraftContent): DraftContent {
  return Object.fromEntries(FIELDS.map((field) => [field, from[field]])) as unknown as DraftContent;
}
