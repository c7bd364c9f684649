import { Module } from '@nestjs/common';
import { CONFIG, type Config } from '../environment/config.js';
import { SettingsModule } from '../settings/settings.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { ContentStore } from './contentStore.js';
import { FilesController } from './files.controller.js';
import { FilesRepository } from './files.repository.js';
import { FilesService } from './files.service.js';
import { FilesSettings } from './files.settings.js';
import { Preparing } from './preparing.js';
import { Tidying } from './tidying.js';
import { Uploads } from './uploads.js';
import { UploadsController } from './uploads.controller.js';

/** A plain class: the public site, which knows no framework, has one as well. */
const CONTENT_STORE = {
  provide: ContentStore,
  inject: [CONFIG],
  useFactory: (config: Config) => new ContentStore(config),
};

@Module({
  imports: [SettingsModule, TrackingModule],
  controllers: [UploadsController, FilesController],
  providers: [CONTENT_STORE, FilesRepository, FilesService, FilesSettings, Preparing, Tidying, Uploads],
  exports: [ContentStore, FilesService, FilesSettings, Preparing, Tidying],
})
export class FilesModule {}
