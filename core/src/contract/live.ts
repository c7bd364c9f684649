import type { EventView } from './event.js';
import type { MessageSummary } from './message.js';
import type { NotificationView } from './notification.js';

/** One push over the live stream: the activity since the push before, and the rows it changed. */
export interface LiveUpdate {
  events: EventView[];
  /** The notifications about them. */
  notifications: NotificationView[];
  /** Events notified before whose verdict has been revised since. */
  corrected: EventView[];
  /** Sent messages that changed, as their rows now read. */
  messages: MessageSummary[];
  /** Whether a reminder asks for something. */
  isReminded: boolean;
  /** Whether the list of drafts has changed. */
  draftsChanged: boolean;
  /** True when so much happened that only the newest part is sent: load again what is shown. */
  gap: boolean;
}
