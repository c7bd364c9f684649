import { Injectable } from '@nestjs/common';
import type { DraftContent, Mailbox } from '@kiraku/core/contract';
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

  addMember(round: StoredRound, { position, wording, mailbox, columns }: NewMember): void {
    const content = this.contentOf(round, wording, mailbox, columns);
    const draft = this.messages.addDraft(content, this.accounts.sender(), this.clock.now(), round.id);
    this.rounds.addMember({ messageId: draft.id, position, wording, columns, filledRevision: draft.revision });
  }

  /** Fills a message in anew, unless it was changed by hand or is not a draft. */
  fill(round: StoredRound, { messageId, revision, filledRevision, wording, recipients, columns }: MemberRow): void {
    if (revision !== filledRevision) return;
    const content = this.contentOf(round, wording, recipients[0]!, columns);
    const saved = this.messages.saveDraft(messageId, revision, content, this.clock.now());
    if (saved) this.rounds.setMember(messageId, { filledRevision: saved.revision });
  }

  /** Gives those who wait the wording that was chosen for the rest; those with a time keep it. */
  giveRest(round: StoredRound): void {
    const wording = round.restWording!;
    const now = this.clock.now();
    for (const member of this.rounds.members(round.id)) {
      const { messageId, state, revision, filledRevision, sendAt } = member;
      const mayChange = (state === 'draft' || state === 'scheduled') && revision === filledRevision;
      if (!mayChange || member.wording === wording) continue;
      // Of whom that wording needs to know more than is known, keep theirs.
      if (unfilledOf(this.contentOf(round, wording, member.recipients[0]!, member.columns)).length > 0) continue;
      if (state === 'scheduled') this.messages.recall(messageId, now);
      this.rounds.setMember(messageId, { wording, isRest: true });
      this.fill(round, { ...member, wording });
      if (sendAt !== null) this.schedule(messageId, sendAt);
    }
  }

  /** Lets a draft of a round leave at a time. */
  schedule(messageId: number, sendAt: number): void {
    const { revision } = this.messages.draft(messageId)!;
    this.messages.schedule(messageId, revision, this.accounts.sender(), { sendAt, recurrence: null }, this.clock.now());
  }

  /** How the outgoing mail server receives a round. */
  verdictOf({ id, startedAt }: StoredRound) {
    const newest = this.rounds.handOvers(id, startedAt ?? 0, RECENT_HAND_OVERS);
    const refused = newest.find(({ handOver }) => handOver === 'refused');
    return { ...providerVerdict(newest.map(({ handOver }) => handOver)), words: refused?.lastError ?? null };
  }

  private contentOf(
    { id, wordings, content }: StoredRound,
    wording: number,
    mailbox: Mailbox,
    columns: Record<string, string>,
  ): DraftContent {
    const { subject, html } = wordings[wording]!;
    const facts = this.rounds.facts([mailbox.address], id).get(addressKey(mailbox.address));
    const recipient = { name: mailbox.name || facts?.name || '', address: mailbox.address };
    const known = { recipient, company: facts?.company ?? '', sender: this.accounts.sender(), columns };
    return {
      ...BLANK_CONTENT,
      ...content,
      recipients: [{ kind: 'to', ...recipient }],
      subject: oneLine(fillPlaceholders(subject, known)),
      // What is filled in can part tags that stood around it.
      html: cleanBody(fillPlaceholders(html, known, escapeHtml)),
    };
  }
}

/** The placeholders of a message that could not be filled. */
export function unfilledOf({ subject, html }: Pick<DraftContent, 'subject' | 'html'>): string[] {
  return placeholdersIn(`${subject}\n${bodyText(html)}`);
}

/** What is filled in must not begin another header field. */
function oneLine(text: string): string {
  return text.replace(/[\p{Cc}\u2028\u2029\u202a-\u202e\u2066-\u2069\s]+/gu, ' ').trim();
}
