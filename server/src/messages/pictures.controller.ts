import { Controller, Get, Param, Post, Req, Res } from '@nestjs/common';
import { ApiConsumes, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { fileTypeFromBuffer } from 'file-type';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { Clock } from '../environment/clock.js';
import { invalid, notFound } from '../http/problem.js';
import { SendsItself } from '../http/sends.js';
import { rawBody } from '../http/rawBody.js';
import { contentIdOf } from './messageBody.js';
import { PicturesRepository } from './pictures.repository.js';

/** What every mail program shows, and none that can hold a script. */
const SHOWN = new Set<string | undefined>(['image/png', 'image/jpeg', 'image/gif', 'image/webp']);

@ApiTags('drafts')
@Controller('api/pictures')
export class PicturesController {
  constructor(
    private readonly pictures: PicturesRepository,
    private readonly clock: Clock,
  ) {}

  @Post()
  @ApiConsumes('image/png', 'image/jpeg', 'image/gif', 'image/webp')
  @ApiOperation({
    summary: 'Keep a picture for messages; the body is the picture itself. Returns the address to show it by',
  })
  async add(@Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<{ url: string }> {
    const bytes = await rawBody(request, response, MESSAGE_LIMITS.maxPictureBytes);
    const mediaType = (await fileTypeFromBuffer(bytes))?.mime;
    if (mediaType === undefined || !SHOWN.has(mediaType))
      throw invalid('This is no picture that mail programs show. Use PNG, JPEG, GIF or WebP.');
    return { url: `cid:${contentIdOf(this.pictures.add(mediaType, bytes, this.clock.now()))}` };
  }

  @Get(':id')
  @SendsItself('image/*')
  @ApiOperation({ summary: 'A picture of a message' })
  read(@Param('id') id: string, @Res() response: Response): void {
    const [picture] = this.pictures.find([id]);
    if (!picture) throw notFound('picture');
    response
      .set({
        'Content-Type': picture.mediaType,
        'Cache-Control': 'private, max-age=31536000, immutable',
        'Content-Security-Policy': "default-src 'none'",
      })
      .send(picture.bytes);
  }
}
