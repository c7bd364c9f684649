import type { DraftContent } from '../contract/message.js';

/** A message before anything is written. */
export const BLANK_CONTENT: DraftContent = {
  recipients: [],
  subject: '',
  html: '',
  trackOpens: true,
  trackClicks: true,
  disclose: false,
  requestDsn: false,
  requestMdn: false,
  trackForDays: null,
  note: '',
  templateId: null,
  conversation: [],
  reminder: null,
  plan: null,
  files: [],
};

const FIELDS = Object.keys(BLANK_CONTENT) as (keyof DraftContent)[];

/** Of anything that has a message's content, the content alone. */
export function contentOf(from: DraftContent): DraftContent {
  return Object.fromEntries(FIELDS.map((field) => [field, from[field]])) as unknown as DraftContent;
}
