import { pipeline } from 'node:stream/promises';
import { Controller, Get, Logger, Res } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { SendsItself } from '../http/sends.js';
import { ArchiveService } from './archive.service.js';

@ApiTags('export')
@Controller('api/export')
export class ArchiveController {
  private readonly logger = new Logger(ArchiveController.name);

  constructor(private readonly archive: ArchiveService) {}

  @Get('archive.zip')
  @SendsItself('application/zip')
  @ApiOperation({ summary: 'Everything in open formats, with a README inside' })
  async read(@Res() response: Response): Promise<void> {
    response.attachment('kiraku.zip').type('application/zip');
    await pipeline(this.archive.read(), response).catch((error: NodeJS.ErrnoException) => {
      // A reader who goes away in the middle is no fault.
      if (error.code !== 'ERR_STREAM_PREMATURE_CLOSE') this.logger.error('Archive', error.stack);
    });
  }
}
