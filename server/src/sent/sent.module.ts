import { Module } from '@nestjs/common';
import { MessagesModule } from '../messages/messages.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { ListController } from './list.controller.js';
import { ListRepository } from './list.repository.js';
import { ListService } from './list.service.js';
import { SavedViewsController } from './savedViews.controller.js';
import { SavedViewsRepository } from './savedViews.repository.js';
import { SearchIndex } from './searchIndex.js';
import { SearchRepository } from './search.repository.js';

@Module({
  imports: [MessagesModule, SettingsModule],
  controllers: [ListController, SavedViewsController],
  providers: [ListRepository, ListService, SavedViewsRepository, SearchIndex, SearchRepository],
  exports: [ListRepository, ListService, SearchRepository],
})
export class SentModule {}
