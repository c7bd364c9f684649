import { Body, Controller, Delete, Get, HttpCode, Post, Put } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { Matches } from 'class-validator';
import type { DkimView, DkimRequest, Trial } from '@kiraku/core/contract';
import { notFound } from '../http/problem.js';
import { DkimService } from './dkim.service.js';
import { tryDkim } from './dkimTrial.js';

const LABEL = '[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?';

class DkimDto implements DkimRequest {
  @ApiProperty({ example: 'tallowreed.example' })
  @Matches(new RegExp(`^${LABEL}(\\.${LABEL})+$`), { message: 'The domain must be a name like company.example' })
  domain: string;

  @ApiProperty({ example: 'kiraku' })
  @Matches(new RegExp(`^${LABEL}(\\.${LABEL})*$`), { message: 'The selector must be a short name like mail2026' })
  selector: string;
}

@ApiTags('settings')
@Controller('api/settings/dkim')
export class DkimController {
  constructor(private readonly dkim: DkimService) {}

  @Get()
  @ApiOperation({
    summary: 'For which domain outgoing mail is signed, and the record to publish; null where it is not',
  })
  read(): { dkim: DkimView | null } {
    return { dkim: this.dkim.view() };
  }

  @Put()
  @ApiOperation({ summary: 'Sign outgoing mail with a new key' })
  start(@Body() { domain, selector }: DkimDto): { dkim: DkimView | null } {
    return { dkim: this.dkim.start(domain, selector) };
  }

  @Post('try')
  @HttpCode(200)
  @ApiOperation({ summary: 'Look in the DNS whether the record is published' })
  try(): Promise<Trial> {
    const view = this.dkim.view();
    if (!view) throw notFound('signature');
    return tryDkim(view);
  }

  @Delete()
  @HttpCode(204)
  @ApiOperation({ summary: 'Stop signing' })
  stop(): void {
    this.dkim.stop();
  }
}
