import { Injectable, Logger } from '@nestjs/common';
import type { RefusedWay } from '@kiraku/core/contract';
import { Clock } from '../environment/clock.js';
import { fieldValue } from '../mime/header.js';
import { RefusedRepository } from './refused.repository.js';

/** A mail that is not taken, as far as it came. */
export interface Refused {
  way: RefusedWay;
  from: string;
  to: readonly string[];
  problem: string;
  raw: Buffer | null;
}

const MAX_ORIGINAL_BYTES = 10_000_000;
const MAX_HEADER_BYTES = 64 * 1024;
const MAX_REFUSED_FIELD_CHARS = 300;
const MAX_RECIPIENTS_NAMED = 5;

/** Nothing that is not taken goes without a word: it stands in the log, and in the page, with the original to save. */
@Injectable()
export class RefusedService {
  private readonly logger = new Logger('RefusedMail');

  constructor(
    private readonly repository: RefusedRepository,
    private readonly clock: Clock,
  ) {}

  note({ way, from, to, problem, raw }: Refused): void {
    const named = to.slice(0, MAX_RECIPIENTS_NAMED).join(', ');
    const toAddress =
      to.length > MAX_RECIPIENTS_NAMED ? `${named} and ${to.length - MAX_RECIPIENTS_NAMED} more` : named;
    const subject = fieldValue(raw?.toString('latin1', 0, MAX_HEADER_BYTES) ?? '', 'Subject') ?? '';
    this.logger.warn(`A message of ${from || 'nobody'} was not taken (${way}): ${problem}`);
    this.repository.add({
      at: this.clock.now(),
      way,
      fromAddress: from,
      toAddress,
      problem,
      subject: subject.slice(0, MAX_REFUSED_FIELD_CHARS),
      raw: raw !== null && raw.length <= MAX_ORIGINAL_BYTES ? raw : null,
    });
  }
}
