import { Injectable } from '@nestjs/common';
import type { TrailEvent, Proposal, TodayView } from '@kiraku/core/contract';
import { filterOf, NO_SIGN_VIEW } from '@kiraku/core/sent';
import { DAY } from '@kiraku/core/time';
import { scoreOf, signalsOf } from '@kiraku/core/today';
import { passedOn, type ReaderHit } from '@kiraku/core/tracking';
import { Clock } from '../environment/clock.js';
import { SummariesRepository } from '../messages/summaries.repository.js';
import { ListRepository } from '../sent/list.repository.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { TodayRepository, type Busy } from './today.repository.js';

/** What happened longer ago suggests nothing for today. */
const RECENT_ACTIVITY_MS = 8 * DAY;
/** Of more messages than these the oldest events are not looked at. */
const MAX_ACTIVE_MESSAGES = 100;
const MAX_PROPOSALS = 12;

type Scored = Omit<Proposal, 'message'> & { messageId: number };

/** Answers whom to get in touch with now, and what shows no sign. */
@Injectable()
export class TodayService {
  constructor(
    private readonly today: TodayRepository,
    private readonly list: ListRepository,
    private readonly summaries: SummariesRepository,
    private readonly events: EventsRepository,
    private readonly clock: Clock,
  ) {}

  view(): TodayView {
    const now = this.clock.now();
    const busy = this.today.busy(now - RECENT_ACTIVITY_MS, now, MAX_ACTIVE_MESSAGES);
    const activity = this.events.counted([...new Set(busy.map(({ messageId }) => messageId))]);
    const scored = bestOfEach(busy.flatMap((one) => score(one, activity.get(one.copyId) ?? [], now)));
    const noSign = filterOf(NO_SIGN_VIEW, now, 'UTC');
    return {
      proposals: this.withMessages(scored.slice(0, MAX_PROPOSALS)),
      more: Math.max(0, scored.length - MAX_PROPOSALS),
      noSignTotal: this.list.count(noSign, now),
    };
  }

  private withMessages(scored: Scored[]): Proposal[] {
    const summaries = this.summaries.of(scored.map(({ messageId }) => messageId));
    const byId = new Map(summaries.map((summary) => [summary.id, summary]));
    return scored.map(({ messageId, ...rest }) => ({ ...rest, message: byId.get(messageId)! }));
  }
}

function score(
  { messageId, copyId, repliedAt, person, resolvedAt }: Busy,
  activity: (TrailEvent & ReaderHit)[],
  now: number,
): Scored[] {
  const trailEvents = activity.filter((mark) => mark.at > (resolvedAt ?? 0));
  const parts = signalsOf({ trailEvents, repliedAt, passedOn: passedOn(activity) }, now);
  if (parts.length === 0) return [];
  return [{ messageId, copyId, person, parts, score: scoreOf(parts), lastAt: trailEvents.at(-1)!.at }];
}

/** One line for each person: what weighs most of what they do. */
function bestOfEach(scored: Scored[]): Scored[] {
  const best = new Map<number, Scored>();
  for (const one of scored) {
    const known = best.get(one.person.id);
    if (!known || one.score > known.score) best.set(one.person.id, one);
  }
  return [...best.values()].sort((a, b) => b.score - a.score || b.lastAt - a.lastAt);
}
