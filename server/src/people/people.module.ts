import { Module } from '@nestjs/common';
import { DeliveryModule } from '../delivery/delivery.module.js';
import { FollowupsModule } from '../followups/followups.module.js';
import { MessagesModule } from '../messages/messages.module.js';
import { SentModule } from '../sent/sent.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { ErasuresRepository } from './erasures.repository.js';
import { Merging } from './merging.js';
import { PeopleController } from './people.controller.js';
import { PeopleRepository } from './people.repository.js';
import { PeopleFilesController } from './peopleFiles.controller.js';
import { PeopleFiles } from './peopleFiles.js';
import { PeopleImport } from './peopleImport.js';
import { PersonDataController } from './personData.controller.js';
import { PersonDataRepository } from './personData.repository.js';
import { PersonDataService } from './personData.service.js';
import { ReadingController } from './reading.controller.js';
import { TagsRepository } from './tags.repository.js';

@Module({
  imports: [DeliveryModule, FollowupsModule, MessagesModule, SentModule, SettingsModule, TrackingModule],
  controllers: [PeopleFilesController, PeopleController, ReadingController, PersonDataController],
  providers: [
    Merging,
    PeopleFiles,
    PeopleImport,
    PeopleRepository,
    TagsRepository,
    PersonDataRepository,
    PersonDataService,
    ErasuresRepository,
  ],
  exports: [ErasuresRepository, PeopleFiles, PersonDataService],
})
export class PeopleModule {}
