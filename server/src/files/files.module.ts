import { Module } from '@nestjs/common';
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
import { Viewer } from './viewer.js';

@Module({
  imports: [SettingsModule, TrackingModule],
  controllers: [UploadsController, FilesController],
  providers: [ContentStore, FilesRepository, FilesService, FilesSettings, Preparing, Tidying, Uploads, Viewer],
  exports: [ContentStore, FilesService, FilesSettings, Preparing, Tidying],
})
export class FilesModule {}
