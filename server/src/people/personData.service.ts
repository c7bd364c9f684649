import { Injectable } from '@nestjs/common';
import { Subject } from 'rxjs';
import type { PersonData } from '@kiraku/core/contract';
import { FollowupsService } from '../followups/followups.service.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { LinkFiles } from '../tracking/linkFiles.js';
import { Recorder } from '../tracking/recorder.js';
import { ErasuresRepository } from './erasures.repository.js';
import { PeopleImport } from './peopleImport.js';
import { PersonDataRepository } from './personData.repository.js';

/** What is known of one person: given out on request, and erased on request. */
@Injectable()
export class PersonDataService {
  constructor(
    private readonly data: PersonDataRepository,
    private readonly erasures: ErasuresRepository,
    private readonly recorder: Recorder,
    private readonly followups: FollowupsService,
    private readonly imports: PeopleImport,
    private readonly linkFiles: LinkFiles,
    private readonly unit: UnitOfWork,
  ) {}

  /** Says each time that somebody was erased. */
  readonly erased = new Subject<void>();

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
        this.imports.forget(address.id);
      }
      this.eraseAddress(personId, person.address);
      this.data.erasePerson(personId);
      this.imports.forget(personId);
      this.unit.note('drafts');
    });
    this.data.shred();
    this.linkFiles.renew();
    this.erased.next();
    return true;
  }

  private eraseAddress(personId: number, address: string): void {
    this.erasures.note(address);
    const concerned = this.data.concerned(personId, address);
    this.data.eraseMailOf(address);
    this.data.eraseMessages(concerned.filter(({ recipients }) => recipients.length <= 1).map(({ id }) => id));
    for (const { id, recipients } of concerned.filter((message) => message.recipients.length > 1)) {
      this.data.eraseFrom(id, personId, recipients, address);
      this.recorder.recount(id);
      this.unit.note({ messageId: id });
    }
  }
}
