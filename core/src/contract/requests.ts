import type { AccountView, DkimView } from './account.js';
import type { DraftReminder } from './draftFollowup.js';
import type { IncomingVerdict, MailboxView } from './incoming.js';
import type { ListAction, SavedView } from './list.js';
import type { DraftContent, Recurrence, SignatureView, TemplateView } from './message.js';
import type { Columns, SheetFormat } from './person.js';
import type { PersonData } from './privacy.js';

/** What the page asks with; what it asks for stands beside what that is about. */

export interface SetUpRequest {
  /** The code that the terminal shows. */
  code: string;
  passphrase: string;
  /** Who sends. The outgoing server may be named later. */
  account: Pick<AccountRequest, 'name' | 'address'> & Partial<AccountRequest>;
}
/** Without a password the stored one stays. */
export type AccountRequest = Omit<AccountView, 'hasSmtpPassword'> & { smtpPassword?: string };
/** The code is asked for where codes are in use: the one that the phone shows, or one of the recovery codes. */
export interface SignInRequest {
  passphrase: string;
  code?: string;
}
export interface PassphraseRequest {
  current: string;
  next: string;
}
/** Without a password the stored one stays. */
export type MailboxRequest = Omit<MailboxView, 'hasPassword' | 'lmtpPort' | 'state' | 'unmatched'> & {
  password?: string;
  unmatched?: MailboxView['unmatched'];
};
export type DkimRequest = Pick<DkimView, 'domain' | 'selector'>;

/** A browser, as its push service knows it (RFC 8030, RFC 8291). Keys are base64url. */
export interface PushDeviceRequest {
  name: string;
  endpoint: string;
  p256dh: string;
  auth: string;
}

/** Saves that name the revision they started from. */
export type SaveDraftRequest = DraftContent & { revision: number };
export interface SendRequest {
  revision: number;
  /** When it is to leave; at once where left out. */
  at?: number;
  recurrence?: Recurrence;
}
export interface RescheduleRequest {
  /** Now where left out. */
  at?: number;
}
export interface RetryRequest {
  /** As it should have been; the same as before where left out. */
  address?: string;
}
export interface ReplyRequest {
  /** To the recipient of one copy alone; null for everybody. */
  copyId: number | null;
}
export type SignatureRequest = Omit<SignatureView, 'id'>;
export type TemplateRequest = Omit<TemplateView, 'id' | 'updatedAt'>;
export type TemplateFolderRequest = Pick<TemplateView, 'folder'>;

export interface ListActionRequest {
  ids: number[];
  action: ListAction;
}
export type SavedViewRequest = Pick<SavedView, 'name' | 'query'>;
export type StartViewRequest = Pick<SavedView, 'isStart'>;

/** One reminder for each message, or one about a person, or about nothing. */
export interface NewReminderRequest extends DraftReminder {
  messageIds: number[];
  personId: number | null;
}
export interface RestoreReminderRequest {
  /** When it was due, in epoch milliseconds. */
  dueAt: number;
}
export type SnoozeReminderRequest = Pick<DraftReminder, 'when' | 'zone'>;
export interface StepRequest {
  when?: string;
  zone?: string;
  templateId?: number;
}
export interface VerdictRequest {
  verdict: IncomingVerdict;
  /** Whose reply it is, where that was not known. */
  copyId?: number;
}
export interface OverrideRequest {
  /** Null takes the user’s word back. */
  counted: boolean | null;
}

/** Only what was changed: what another window has changed meanwhile stays. */
export type PersonRequest = Partial<
  Pick<PersonData['person'], 'name' | 'company' | 'phone' | 'zone' | 'note' | 'tags'> & { muted: boolean }
>;
export interface RecipientsRequest {
  /** To whom a message is to go. */
  addresses: string[];
}
export interface SnoozePersonRequest {
  /** Epoch milliseconds; null proposes them again. */
  until: number | null;
}
export interface ResolvePersonRequest {
  /** True: resolved up to now; false: undone. */
  resolved: boolean;
}
export interface ResolveRecipientsRequest extends ResolvePersonRequest {
  messageId: number;
}
export interface MergeRequest {
  into: number;
}
export interface ImportRequest {
  format: SheetFormat;
  text: string;
  /** Null to guess from the heads. */
  columns: Columns | null;
  /** Whether to do it, or only to say what would become of each. */
  apply: boolean;
}
