import type { DeliveryAction } from '../contract/incoming.js';
import { codeIn, failingOf, failingWords, type Failing } from './enhancedStatus.js';
import { readFields, typedAddress, type Fields } from './fields.js';
import { messageIdsIn, type ReceivedMail } from './received.js';

/** What was said of one recipient. */
export interface DeliveryReport {
  action: DeliveryAction;
  /** The addresses by which the recipient is named: as they were written to, and as the server knows them. */
  addresses: string[];
  /** Why it was not delivered, or not yet; null for what was. */
  failing: Failing | null;
  words: string;
}

/** Word of a delivery, and what it names the mail by. */
export interface DeliveryStatus {
  /** Message-IDs of the mail that it is about. */
  about: string[];
  recipients: DeliveryReport[];
}

const ACTIONS: Record<string, DeliveryAction> = {
  delivered: 'delivered',
  relayed: 'relayed',
  expanded: 'expanded',
  delayed: 'delayed',
  failed: 'failed',
};

/**
 * Reads a delivery status notification: by the standard (RFC 3464), else as servers write that hold to none. Null for
 * what is no such thing.
 */
export function readDeliveryStatus(mail: ReceivedMail): DeliveryStatus | null {
  const report = mail.reports.find(({ mediaType }) => /^message\/(global-)?delivery-status$/.test(mediaType));
  return report ? byStandard(mail, report.text) : byWords(mail);
}

function byStandard(mail: ReceivedMail, text: string): DeliveryStatus {
  const [first, ...rest] = readFields(text);
  // Some leave out the block about the mail itself.
  const blocks = first?.has('action') ? [first, ...rest] : rest;
  const envelope = first?.get('original-envelope-id');
  return {
    about: [...(envelope ? messageIdsIn(`<${decodeXtext(envelope).replace(/[<>]/g, '')}>`) : []), ...aboutOf(mail)],
    recipients: blocks.flatMap((block) => recipientOf(block, mail)),
  };
}

function recipientOf(block: Fields, mail: ReceivedMail): DeliveryReport[] {
  const action = ACTIONS[(block.get('action') ?? '').toLowerCase().replace(/[^a-z].*$/, '')];
  const addresses = ['original-recipient', 'final-recipient'].flatMap((name) => typedAddress(block.get(name)) ?? []);
  if (!action || addresses.length === 0) return [];
  // “smtp; 550 5.1.1 No such user”: the type is of no use to anybody.
  const said = (block.get('diagnostic-code') ?? '').replace(/^[\w-]+\s*;\s*/, '');
  const code = codeIn(block.get('status') ?? '') || codeIn(said);
  const server = (block.get('remote-mta') ?? block.get('reporting-mta') ?? '').replace(/^[\w-]+\s*;\s*/, '');
  const failing = action === 'failed' || action === 'delayed' ? failingOf(code, said || mail.subject) : null;
  const words = failing ? failureText(action, failing, said) : deliveredWords(action, server);
  return [{ action, addresses: addresses.map(decodeXtext), failing, words }];
}

function failureText(action: DeliveryAction, failing: Failing, said: string): string {
  const words = failingWords(failing, said);
  return action === 'delayed' ? `Not delivered yet, and being tried again: ${words}` : words;
}

function deliveredWords(action: DeliveryAction, server: string): string {
  const by = server === '' ? '' : ` by ${server}`;
  if (action === 'delivered') return `Delivered to their mailbox${by}.`;
  return action === 'relayed'
    ? `Passed on${by} to a server that sends no receipts.`
    : `Delivered${by} to everybody behind this address.`;
}

/** Who reports failures in words of their own. */
const REPORTERS = /^(mailer-daemon|postmaster|mail-?daemon|bounces?|mdaemon|no-?reply-?bounce)\b/i;
const FAILED =
  /(undeliver|deliver(y|ed)?.{0,20}(fail|problem|error|status|not)|could ?n.?[o']?t be delivered|returned (mail|to sender)|failure notice|mail delivery|non-?delivery|unzustellbar|zustell.{0,20}fehl|non remis|no entregado|niet bezorgd|kunde inte levereras)/i;
const DELAYED = /(delay|not yet been delivered|still (being )?tr(y|ied)|will (keep|be) (trying|retried)|warning:)/i;
const ADDRESS = /[\w.!#$%&'*+/=?^`{|}~-]+@[\w-]+(\.[\w-]+)+/g;

/** A failure that was reported without the standard’s parts. What it is about, what it returns must show. */
function byWords(mail: ReceivedMail): DeliveryStatus | null {
  const isReporter = mail.returnPath === '' || REPORTERS.test(mail.from.address);
  const beginning = `${mail.subject}
${mail.text.slice(0, MAX_REPORT_CHARS)}`;
  if (!isReporter || !(FAILED.test(beginning) || DELAYED.test(mail.subject))) return null;
  const about = aboutOf(mail);
  // What is said of the failure comes before what is returned.
  const said = mail.text
    .slice(0, MAX_REPORT_CHARS)
    .split(/^-{3,}.*(original|copy|below).*$|^Received:|^Return-Path:/im)[0]!;
  const lines = said.split('\n').filter((line) => /\b[45]\d\d\b|\b[45]\.\d{1,3}\.\d{1,3}\b/.test(line));
  const reason = lines[0]?.trim() ?? '';
  const action = DELAYED.test(mail.subject) ? 'delayed' : 'failed';
  const listed = mail.headers.get('x-failed-recipients') ?? '';
  const addresses = [...new Set([...listed.matchAll(ADDRESS), ...said.matchAll(ADDRESS)].map(([address]) => address))];
  const failing = failingOf(codeIn(reason), reason === '' ? said : reason);
  return { about, recipients: [{ action, addresses, failing, words: failureText(action, failing, reason) }] };
}

const MAX_REPORT_CHARS = 20_000;

/** The Message-ID of what is returned, else what the report follows. */
function aboutOf({ returned, text, references }: ReceivedMail): string[] {
  const own = (from: string) => /^[ \t>]*message-id:\s*(\S+)/im.exec(from)?.[1] ?? '';
  return [...messageIdsIn(own(returned)), ...messageIdsIn(own(text.slice(0, MAX_REPORT_CHARS))), ...references];
}

/** RFC 3461, section 4: “+2B” stands for a plus sign. */
function decodeXtext(text: string): string {
  return text.replace(/\+([0-9A-F]{2})/g, (_whole, hex: string) => String.fromCharCode(parseInt(hex, 16)));
}
