import type { EventView } from './event.js';
import type { MessageSummary } from './message.js';
import type { Notice } from './notice.js';

/** One push over the live stream: what happened since the push before, and the rows it changed. */
export interface LiveUpdate {
  events: EventView[];
  /** What is to be told of them, in words. */
  notices: Notice[];
  /** Events told before whose verdict has been revised since. */
  corrected: EventView[];
  /** Sent messages that changed, as their rows now read. */
  messages: MessageSummary[];
  /** Whether a reminder asks for something. */
  isReminded: boolean;
  /** Whether the list of drafts has changed. */
  draftsChanged: boolean;
  /** True when so much happened that only the newest part is told: load again what is shown. */
  gap: boolean;
}
