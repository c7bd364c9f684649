import { Controller, Get, Query } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsIn, IsTimeZone } from 'class-validator';
import { REPORT_PERIODS, type ReportPeriod, type ReportView } from '@kiraku/core/contract';
import { periodStart, reportOf } from '@kiraku/core/reports';
import { Clock } from '../environment/clock.js';
import { ReportsRepository } from './reports.repository.js';

class ReportQuery {
  @ApiProperty({ enum: REPORT_PERIODS })
  @IsIn(REPORT_PERIODS)
  period: ReportPeriod;

  @ApiProperty({ description: 'The zone of weeks and hours, as an IANA name' })
  @IsTimeZone({ message: 'There is no such time zone' })
  zone: string;
}

@ApiTags('reports')
@Controller('api/reports')
export class ReportsController {
  constructor(
    private readonly reports: ReportsRepository,
    private readonly clock: Clock,
  ) {}

  @Get()
  @ApiOperation({ summary: 'What can be learnt from what was sent: shares with their intervals, times, templates' })
  report(@Query() { period, zone }: ReportQuery): ReportView {
    const now = this.clock.now();
    return reportOf(this.reports.messages(periodStart(period, now)), this.reports.templateNames(), now, zone);
  }
}
