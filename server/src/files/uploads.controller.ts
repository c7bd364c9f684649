import { All, Controller, Req, Res } from '@nestjs/common';
import { ApiExcludeEndpoint } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { Uploads } from './uploads.js';

/** The way in for files: the tus protocol, whose verbs and headers are its own. */
@Controller('api/uploads')
export class UploadsController {
  constructor(private readonly uploads: Uploads) {}

  @All(['', '*id'])
  @ApiExcludeEndpoint()
  async handle(@Req() request: Request, @Res() response: Response): Promise<void> {
    await this.uploads.handle(request, response);
  }
}
