import { Module } from '@nestjs/common';
import { FollowupsModule } from '../followups/followups.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { PublicSite } from './publicSite.js';
import { EventsController } from './events.controller.js';
import { EventsRepository } from './events.repository.js';
import { OptOutsRepository } from './optOuts.repository.js';
import { Judging } from './judging.js';
import { JudgingController } from './judging.controller.js';
import { JudgingSettings } from './judging.settings.js';
import { OptOuts } from './optOuts.js';
import { OwnBrowsers } from './ownBrowsers.js';
import { Recorder } from './recorder.js';

@Module({
  imports: [FollowupsModule, SettingsModule],
  controllers: [EventsController, JudgingController],
  providers: [
    PublicSite,
    EventsRepository,
    Judging,
    JudgingSettings,
    OptOuts,
    OptOutsRepository,
    OwnBrowsers,
    Recorder,
  ],
  exports: [PublicSite, EventsRepository, Recorder],
})
export class TrackingModule {}
