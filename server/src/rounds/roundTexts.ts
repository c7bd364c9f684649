import { Injectable } from '@nestjs/common';
import type { DraftContent, Mailbox } from '@kiraku/core/contract';
import { hasLeft } from '@kiraku/core/delivery';
import { BLANK_CONTENT, escapeHtml, fillPlaceholders, addressKey, placeholdersIn } from '@kiraku/core/message';
import { providerVerdict, RECENT_HAND_OVERS } from '@kiraku/core/rounds';
import { Clock } from '../environment/clock.js';
import { bodyText, cleanBody } from '../messages/messageBody.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import { AccountService } from '../settings/account.service.js';
import { RoundsRepository, type MemberRow, type StoredRound } from './rounds.repository.js';

/** Somebody who is added to a round. */
interface NewMember {
  position: number;
  wording: number;
  mailbox: Mailbox;
  columns: Record<string, string>;
}

/** The message of each person of a round: its text filled with what is known of them, kept as a draft of its own. */
@Injectable()
export class RoundTexts {
  constructor(
    private readonly rounds: RoundsRepository,
    private readonly messages: MessagesRepository,
    private readonly accounts: AccountService,
    private readonly clock: Clock,
  ) {}

  addMembers(round: StoredRound, members: readonly NewMember[]): void {
    const contentOf = this.filling(round, members);
    const sender = this.accounts.sender();
    const rows = members.map(({ position, wording, mailbox, columns }) => {
      const content = contentOf(wording, mailbox, columns);
      const { id, revision } = this.messages.addDraft(content, sender, this.clock.now(), round.id);
      return { messageId: id, position, wording, columns, filledRevision: revision };
    });
    this.rounds.addMembers(rows);
  }

  /** Fills drafts in anew, besides those that were changed by hand. */
  fill(round: StoredRound, members: readonly MemberRow[]): void {
    const untouched = members.filter(isUntouched);
    const contentOf = this.filling(round, untouched);
    const filled = untouched.filter((member) => {
      const content = contentOf(member.wording, mailboxOf(member), member.columns);
      return this.messages.saveDraft(member.messageId, member.revision, content, this.clock.now());
    });
    this.rounds.noteFilled(filled.map(({ messageId }) => messageId));
  }

  /** Gives those who wait the wording that was chosen for the rest; those with a time keep it. */
  giveRest(round: StoredRound): void {
    const wording = round.restWording!;
    const others = this.rounds
      .members(round.id)
      .filter((member) => !hasLeft(member) && isUntouched(member) && member.wording !== wording);
    const contentOf = this.filling(round, others);
    // Of whom that wording needs to know more than is known, keep theirs.
    const rest = others.filter(
      (member) => unfilledOf(contentOf(wording, mailboxOf(member), member.columns)).length === 0,
    );
    for (const { messageId, state } of rest)
      if (state === 'scheduled') this.messages.recall(messageId, this.clock.now());
    this.rounds.setMembers(
      rest.map(({ messageId }) => messageId),
      { wording, isRest: true },
    );
    this.fill(
      round,
      rest.map((member) => ({ ...member, wording })),
    );
    this.schedule(rest.flatMap(({ messageId, sendAt }) => (sendAt === null ? [] : [{ messageId, sendAt }])));
  }

  /** Lets drafts of a round leave, each at its time. */
  schedule(times: readonly { messageId: number; sendAt: number }[]): void {
    const [sender, now] = [this.accounts.sender(), this.clock.now()];
    for (const { messageId, sendAt } of times) {
      const { revision } = this.messages.draft(messageId)!;
      this.messages.schedule(messageId, revision, sender, { sendAt, recurrence: null }, now);
    }
  }

  /** How the outgoing mail server receives a round. */
  verdictOf({ id, startedAt }: StoredRound) {
    const newest = this.rounds.handOvers(id, startedAt ?? 0, RECENT_HAND_OVERS);
    const refused = newest.find(({ handOver }) => handOver === 'refused');
    return { ...providerVerdict(newest.map(({ handOver }) => handOver)), words: refused?.lastError ?? null };
  }

  /** How a round is filled in for some people, of whom all that is known is read at once. */
  private filling({ wordings, content }: StoredRound, members: readonly (MemberRow | NewMember)[]) {
    const people = this.rounds.people(members.map((member) => mailboxOf(member).address));
    const sender = this.accounts.sender();
    return (wording: number, { name, address }: Mailbox, columns: Record<string, string>): DraftContent => {
      const { subject, html } = wordings[wording]!;
      const person = people.get(addressKey(address));
      const recipient = { name: name || person?.name || '', address };
      const known = { recipient, company: person?.company ?? '', sender, columns };
      return {
        ...BLANK_CONTENT,
        ...content,
        recipients: [{ kind: 'to', ...recipient }],
        subject: oneLine(fillPlaceholders(subject, known)),
        // What is filled in can part tags that stood around it.
        html: cleanBody(fillPlaceholders(html, known, escapeHtml)),
      };
    };
  }
}

/** The placeholders of a message that could not be filled. */
export function unfilledOf({ subject, html }: Pick<DraftContent, 'subject' | 'html'>): string[] {
  // To read the text of hundreds of messages takes a second.
  if (![subject, html].some((part) => part.includes('{'))) return [];
  return placeholdersIn(`${subject}\n${bodyText(html)}`);
}

function isUntouched({ revision, filledRevision }: MemberRow): boolean {
  return revision === filledRevision;
}

function mailboxOf(member: MemberRow | NewMember): Mailbox {
  return 'mailbox' in member ? member.mailbox : member.recipients[0]!;
}

/** What is filled in must not begin another header field. */
function oneLine(text: string): string {
  return text.replace(/[\p{Cc}\u2028\u2029\u202a-\u202e\u2066-\u2069\s]+/gu, ' ').trim();
}
