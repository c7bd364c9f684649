import { Injectable } from '@nestjs/common';
import type { Draft, Recurrence } from '@kiraku/core/contract';
import { repeatProblem, sendProblem, sendTimeProblem } from '@kiraku/core/delivery';
import { planInstrumenting } from '@kiraku/core/tracking';
import { FilesService } from '../files/files.service.js';
import { FollowupsService } from '../followups/followups.service.js';
import { invalid } from '../http/problem.js';
import { isEmptyBody } from './messageBody.js';

/** Says why a draft cannot be sent. */
@Injectable()
export class SendChecks {
  constructor(
    private readonly files: FilesService,
    private readonly followups: FollowupsService,
  ) {}

  /** @throws 422 where it lacks something, is too large, or would follow somebody whom another plan follows */
  check(draft: Draft): void {
    const problem = sendProblem({
      recipients: draft.recipients.length,
      isEmpty: draft.subject.trim() === '' && draft.files.length === 0 && isEmptyBody(draft.html),
      bytes: Buffer.byteLength(draft.html) + this.files.checkCarried(draft.files),
      links: planInstrumenting(draft.html).links.length,
    });
    if (problem) throw refused(problem.detail, problem.field);
    this.followups.checkFree(draft);
  }
}

/** @throws 422 where nothing repeats by this rule from then on */
export function checkRecurrence(recurrence: Recurrence, sendAt: number): void {
  const problem = repeatProblem(recurrence, sendAt);
  if (problem) throw refused(problem, 'recurrence');
}

/**
 * A time at which a message can leave.
 *
 * @throws 422 where it cannot
 */
export function checkedTime(at: number, now: number): number {
  const problem = sendTimeProblem(at, now);
  if (problem) throw refused(problem, 'at');
  return at;
}

function refused(detail: string, field?: string) {
  return invalid(detail, field === undefined ? undefined : [{ field, message: detail }]);
}
