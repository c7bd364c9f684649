import { Controller, Get } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import { OpenToEverybody } from '../session/session.guard.js';

@ApiTags('health')
@OpenToEverybody()
@Controller('health')
export class HealthController {
  @Get()
  @ApiOperation({ summary: 'Ready to work' })
  read(): { status: 'ok' } {
    return { status: 'ok' };
  }
}
