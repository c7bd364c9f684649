import { All, Controller, Delete, Head, HttpCode, Patch, Post, Req, Res } from '@nestjs/common';
import {
  ApiConsumes,
  ApiExcludeEndpoint,
  ApiHeader,
  ApiNoContentResponse,
  ApiOkResponse,
  ApiOperation,
  ApiParam,
  ApiTags,
} from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { Uploads } from './uploads.js';

const VERSION = { name: 'Tus-Resumable', required: true, schema: { type: 'string', enum: ['1.0.0'] } };
const OFFSET = { 'Upload-Offset': { description: 'How many bytes are here', schema: { type: 'integer' } } } as const;

/** The way in for files: the tus protocol, whose verbs and headers are its own. */
@ApiTags('files')
@Controller('api/uploads')
export class UploadsController {
  constructor(private readonly uploads: Uploads) {}

  @Post()
  @HttpCode(201)
  @ApiOperation({ summary: 'Begin an upload (tus 1.0.0, creation): Location says where its bytes go' })
  @ApiHeader(VERSION)
  @ApiHeader({ name: 'Upload-Length', required: true, description: 'How many bytes will come' })
  @ApiHeader({
    name: 'Upload-Metadata',
    required: true,
    description: 'filename, and fileId where it is a newer version',
  })
  begin(@Req() request: Request, @Res() response: Response): Promise<void> {
    return this.uploads.handle(request, response);
  }

  @Head(':id')
  @ApiOperation({ summary: 'How far an upload has come' })
  @ApiParam({ name: 'id', type: String })
  @ApiHeader(VERSION)
  @ApiOkResponse({ headers: OFFSET })
  look(@Req() request: Request, @Res() response: Response): Promise<void> {
    return this.uploads.handle(request, response);
  }

  @Patch(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Bytes of an upload, from where it has come; with the last ones, 200 and the file' })
  @ApiParam({ name: 'id', type: String })
  @ApiHeader(VERSION)
  @ApiHeader({ name: 'Upload-Offset', required: true })
  @ApiConsumes('application/offset+octet-stream')
  @ApiNoContentResponse({ description: 'More is to come', headers: OFFSET })
  @ApiOkResponse({
    description: 'All is here: the file as the library has it',
    content: { 'application/json': { schema: { $ref: '#/components/schemas/FileView' } } },
  })
  add(@Req() request: Request, @Res() response: Response): Promise<void> {
    return this.uploads.handle(request, response);
  }

  @Delete(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Break an upload off' })
  @ApiParam({ name: 'id', type: String })
  @ApiHeader(VERSION)
  end(@Req() request: Request, @Res() response: Response): Promise<void> {
    return this.uploads.handle(request, response);
  }

  /** OPTIONS, and what the protocol refuses. */
  @All(['', '*id'])
  @ApiExcludeEndpoint()
  other(@Req() request: Request, @Res() response: Response): Promise<void> {
    return this.uploads.handle(request, response);
  }
}
