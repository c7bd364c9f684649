import { Controller, Get, Param, Post, Req, Res } from '@nestjs/common';
import { ApiConsumes, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { Clock } from '../clock.js';
import { invalid, notFound } from '../http/problem.js';
import { rawBody } from '../http/rawBody.js';
import { contentIdOf } from './messageBody.js';
import { PicturesRepository } from './pictures.repository.js';

/** By their first bytes: what every mail program shows, and none that can hold a script. */
const SIGNATURES: [mediaType: string, hex: RegExp][] = [
  ['image/png', /^89504e470d0a1a0a/],
  ['image/jpeg', /^ffd8ff/],
  ['image/gif', /^47494638(37|39)61/],
  ['image/webp', /^52494646.{8}57454250/],
];

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
    const mediaType = mediaTypeOf(bytes);
    if (!mediaType) throw invalid('This is no picture that mail programs show. Use PNG, JPEG, GIF or WebP.');
    return { url: `cid:${contentIdOf(this.pictures.add(mediaType, bytes, this.clock.now()))}` };
  }

  @Get(':id')
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

function mediaTypeOf(bytes: Buffer): string | undefined {
  const hex = bytes.subarray(0, 16).toString('hex');
  return SIGNATURES.find(([, signature]) => signature.test(hex))?.[0];
}
