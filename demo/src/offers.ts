import type { INestApplication } from '@nestjs/common';
import { BLANK_CONTENT } from '@kiraku/core/message';
import { DEFAULT_PACE, roundContentOf } from '@kiraku/core/rounds';
import { HOUR, MINUTE } from '@kiraku/core/time';
import { OutboxService } from '@kiraku/server/delivery/outbox.service';
import { RecipientsRepository } from '@kiraku/server/messages/recipients.repository';
import { PeopleRepository } from '@kiraku/server/people/people.repository';
import { RoundSending } from '@kiraku/server/rounds/roundSending';
import { RoundsRepository } from '@kiraku/server/rounds/rounds.repository';
import { RoundsService } from '@kiraku/server/rounds/rounds.service';
import { clicked, opened, phone, replied, type Action } from './scenes.js';
import type { StoryClock } from './storyClock.js';
import { CAFES, OFFER_WORDINGS } from './story.js';
import { isAtWork } from './workingHours.js';

const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

const PER_HOUR = 2;
/** Who gets which wording follows from it. */
const SEED = 2;
/** The hours in which they leave, as early as none leaves while somebody looks at the demo for the first time. */
const MORNING = [9, 11] as const;
const AFTERNOON = [14, 16] as const;
const WORKDAYS_BEFORE = 2;

/** What became of an offer, by how long ago it was sent. */
type Acts = (ageMs: number) => Action[];

/** In the order in which they leave; of the later ones, and of some, there is no sign. */
const BECAME: readonly Acts[] = [
  (age) => [opened(age - 40 * MINUTE), clicked(age - 42 * MINUTE), opened(age - 3 * HOUR)],
  (age) => [
    opened(age - 25 * MINUTE, phone),
    replied(age - 2 * HOUR, 'That is just what we have been talking about. Wednesday after three would suit us.'),
  ],
  (age) => [opened(age - 5 * HOUR)],
  () => [],
  (age) => [
    clicked(age - 70 * MINUTE),
    replied(age - 90 * MINUTE, 'Could you send me a price for a room of that size first?'),
  ],
  (age) => [opened(age - 12 * MINUTE, phone), opened(age - 4 * HOUR)],
  () => [],
  (age) => [opened(age - 95 * MINUTE), clicked(age - 97 * MINUTE)],
];

/** An offer that has left, and what its recipient does with it. */
interface SentOffer {
  messageId: number;
  address: string;
  sentAt: number;
  acts: Acts;
}

/**
 * Offers the same to fourteen cafés in two wordings, each by itself, a few a day: begun two working days ago, and paused,
 * so that nothing more leaves before the story is told.
 */
export async function offerToCafes(
  app: INestApplication,
  clock: StoryClock,
  now: number,
): Promise<{ roundId: number; sent: SentOffer[] }> {
  const [fromHour, toHour] = hoursAwayFrom(now);
  clock.at = workdayBefore(now, WORKDAYS_BEFORE).setHours(fromHour - 1, 40, 0, 0);
  meet(app, clock.at);
  const rounds = app.get(RoundsService);
  const id = rounds.add({
    ...{ name: 'Quieter cafés, this month', draftId: null, personIds: [], columns: ['Seats'], zone: ZONE },
    recipients: CAFES.map(({ name, address, seats }) => ({ name, address, cells: [seats] })),
  });
  // The same story each time: dealt anew by this when it is saved.
  app.get(RoundsRepository).set(id, { seed: SEED });
  rounds.save(id, 1, {
    ...roundContentOf(BLANK_CONTENT),
    ...{ name: 'Quieter cafés, this month', recentDays: 14, decideAt: null, disclose: true },
    wordings: OFFER_WORDINGS,
    pace: { ...DEFAULT_PACE, perHour: PER_HOUR, fromHour, toHour, zone: ZONE },
  });
  const sending = app.get(RoundSending);
  await sending.move(id, 'start');
  for (let next = nextOf(rounds, id); next !== undefined && next <= now - HOUR; next = nextOf(rounds, id)) {
    clock.at = next;
    await sending.leaveDue();
    await app.get(OutboxService).drained();
  }
  await sending.move(id, 'pause');
  const left = rounds
    .view(id)
    .members.filter(({ state }) => state === 'sent')
    .sort((a, b) => a.summary!.sentAt! - b.summary!.sentAt!);
  const sent = left.map(({ messageId, recipient, summary }, index) => ({
    ...{ messageId, address: recipient.address, sentAt: summary!.sentAt! },
    // Nothing is done before it is time.
    acts: (ageMs: number) => (BECAME[index]?.(ageMs) ?? []).filter((action) => action.ageMs > MINUTE),
  }));
  return { roundId: id, sent };
}

function nextOf(rounds: RoundsService, id: number): number | undefined {
  const times = rounds.view(id).members.flatMap(({ state, sendAt }) => (state === 'scheduled' ? [sendAt!] : []));
  return times.length > 0 ? Math.min(...times) : undefined;
}

function meet(app: INestApplication, now: number): void {
  const recipients = app.get(RecipientsRepository);
  const people = app.get(PeopleRepository);
  for (const { name, address, company } of CAFES) {
    const id = recipients.ensure({ name, address }, now);
    people.set(id, { company, phone: '', zone: '' });
  }
}

function hoursAwayFrom(now: number): readonly [number, number] {
  return new Date(now).getHours() < MORNING[1] + 1 ? AFTERNOON : MORNING;
}

/** Noon of a working day so many before the one of a time. */
function workdayBefore(now: number, days: number): Date {
  const date = new Date(now);
  date.setHours(12, 0, 0, 0);
  for (let left = days; left > 0;) {
    date.setDate(date.getDate() - 1);
    if (isAtWork(date.getTime())) left -= 1;
  }
  return date;
}
