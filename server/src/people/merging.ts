import { Injectable } from '@nestjs/common';
import { MAX_TAGS } from '@kiraku/core/people';
import { invalid, notFound } from '../http/problem.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { PeopleRepository, type PersonRowStored } from './people.repository.js';
import { TagsRepository } from './tags.repository.js';

/** Makes two addresses one person, and two people of them again. */
@Injectable()
export class Merging {
  constructor(
    private readonly people: PeopleRepository,
    private readonly tags: TagsRepository,
    private readonly unit: UnitOfWork,
  ) {}

  /** Makes `id` another address of `into`, with everything that was sent there. What `into` lacks is taken over. */
  merge(id: number, into: number): void {
    if (id === into) throw invalid('These are merged already.');
    this.unit.commit(() => {
      const [other, main] = [this.find(id), this.find(into)];
      for (const { id: address } of this.people.merged(id)) this.people.set(address, { mergedInto: into });
      this.people.set(id, { mergedInto: into, messages: 0, earlierMessages: 0, earlierContactAt: null });
      this.people.set(into, {
        name: main.name || other.name,
        company: main.company || other.company,
        phone: main.phone || other.phone,
        zone: main.zone || other.zone,
        note: [main.note, other.note].filter(Boolean).join('\n'),
        messages: main.messages + other.messages,
        earlierMessages: main.earlierMessages + other.earlierMessages,
        earlierContactAt: Math.max(main.earlierContactAt ?? 0, other.earlierContactAt ?? 0) || null,
        // Who declined at one address declined.
        doNotTrack: main.doNotTrack || other.doNotTrack,
        optedOutAt: main.optedOutAt ?? other.optedOutAt,
      });
      const tags = this.tags.of([into, id]);
      this.tags.set(into, [...(tags.get(into) ?? []), ...(tags.get(id) ?? [])].slice(0, MAX_TAGS));
      this.note(this.people.moveCopies(id, into, null));
    });
  }

  /** Makes an address a person of its own again, with what was sent there. */
  unmerge(id: number, from: number): void {
    this.unit.commit(() => {
      const main = this.find(from);
      const address = this.people.merged(from).find((one) => one.id === id);
      if (!address) throw notFound('address of this person');
      const moved = this.people.moveCopies(from, id, address.address);
      this.people.set(id, { mergedInto: null, messages: moved.length });
      this.people.set(from, { messages: Math.max(0, main.messages - moved.length) });
      this.note(moved);
    });
  }

  private find(id: number): PersonRowStored {
    const person = this.people.find(id);
    if (!person) throw notFound('person');
    return person;
  }

  private note(messageIds: number[]): void {
    for (const messageId of messageIds) this.unit.note({ messageId });
  }
}
