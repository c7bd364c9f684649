import { randomInt } from 'node:crypto';
import { group } from 'd3-array';
import { Injectable } from '@nestjs/common';
import type {
  AddRoundRequest,
  Mailbox,
  RoundMember,
  RoundPlan,
  RoundRecipients,
  RoundRow,
  RoundView,
} from '@kiraku/core/contract';
import { ROUND_LIMITS } from '@kiraku/core/contract';
import { hasLeft } from '@kiraku/core/delivery';
import { addressKey, addressProblem, BLANK_CONTENT } from '@kiraku/core/message';
import {
  assignWordings,
  compareWordings,
  DEFAULT_PACE,
  isOf,
  paceProblem,
  roundContentOf,
  stateOf,
  warningsOf,
} from '@kiraku/core/rounds';
import { Clock } from '../environment/clock.js';
import { invalid, notFound, ProblemException } from '../http/problem.js';
import { DraftsService } from '../messages/drafts.service.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import { SummariesRepository } from '../messages/summaries.repository.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { RoundTexts, unfilledOf } from './roundTexts.js';
import { RoundsRepository, type MemberRow, type StoredRound } from './rounds.repository.js';

/** What was written to within a fortnight is pointed out where nobody has chosen otherwise. */
const RECENT_DAYS = 14;
const MAX_SEED = 2 ** 31;
const NOBODY = { personId: null, name: '', company: '', zone: '', optedOut: false, doNotTrack: false };
const NEVER_WRITTEN_TO = { bounced: false, lastSentAt: null };

