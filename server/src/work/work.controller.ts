import { Controller, Get } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { HealthView } from '@kiraku/core/contract';
import { Processes } from './processes.js';
import { Works } from './works.js';

@ApiTags('health')
@Controller('api/health')
export class WorkController {
  constructor(
    private readonly works: Works,
    private readonly processes: Processes,
  ) {}

  @Get()
  @ApiOperation({
    summary: 'What goes on by itself: when each ran last and runs next, why one failed, and what was started again',
  })
  read(): HealthView {
    const work = this.works.views();
    const state = this.processes.view();
    const isFailing = work.some(({ lastError }) => lastError !== null) || state.notRecorded !== null;
    return { status: isFailing ? 'failing' : 'ok', work, ...state };
  }
}
