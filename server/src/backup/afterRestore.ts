import { Inject, Injectable } from '@nestjs/common';
import { CONFIG, type Config } from '../environment/config.js';
import { ErasuresRepository } from '../people/erasures.repository.js';
import { PersonDataService } from '../people/personData.service.js';
import { HoldingBack } from './holdingBack.js';
import { readRestored, removeRestored } from './restoredNote.js';

/**
 * What must come before all else on a data folder that was restored: what was on its way is held back, and who was erased
 * since the backup was made is erased again.
 */
@Injectable()
export class AfterRestore {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly holding: HoldingBack,
    private readonly erasures: ErasuresRepository,
    private readonly people: PersonDataService,
  ) {}

  /** Call it before anything is sent. Killed meanwhile, it is done again after the next start. */
  finish(): void {
    const restored = readRestored(this.config);
    if (!restored) return;
    this.holding.holdBack(restored.at);
    for (const personId of this.erasures.peopleOf(new Set(restored.erased))) this.people.erase(personId);
    removeRestored(this.config);
  }
}
