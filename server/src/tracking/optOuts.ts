import { Inject, Injectable, Logger } from '@nestjs/common';
import { HOUR } from '@kiraku/core/time';
import { FollowupsService } from '../followups/followups.service.js';
import { isFaultOfEntry } from '../journal/faults.js';
import { Positions, type Position } from '../journal/positions.repository.js';
import { DATABASE, type Database } from '../store/database.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import type { PublicChoice } from './arrival.js';
import { EventWriter } from './eventWriter.js';
import { OptOutsRepository } from './optOuts.repository.js';

/** Recipients who would rather not be tracked: they are written to without, and nothing they do is recorded. */
@Injectable()
export class OptOuts {
  private readonly logger = new Logger(OptOuts.name);
  private readonly positions: Positions;
  private readonly writer: EventWriter;

  constructor(
    @Inject(DATABASE) database: Database,
    private readonly recipients: OptOutsRepository,
    private readonly followups: FollowupsService,
    private readonly unit: UnitOfWork,
  ) {
    this.positions = new Positions(database);
    this.writer = new EventWriter(database);
  }

  /**
   * Acts on what a recipient has decided, and moves the journal’s position past it.
   *
   * @returns null when that is durable; in words why it is not, and is to be tried again
   */
  apply({ choice, from, to }: { choice: PublicChoice; from: Position; to: Position }): string | null {
    try {
      this.unit.commit(() => {
        this.act(choice);
        this.positions.move(from, to);
      });
      return null;
    } catch (error) {
      if (isFaultOfEntry(error)) return this.leaveOut(error, from, to);
      return String(error);
    }
  }

  /** Acts on what a recipient has decided. */
  decide(choice: PublicChoice): void {
    this.unit.commit(() => this.act(choice));
  }

  private act({ choice, token, at }: PublicChoice): void {
    const found = this.recipients.recipientOf(token);
    if (!found) return;
    const { copyId, personId, optedOutAt } = found;
    if (choice === 'allow' && optedOutAt !== null) this.recipients.optOut(personId, null);
    if (choice === 'decline' && optedOutAt === null) this.decline(copyId, personId, at);
  }

  /** Once and for good. */
  private decline(copyId: number, personId: number, at: number): void {
    // Whoever changes their mind to and fro is written down once an hour.
    if (!this.recipients.hasOptedOutSince(copyId, at - HOUR)) this.writer.write({ kind: 'opted_out', at, copyId });
    this.recipients.optOut(personId, at);
    this.followups.endedFor(personId, 'They opted out of tracking');
  }

  private leaveOut(error: unknown, from: Position, to: Position): string | null {
    this.logger.error('A choice of a recipient could not be acted on', error instanceof Error ? error.stack : '');
    try {
      this.unit.commit(() => this.positions.move(from, to));
      return null;
    } catch (again) {
      return String(again);
    }
  }
}
