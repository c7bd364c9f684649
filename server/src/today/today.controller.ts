import { Controller, Get } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { TodayView } from '@kiraku/core/contract';
import { TodayService } from './today.service.js';

@ApiTags('today')
@Controller('api/today')
export class TodayController {
  constructor(private readonly today: TodayService) {}

  @Get()
  @ApiOperation({ summary: 'Whom to get in touch with now, and why; and what shows no sign' })
  view(): TodayView {
    return this.today.view();
  }
}
