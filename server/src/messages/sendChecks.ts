import { Injectable } from '@nestjs/common';
import type { Draft, Recurrence } from '@kiraku/core/contract';
import { sendTimeProblem } from '@kiraku/core/delivery';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { nextOccurrence, recurrenceProblem } from '@kiraku/core/time';
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
    checkSendable(draft, this.files.checkCarried(draft.files));
    this.followups.checkFree(draft);
  }
}

/** @throws 422 where nothing repeats by this rule from then on */
export function checkRecurrence(recurrence: Recurrence, sendAt: number): void {
  const problem =
    recurrenceProblem(recurrence) ??
    (nextOccurrence(recurrence, sendAt)
      ? null
      : 'By this rule it would be sent only once. Choose another, or send it once.');
  if (problem) throw invalid(problem, [{ field: 'recurrence', message: problem }]);
}

/**
 * A time at which a message can leave.
 *
 * @throws 422 where it cannot
 */
export function checkedTime(at: number, now: number): number {
  const problem = sendTimeProblem(at, now);
  if (problem) throw invalid(problem, [{ field: 'at', message: problem }]);
  return at;
}

/** What one press of Send may put into the outbox, over all copies; a copy is a little longer than its message. */
const MAX_COMPOSED_BYTES = 200_000_000;
const COPY_OVERHEAD = 1.5;

function checkSendable(draft: Draft, attachedBytes: number): void {
  if (draft.recipients.length === 0)
    throw invalid('Add a recipient.', [{ field: 'recipients', message: 'Add a recipient.' }]);
  if (draft.subject.trim() === '' && draft.files.length === 0 && isEmptyBody(draft.html))
    throw invalid('Write a subject or a message first.', [{ field: 'html', message: 'There is nothing in it yet.' }]);
  const bytes = Buffer.byteLength(draft.html) + attachedBytes;
  if (bytes * COPY_OVERHEAD * draft.recipients.length > MAX_COMPOSED_BYTES)
    throw invalid(
      'The message is too large for so many recipients. Send its files as links, or to fewer people at a time.',
    );
  const links = planInstrumenting(draft.html).links.length;
  if (links > MESSAGE_LIMITS.maxLinks)
    throw invalid(`The message has ${links} links; at most ${MESSAGE_LIMITS.maxLinks} are possible. Remove some.`);
}
