import { Module } from '@nestjs/common';
import { FollowupsModule } from '../followups/followups.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { EventsController } from './events.controller.js';
import { EventsRepository } from './events.repository.js';
import { LinkFiles } from './linkFiles.js';
import { LinksRepository } from './links.repository.js';
import { OptOutsRepository } from './optOuts.repository.js';
import { Judging } from './judging.js';
import { JudgingController } from './judging.controller.js';
import { JudgingSettings } from './judging.settings.js';
import { NetworksController } from './networks.controller.js';
import { NetworksRepository } from './networks.repository.js';
import { OptOuts } from './optOuts.js';
import { OwnBrowsers } from './ownBrowsers.js';
import { Recorder } from './recorder.js';

@Module({
  imports: [FollowupsModule, SettingsModule],
  controllers: [EventsController, JudgingController, NetworksController],
  providers: [
    EventsRepository,
    Judging,
    JudgingSettings,
    LinkFiles,
    LinksRepository,
    NetworksRepository,
    OptOuts,
    OptOutsRepository,
    OwnBrowsers,
    Recorder,
  ],
  exports: [EventsRepository, LinkFiles, NetworksRepository, Recorder],
})
export class TrackingModule {}
