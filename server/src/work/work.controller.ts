import { Controller, Get } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { HealthView } from '@kiraku/core/contract';
import { Works } from './works.js';

@ApiTags('health')
@Controller('api/health')
export class WorkController {
  constructor(private readonly works: Works) {}

  @Get()
  @ApiOperation({ summary: 'What goes on by itself: when each ran last and runs next, and why one failed' })
  read(): HealthView {
    const work = this.works.views();
    return { status: work.some(({ lastError }) => lastError !== null) ? 'failing' : 'ok', work };
  }
}
