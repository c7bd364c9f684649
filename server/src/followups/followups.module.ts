import { Module } from '@nestjs/common';
import { FollowupsRepository } from './followups.repository.js';
import { FollowupsService } from './followups.service.js';

/** What is known of follow-ups before there are messages; whoever sends them is in FollowingModule. */
@Module({ providers: [FollowupsRepository, FollowupsService], exports: [FollowupsRepository, FollowupsService] })
export class FollowupsModule {}
