import { Controller, Get, HttpCode, Post } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { CheckupView } from '@kiraku/core/contract';
import { CheckupService } from './checkup.service.js';

@ApiTags('check-up')
@Controller('api/check-up')
export class CheckupController {
  constructor(private readonly checkup: CheckupService) {}

  @Get()
  @ApiOperation({ summary: 'What works and what does not, as it was found last' })
  read(): CheckupView {
    return this.checkup.view();
  }

  @Post()
  @HttpCode(202)
  @ApiOperation({ summary: 'Check everything now' })
  check(): CheckupView {
    this.checkup.request();
    return this.checkup.view();
  }
}
