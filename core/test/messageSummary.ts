import type { MessageSummary } from '@kiraku/core/contract';
import { EMPTY_TALLY } from '@kiraku/core/tracking';

/** A message to one person that was sent, and what is different about it. */
export function messageSummary(change: Partial<MessageSummary> = {}): MessageSummary {
  return {
    ...{ id: 1, state: 'sent', subject: 'Quieter lunch hours', origin: 'written', company: 'Café Ostinato' },
    recipients: [{ kind: 'to', name: 'Tomas Berane', address: 'tomas@ostinato.example' }],
    ...{ untrackedReason: null, recurrence: null, trackOpens: true, trackClicks: true, forgottenAt: null },
    ...{ queuedAt: 0, sendAt: null, sentAt: 0, lastActivityAt: 0, tally: EMPTY_TALLY, trailEvents: [] },
    ...{ lastError: null, lastActor: null, firstReplier: null, withoutSign: 0 },
    ...{ muted: false, archived: false, hasNote: false },
    ...change,
  };
}
