import { Module } from '@nestjs/common';
import { SettingsModule } from '../settings/settings.module.js';
import { PeopleController } from './people.controller.js';
import { PeopleRepository } from './people.repository.js';

@Module({
  imports: [SettingsModule],
  controllers: [PeopleController],
  providers: [PeopleRepository],
  exports: [PeopleRepository],
})
export class PeopleModule {}
