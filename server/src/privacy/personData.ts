import { Injectable } from '@nestjs/common';
import { secondsText } from '@kiraku/core/sentences';
import type { PersonData } from '@kiraku/core/contract';
import { exactWords } from '@kiraku/core/time';
import { FollowupsService } from '../followups/followups.service.js';
import { Changes } from '../store/changes.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { Recorder } from '../tracking/recorder.js';
import { PersonDataRepository } from './personData.repository.js';

/** What is known of one person: given out on request, and erased on request. */
@Injectable()
export class PersonDataService {
  constructor(
    private readonly data: PersonDataRepository,
    private readonly recorder: Recorder,
    private readonly followups: FollowupsService,
    private readonly changes: Changes,
    private readonly unit: UnitOfWork,
  ) {}

  /** Who somebody is; undefined where there is nobody by this number. */
  person(personId: number): PersonData['person'] | undefined {
    return this.data.person(personId);
  }

  /** Everything that is known of somebody; undefined where there is nobody by this number. */
  read(personId: number): PersonData | undefined {
    const person = this.data.person(personId);
    if (!person) return undefined;
    const { data } = this;
    return {
      person,
      messages: data.messages(personId),
      incoming: data.incoming(personId),
      events: data.events(personId),
    };
  }

  /**
   * Erases a person: messages to them alone go whole; from messages to several, their name, address and everything that
   * they did. What is written in messages to others is not searched.
   *
   * @returns false where there is nobody by this number
   */
  erase(personId: number): boolean {
    const person = this.data.person(personId);
    if (!person) return false;
    this.unit.commit(() => {
      this.followups.endedFor(personId, 'Its recipient was erased');
      for (const address of this.data.merged(personId)) {
        this.eraseAddress(personId, address.address);
        this.data.erasePerson(address.id);
      }
      this.eraseAddress(personId, person.address);
      this.data.erasePerson(personId);
      this.changes.note('drafts');
    });
    this.data.shred();
    return true;
  }

  private eraseAddress(personId: number, address: string): void {
    const concerned = this.data.concerned(personId, address);
    this.data.eraseMailOf(address);
    this.data.eraseMessages(concerned.filter(({ recipients }) => recipients.length <= 1).map(({ id }) => id));
    for (const { id, recipients } of concerned.filter((message) => message.recipients.length > 1)) {
      this.data.eraseFrom(id, personId, recipients, address);
      this.recorder.recount(id);
      this.changes.note({ messageId: id });
    }
  }
}

/** The same for somebody to read. */
export function personDataText({ person, messages, incoming, events }: PersonData): string {
  const at = (time: number | null) => (time === null ? 'not sent' : exactWords(time, 'UTC'));
  return [
    `What is known about ${person.name || person.address}`,
    '',
    `Address: ${person.address}`,
    ...(person.company ? [`Company: ${person.company}`] : []),
    ...(person.phone ? [`Phone: ${person.phone}`] : []),
    ...(person.zone ? [`Time zone: ${person.zone}`] : []),
    ...(person.note ? [`Note: ${person.note}`] : []),
    `Known since: ${at(person.createdAt)}`,
    `Tracking: ${person.optedOutAt ? `opted out on ${at(person.optedOutAt)}` : person.doNotTrack ? 'switched off' : 'allowed'}`,
    '',
    `Messages (${messages.length}):`,
    ...messages.map(({ sentAt, subject, as }) => `- ${at(sentAt)}: “${subject}” (${as})`),
    '',
    `Replies and receipts (${incoming.length}):`,
    ...incoming.map(({ at: time, kind, subject, words }) => `- ${at(time)}: ${kind}, “${subject}”: ${words}`),
    '',
    `Activity (${events.length}; times are UTC):`,
    ...events.map(({ at: time, kind, subject, link, file, page, readMs, givenAddress, ip, userAgent, place, reason }) =>
      [
        `- ${at(time)}: ${kind.replaceAll('_', ' ')}, “${subject}”`,
        link,
        file && `“${file}”`,
        page && `page ${page}`,
        readMs && `for ${secondsText(readMs)}`,
        givenAddress && `gave the address ${givenAddress}`,
        ip && `from ${ip}`,
        place,
        userAgent,
        reason && `not counted: ${reason}`,
      ]
        .filter(Boolean)
        .join('; '),
    ),
    '',
  ].join('\n');
}
