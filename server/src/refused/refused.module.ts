import { Module } from '@nestjs/common';
import { RefusedController } from './refused.controller.js';
import { RefusedRepository } from './refused.repository.js';
import { RefusedService } from './refused.service.js';

/** Mail that was not taken. */
@Module({
  controllers: [RefusedController],
  providers: [RefusedRepository, RefusedService],
  exports: [RefusedService],
})
export class RefusedModule {}
