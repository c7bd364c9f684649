import { Injectable } from '@nestjs/common';
import { PeopleRepository, type PersonRowStored } from './people.repository.js';
import { writeCards, writeCsv, type Entry } from './sheets.js';
import { TagsRepository } from './tags.repository.js';

const PEOPLE_PER_CHUNK = 500;

/** Everybody, in files that other programs read; read as they are wanted. */
@Injectable()
export class PeopleFiles {
  constructor(
    private readonly people: PeopleRepository,
    private readonly tags: TagsRepository,
  ) {}

  /** As a sheet (RFC 4180). */
  csv(): Generator<string> {
    return this.parts((people, isFirst) => writeCsv(people, isFirst));
  }

  /** As cards (vCard 4, RFC 6350). */
  cards(): Generator<string> {
    return this.parts(writeCards);
  }

  private *parts(write: (people: Entry[], isFirst: boolean) => string): Generator<string> {
    for (let last = 0, isFirst = true; ; isFirst = false) {
      const people = this.people.after(last, PEOPLE_PER_CHUNK);
      const tags = this.tags.of(people.map(({ id }) => id));
      const entries = people.map((person) => entryOf(person, tags.get(person.id) ?? []));
      if (people.length > 0 || isFirst) yield write(entries, isFirst);
      if (people.length < PEOPLE_PER_CHUNK) return;
      last = people.at(-1)!.id;
    }
  }
}

function entryOf({ name, address, company, phone, zone, note, doNotTrack }: PersonRowStored, tags: string[]): Entry {
  return { name, address, company, phone, zone, note, tags: tags.join(', '), doNotTrack: doNotTrack ? 'yes' : '' };
}
