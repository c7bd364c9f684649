import { Injectable } from '@nestjs/common';
import type { Disposition, IncomingKind, IncomingVerdict } from '@kiraku/core/contract';
import { arrivalsFirst } from '@kiraku/core/delivery';
import type { Candidate, DeliveryReport, Reply } from '@kiraku/core/incoming';
import { AUTOMATIC_REPLY, PERHAPS_AUTOMATIC } from '@kiraku/core/tracking';
import { DeliveryService } from '../delivery/delivery.service.js';
import { FollowupsService } from '../followups/followups.service.js';
import { invalid, notFound } from '../http/problem.js';
import { SentService } from '../messages/sent.service.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { Recorder } from '../tracking/recorder.js';
import { IncomingRepository } from './incoming.repository.js';

/** Why a reply does not count by itself. */
const NOT_COUNTED: Partial<Record<Reply['kind'], string>> = {
  automatic: AUTOMATIC_REPLY.name,
  'perhaps-automatic': PERHAPS_AUTOMATIC.name,
};

/** What follows from a mail that came back. Call it in the transaction in which that is written down. */
@Injectable()
export class Consequences {
  constructor(
    private readonly inbox: IncomingRepository,
    private readonly delivery: DeliveryService,
    private readonly recorder: Recorder,
    private readonly followups: FollowupsService,
    private readonly sent: SentService,
    private readonly unit: UnitOfWork,
  ) {}

  delivered(copy: Candidate, reports: readonly DeliveryReport[], incomingId: number, at: number): void {
    for (const { action, addresses, words } of arrivalsFirst(reports)) {
      const event = { kind: 'reported', action, words, address: addresses.at(-1)! } as const;
      this.delivery.apply(copy, event, at, incomingId);
    }
  }

  read({ copyId }: Candidate, disposition: Disposition, incomingId: number, at: number): void {
    this.inbox.setMdnState(copyId, disposition);
    this.recorder.recordPlain({ kind: 'receipt', at, copyId, incomingId });
  }

  replied(
    { messageId, copyId, doubt }: { messageId: number; copyId: number | null; doubt: string | null },
    kind: Reply['kind'],
    incomingId: number,
    at: number,
  ): void {
    const reason = NOT_COUNTED[kind];
    if (copyId !== null)
      this.recorder.recordPlain({ kind: 'replied', at, copyId, incomingId, ...(reason && { reason }) });
    // A doubtful one makes plans wait until the user has said whether it is one.
    if (kind === 'reply' && doubt === null) this.followups.replied(this.sent.conversationIds(messageId));
  }

  /**
   * Says of a doubtful reply whether it is one. One that is ends what waits for a reply; one that is not counts as none.
   *
   * @param copyId whose it is, where that was not known
   * @throws 404 where there is no such reply, 422 where it is not said whose it is
   */
  decide(id: number, verdict: IncomingVerdict, copyId: number | null = null): void {
    const row = this.inbox.row(id);
    if (!row || !isReply(row.kind) || row.doubt === null) throw notFound('doubtful reply');
    const whose = row.copyId ?? (verdict === 'confirmed' ? copyId : null);
    if (row.copyId === null && copyId !== null && !this.inbox.isCopyOf(copyId, row.messageId))
      throw notFound('recipient');
    if (verdict === 'confirmed' && whose === null) throw invalid('Say whose reply it is.');
    this.unit.commit(() => {
      this.inbox.setVerdict(id, verdict, whose);
      if (row.copyId === null && whose !== null)
        this.recorder.recordPlain({ kind: 'replied', at: row.at, copyId: whose, incomingId: id });
      this.recorder.setReplyCounted(id, verdict === 'confirmed');
      if (verdict === 'confirmed') this.followups.replied(this.sent.conversationIds(row.messageId));
      this.unit.note({ messageId: row.messageId });
    });
  }
}

function isReply(kind: IncomingKind): boolean {
  return kind === 'reply' || kind === 'perhaps-automatic';
}
