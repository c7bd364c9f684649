import { Controller, Get, Query } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { ReportView, SubjectOutcome } from '@kiraku/core/contract';
import { ReportFilterQuery } from '../sent/list.dto.js';
import { ReportsService } from './reports.service.js';

@ApiTags('reports')
@Controller('api/reports')
export class ReportsController {
  constructor(private readonly reports: ReportsService) {}

  @Get()
  @ApiOperation({
    summary: 'What can be learnt from messages that were sent: shares with their intervals, times, templates',
  })
  report(@Query() filter: ReportFilterQuery): Promise<ReportView> {
    return this.reports.report(filter);
  }

  @Get('subjects')
  @ApiOperation({
    summary: 'Subjects that several of these messages have, the most used first, and what became of them',
  })
  subjects(@Query() filter: ReportFilterQuery): Promise<SubjectOutcome[]> {
    return this.reports.subjects(filter);
  }
}