/** Rounds as they are prepared and shown; how they leave is `roundSending`. */
@Injectable()
export class RoundsService {
  constructor(
    private readonly rounds: RoundsRepository,
    private readonly texts: RoundTexts,
    private readonly messages: MessagesRepository,
    private readonly drafts: DraftsService,
    private readonly summaries: SummariesRepository,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  rows(): RoundRow[] {
    return this.rounds.rows().map((row) => ({ ...row, state: stateOf(row.state, row.waiting) }));
  }

  /**
   * Begins a round: of a draft, which becomes its text and whose recipients become its people, of people, and of others.
   *
   * @throws 404 where there is no such draft, 422 where there is nobody, or too many
   */
  add({ name, draftId, personIds, zone, ...sheet }: AddRoundRequest): number {
    const draft = draftId === null ? null : this.drafts.read(draftId);
    const content = draft ?? BLANK_CONTENT;
    const known = [...(draft?.recipients ?? []), ...this.rounds.mailboxes(personIds)];
    const people = [
      ...known.map(({ name: named, address }) => ({ name: named, address, columns: {} })),
      ...rowsOf(sheet),
    ];
    return this.unit.commit(() => {
      const id = this.rounds.add({
        name: name || content.subject || 'Round',
        state: 'preparing',
        wordings: [{ subject: content.subject, html: content.html }],
        content: roundContentOf(content),
        pace: { ...DEFAULT_PACE, zone },
        recentDays: RECENT_DAYS,
        decideAt: null,
        seed: randomInt(1, MAX_SEED),
        revision: 1,
        createdAt: this.clock.now(),
      });
      this.addPeople(id, people);
      if (draft) this.drafts.remove(draft.id);
      return id;
    });
  }

  /** Adds people to a round that has not begun. */
  addRecipients(id: number, sheet: RoundRecipients): void {
    this.unit.commit(() => {
      this.preparing(id);
      this.addPeople(id, rowsOf(sheet));
    });
  }

  /**
   * Writes down what a round is to say and when, and fills in every message that has not left and was not changed by hand.
   *
   * @throws 409 where another window was first, or while it runs; 422 where nothing could leave by its pace
   */
  save(id: number, revision: number, plan: RoundPlan): void {
    const problem = paceProblem(plan.pace);
    if (problem) throw invalid(problem, [{ field: 'pace', message: problem }]);
    const contents = plan.wordings.map((wording) =>
      this.drafts.cleaned({ ...BLANK_CONTENT, ...roundContentOf(plan), ...wording }),
    );
    const wordings = contents.map(({ subject, html }) => ({ subject, html }));
    const { name, pace, recentDays, decideAt } = plan;
    this.unit.commit(() => {
      const round = this.found(id);
      if (round.state === 'running') throw runs();
      if (round.revision !== revision) throw changedElsewhere();
      this.rounds.set(id, {
        ...{ name, wordings, pace, recentDays, decideAt, revision: revision + 1 },
        content: roundContentOf(contents[0]!),
        ...(round.restWording !== null && round.restWording >= wordings.length && { restWording: null }),
      });
      this.refill(id);
    });
  }

  /** Leaves people of a round out, or takes them in again; whose message has left is not asked. */
  leaveOut(id: number, messageIds: number[], leftOut: boolean): void {
    this.unit.commit(() => {
      this.found(id);
      const asked = new Set(messageIds);
      const waiting = this.rounds.members(id).filter((one) => asked.has(one.messageId) && !hasLeft(one));
      for (const { messageId, state } of waiting)
        if (state === 'scheduled') this.messages.recall(messageId, this.clock.now());
      this.rounds.setMembers(
        waiting.map(({ messageId }) => messageId),
        { leftOut },
      );
      this.unit.note('drafts');
    });
  }

  /** Gives everybody who waits one wording, besides those whose message was changed by hand. */
  chooseRest(id: number, wording: number): void {
    this.unit.commit(() => {
      const { wordings } = this.found(id);
      if (wording >= wordings.length) throw invalid('There is no such wording.');
      this.rounds.set(id, { restWording: wording });
      this.texts.giveRest(this.found(id));
    });
  }

  /** Deletes a round of which nothing has left yet, with its messages. */
  remove(id: number): void {
    this.unit.commit(() => {
      this.preparing(id);
      this.rounds.remove(id);
      this.unit.note('drafts');
    });
  }

  view(id: number): RoundView {
    const round = this.found(id);
    const rows = this.rounds.members(id);
    const members = this.membersOf(round, rows);
    const results = this.rounds.results(id, round.wordings.length);
    const waiting = members.filter(isOf.waiting).length;
    const { name, wordings, pace, recentDays, decideAt, pauseReason, createdAt, revision, restWording, content } =
      round;
    return {
      ...{ id, name, wordings, pace, recentDays, decideAt, pauseReason, createdAt, revision, restWording },
      ...content,
      state: stateOf(round.state, waiting),
      slowedBy: this.texts.verdictOf(round).slowedBy,
      columns: [...new Set(rows.flatMap(({ columns }) => Object.keys(columns)))],
      members,
      results,
      comparisons: compareWordings(results),
    };
  }

  private membersOf(round: StoredRound, rows: readonly MemberRow[]): RoundMember[] {
    const mailboxes = rows.map(({ recipients }) => recipients[0] ?? { name: '', address: '' });
    const people = this.rounds.people(mailboxes.map(({ address }) => address));
    const known = mailboxes.map(({ address }) => people.get(addressKey(address)) ?? NOBODY);
    const last = this.rounds.lastMessages(
      known.flatMap(({ personId }) => personId ?? []),
      round.id,
    );
    const facts = mailboxes.map(({ address }, index) => ({
      key: addressKey(address),
      ...known[index]!,
      ...(last.get(known[index]!.personId ?? 0) ?? NEVER_WRITTEN_TO),
    }));
    const warnings = warningsOf(facts, this.clock.now(), round.recentDays);
    const left = rows.filter(hasLeft).map(({ messageId }) => messageId);
    const summaries = new Map(this.summaries.of(left).map((summary) => [summary.id, summary]));
    return rows.map((row, index) => ({
      messageId: row.messageId,
      recipient: { name: mailboxes[index]!.name || known[index]!.name, address: mailboxes[index]!.address },
      company: known[index]!.company,
      personId: known[index]!.personId,
      wording: row.wording,
      isRest: row.isRest,
      edited: row.revision !== row.filledRevision,
      leftOut: row.leftOut,
      warnings: hasLeft(row) ? [] : warnings[index]!,
      unfilled: hasLeft(row) ? [] : unfilledOf(row),
      state: row.state,
      sendAt: row.sendAt,
      summary: summaries.get(row.messageId) ?? null,
    }));
  }

  private addPeople(id: number, people: readonly (Mailbox & { columns: Record<string, string> })[]): void {
    const round = this.found(id);
    const before = this.rounds.size(id);
    const total = before.people + people.length;
    if (total === 0) throw invalid('Choose somebody to whom the round goes.');
    if (total > ROUND_LIMITS.maxPeople)
      throw invalid(
        `A round goes to at most ${ROUND_LIMITS.maxPeople} people, and this would be ${total}. Begin another for the rest.`,
      );
    const wordings = assignWordings(before.nextPosition + people.length, round.wordings.length, round.seed);
    people.forEach(({ address }, index) => {
      const problem = addressProblem(address);
      if (problem) throw invalid(problem, [{ field: `recipients.${index}.address`, message: problem }]);
    });
    this.texts.addMembers(
      round,
      people.map(({ columns, ...mailbox }, index) => {
        const position = before.nextPosition + index;
        return { position, wording: wordings[position]!, mailbox, columns };
      }),
    );
    this.unit.note('drafts');
  }

  /** Who gets which wording follows from the seed alone: with another number of wordings, it is dealt anew. */
  private refill(id: number): void {
    const round = this.found(id);
    const drafts = this.rounds.members(id).filter(({ state }) => state === 'draft');
    const dealt = assignWordings(this.rounds.size(id).nextPosition, round.wordings.length, round.seed);
    const mayDeal = round.state === 'preparing';
    const wordingOf = ({ position, wording }: MemberRow) =>
      mayDeal ? dealt[position]! : Math.min(wording, round.wordings.length - 1);
    const members = drafts.map((member) => ({ ...member, wording: wordingOf(member) }));
    const dealtAnew = members.filter(({ wording }, index) => wording !== drafts[index]!.wording);
    for (const [wording, those] of group(dealtAnew, (one) => one.wording))
      this.rounds.setMembers(
        those.map(({ messageId }) => messageId),
        { wording },
      );
    this.texts.fill(round, members);
    this.unit.note('drafts');
  }

  private preparing(id: number): StoredRound {
    const round = this.found(id);
    if (round.state !== 'preparing')
      throw new ProblemException(409, 'Begun already', 'Messages of this round have left. Begin another round.');
    return round;
  }

  private found(id: number): StoredRound {
    const round = this.rounds.find(id);
    if (!round) throw notFound('round');
    return round;
  }
}

/** People with what else is known of them, by the names of the columns in lower case. */
function rowsOf({ columns, recipients }: RoundRecipients) {
  const names = columns.map((name) => name.trim().toLowerCase());
  return recipients.map(({ name, address, cells }) => ({
    name,
    address,
    columns: Object.fromEntries(names.map((column, index) => [column, cells[index] ?? ''])),
  }));
}

const runs = () =>
  new ProblemException(409, 'The round runs', 'Pause it first: while it runs, its messages leave as they stand.');

const changedElsewhere = () =>
  new ProblemException(409, 'Changed elsewhere', 'This round was changed in another window. Load it again.');
