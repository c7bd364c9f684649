import { Module } from '@nestjs/common';
import { FilesModule } from '../files/files.module.js';
import { FollowingModule } from '../following/following.module.js';
import { MessagesModule } from '../messages/messages.module.js';
import { PeopleModule } from '../people/people.module.js';
import { ReportsModule } from '../reports/reports.module.js';
import { ArchiveController } from './archive.controller.js';
import { ArchiveRepository } from './archive.repository.js';
import { ArchiveService } from './archive.service.js';

/** Everything, to be taken elsewhere. */
@Module({
  imports: [FilesModule, FollowingModule, MessagesModule, PeopleModule, ReportsModule],
  controllers: [ArchiveController],
  providers: [ArchiveRepository, ArchiveService],
})
export class ArchiveModule {}
