import type { IncomingMessage, ServerResponse } from 'node:http';
import type { PublicKind } from '@kiraku/core/tracking';
import type { PublicHit } from '../tracking/arrival.js';

/** Somebody on the public site: what they ask for, and what is known of them. */
export interface Visit {
  request: IncomingMessage;
  response: ServerResponse;
  kind: PublicKind;
  token: string;
  /** All of a hit but what it is taken for. */
  facts: Omit<PublicHit, 'target' | 'token'>;
}
