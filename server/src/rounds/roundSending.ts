import { Injectable, Logger } from '@nestjs/common';
import { LEAVE_RETRY_MS, OVERDUE_MS } from '@kiraku/core/delivery';
import { decidedWording, gapOf, ROUND_MOVES, type RoundMove } from '@kiraku/core/rounds';
import { refusedReason } from '@kiraku/core/sentences';
import { Clock } from '../environment/clock.js';
import { notFound, ProblemException } from '../http/problem.js';
import { Leaving } from '../messages/leaving.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { RoundPlanning } from './roundPlanning.js';
import { RoundTexts } from './roundTexts.js';
import { RoundsRepository, type StoredRound } from './rounds.repository.js';

/** Between two looks at rounds that follow commits: by these it is known how the mail server received the last ones. */
const ROUNDS_COMMIT_PAUSE_MS = 500;

/**
 * Lets the messages of rounds leave by their pace. Each is a message in the state `scheduled` until it leaves, so that
 * what is killed at any moment goes on where it was: nobody gets it twice, and nobody is forgotten.
 */
@Injectable()
export class RoundSending {
  private readonly logger = new Logger(RoundSending.name);
  private readonly due: DueWork;
  /** When the last message of a round left; unknown after a start. */
  private readonly lastLeftAt = new Map<number, number>();

  constructor(
    private readonly rounds: RoundsRepository,
    private readonly planning: RoundPlanning,
    private readonly texts: RoundTexts,
    private readonly leaving: Leaving,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
    works: Works,
  ) {
    this.due = works.add({
      name: 'rounds',
      commitPauseMs: ROUNDS_COMMIT_PAUSE_MS,
      run: (stopping) => this.run(stopping),
    });
  }

  /**
   * Starts, pauses, resumes or stops a round.
   *
   * @throws 409 where it does not stand so that this is possible, 422 where one of its messages cannot be sent
   */
  async move(id: number, move: RoundMove): Promise<void> {
    this.unit.commit(() => {
      const round = this.rounds.find(id);
      if (!round) throw notFound('round');
      const { from, to } = ROUND_MOVES[move];
      if (!(from as readonly string[]).includes(round.state))
        throw new ProblemException(409, 'Not possible now', 'This round was started, paused or stopped elsewhere.');
      if (to === 'running') this.begin(round);
      else this.halt(round, to, null);
    });
    await this.leaveDue();
  }

  /** Pauses all that are under way. Call it in the transaction that says why. */
  pauseAll(reason: string): void {
    for (const round of this.rounds.running()) this.halt(round, 'paused', reason);
  }

  /** Lets leave what is due. Resolves when it has left, or waits. */
  leaveDue(): Promise<void> {
    this.due.wake();
    return this.due.idle();
  }

  private begin(round: StoredRound): void {
    const startedAt = this.clock.now();
    this.rounds.set(round.id, { state: 'running', pauseReason: null, startedAt });
    this.planning.schedule({ ...round, startedAt });
    this.unit.note('drafts');
  }

  private halt(round: StoredRound, state: 'paused' | 'stopped', pauseReason: string | null): void {
    this.rounds.set(round.id, { state, pauseReason });
    this.planning.recall(round);
    this.unit.note('drafts');
  }

  private async run(stopping: AbortSignal): Promise<number | null> {
    const nexts: number[] = [];
    for (const { id } of this.rounds.running()) {
      const next = await this.proceed(id, stopping);
      if (next !== null) nexts.push(next);
    }
    return nexts.length > 0 ? Math.min(...nexts) : null;
  }

  /** Lets leave what is due of one round. Returns when the next is; null where none is, or a commit must come first. */
  private async proceed(id: number, stopping: AbortSignal): Promise<number | null> {
    while (!stopping.aborted) {
      // It can be paused, and resumed, while one leaves.
      const round = this.rounds.find(id);
      if (round?.state !== 'running') return null;
      this.decide(round);
      const { slowedBy, mustWait, mustPause, words } = this.texts.verdictOf(round);
      if (mustPause) {
        this.unit.commit(() => this.halt(round, 'paused', refusedReason(words)));
        return null;
      }
      const now = this.clock.now();
      const next = this.rounds.nextScheduled(round.id);
      if (!next) return null;
      if (now - next.sendAt > OVERDUE_MS) {
        this.unit.commit(() => this.planning.moveOn(round));
        continue;
      }
      const dueAt = Math.max(next.sendAt, this.earliest(round, slowedBy));
      if (dueAt > now) return dueAt;
      if (mustWait) return null;
      await this.leave(round, next);
    }
    return null;
  }

  /** Before that, the pace forbids it that the mail server made slower. */
  private earliest({ id, pace }: StoredRound, slowedBy: number): number {
    const lastLeftAt = this.lastLeftAt.get(id);
    return slowedBy > 1 && lastLeftAt !== undefined ? lastLeftAt + gapOf(pace, slowedBy) : 0;
  }

  private async leave(
    { id }: StoredRound,
    { messageId, sendAt, recipients }: NonNullable<ReturnType<RoundsRepository['nextScheduled']>>,
  ): Promise<void> {
    // Whoever has opted out since gets it no more, from this moment on.
    if (this.rounds.optedOut(recipients.map(({ address }) => address)).size > 0)
      return this.unit.commit(() => {
        this.planning.leaveOut(messageId);
        this.unit.note({ messageId });
      });
    try {
      await this.leaving.leave(messageId, sendAt);
      this.lastLeftAt.set(id, this.clock.now());
    } catch (error) {
      this.logger.error(`Message ${messageId} could not leave`, error instanceof Error ? error.stack : String(error));
      this.unit.commit(() => this.planning.postpone(messageId, this.clock.now() + LEAVE_RETRY_MS));
    }
  }

  /** Once it can be said which wording is better, the rest gets it, where that was chosen. */
  private decide(round: StoredRound): void {
    if (round.restWording !== null || round.decideAt === null) return;
    const wording = decidedWording(this.rounds.results(round.id, round.wordings.length), round.decideAt);
    if (wording === null) return;
    this.unit.commit(() => {
      this.rounds.set(round.id, { restWording: wording });
      this.texts.giveRest({ ...round, restWording: wording });
    });
  }
}
