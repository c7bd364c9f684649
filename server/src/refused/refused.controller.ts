import { Controller, Delete, Get, Header, HttpCode, Param, ParseIntPipe, Query, StreamableFile } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsIn } from 'class-validator';
import { REFUSED_WAYS, type RefusedMail, type RefusedWay } from '@kiraku/core/contract';
import { notFound } from '../http/problem.js';
import { Sends } from '../http/sends.js';
import { RefusedRepository } from './refused.repository.js';

class WayDto {
  @ApiProperty({ enum: REFUSED_WAYS })
  @IsIn(REFUSED_WAYS)
  way: RefusedWay;
}

@ApiTags('sending')
@Controller('api/refused-mails')
export class RefusedController {
  constructor(private readonly refused: RefusedRepository) {}

  @Get()
  @ApiOperation({ summary: 'Mails that were submitted or delivered, and not accepted; the newest first' })
  list(@Query() { way }: WayDto): RefusedMail[] {
    return this.refused.list(way);
  }

  @Get(':id/original.eml')
  @Sends('message/rfc822')
  @Header('Content-Disposition', 'attachment; filename="original.eml"')
  @ApiOperation({ summary: 'Such a mail as it came' })
  original(@Param('id', ParseIntPipe) id: number): StreamableFile {
    const raw = this.refused.original(id);
    if (!raw) throw notFound('original');
    return new StreamableFile(raw);
  }

  @Delete(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Delete such a mail' })
  remove(@Param('id', ParseIntPipe) id: number): void {
    if (!this.refused.remove(id)) throw notFound('message');
  }
}
