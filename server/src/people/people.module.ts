import { Module } from '@nestjs/common';
import { SettingsModule } from '../settings/settings.module.js';
import { Merging } from './merging.js';
import { PeopleController } from './people.controller.js';
import { PeopleRepository } from './people.repository.js';
import { PeopleFilesController } from './peopleFiles.controller.js';
import { PeopleImport } from './peopleImport.js';

@Module({
  imports: [SettingsModule],
  controllers: [PeopleFilesController, PeopleController],
  providers: [Merging, PeopleImport, PeopleRepository],
  exports: [PeopleRepository],
})
export class PeopleModule {}
