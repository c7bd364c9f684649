import {
  Body,
  Controller,
  Delete,
  Get,
  Header,
  HttpCode,
  Param,
  ParseIntPipe,
  Post,
  Put,
  Query,
  Req,
  Res,
  StreamableFile,
} from '@nestjs/common';
import { ApiConsumes, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import type { Draft, DraftsPage, Preview } from '@kiraku/core/contract';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { PageQuery } from '../http/paging.js';
import { rawBody } from '../http/rawBody.js';
import { Sends } from '../http/sends.js';
import { DraftDto, SaveDraftDto } from './drafts.dto.js';
import { DraftsService } from './drafts.service.js';
import { MailsService } from './mails.service.js';
import { PreviewService } from './preview.service.js';

@ApiTags('drafts')
@Controller('api/drafts')
export class DraftsController {
  constructor(
    private readonly drafts: DraftsService,
    private readonly mails: MailsService,
    private readonly previews: PreviewService,
  ) {}

  @Get()
  @ApiOperation({ summary: 'Drafts, last written first' })
  page(@Query() query: PageQuery): DraftsPage {
    return this.drafts.page(query);
  }

  @Post('eml')
  @ApiConsumes('message/rfc822')
  @ApiOperation({ summary: 'Open a mail (RFC 5322) as a new draft; the body is the mail itself' })
  async open(
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<{ draft: Draft; leftOut: string[] }> {
    return this.mails.open(await rawBody(request, response, MESSAGE_LIMITS.maxMailBytes));
  }

  @Get(':id/preview')
  @ApiOperation({ summary: 'A draft as its recipients will see it' })
  preview(@Param('id', ParseIntPipe) id: number): Promise<Preview> {
    return this.previews.of(this.drafts.read(id));
  }

  @Get(':id/mail.eml')
  @Sends('message/rfc822')
  @Header('Content-Disposition', 'attachment; filename="draft.eml"')
  @ApiOperation({ summary: 'A draft as a mail (RFC 5322), without tracking' })
  async mail(@Param('id', ParseIntPipe) id: number): Promise<StreamableFile> {
    return new StreamableFile(await this.mails.draftMail(this.drafts.read(id)));
  }

  @Post()
  @ApiOperation({ summary: 'Begin a draft' })
  add(@Body() dto: DraftDto): Draft {
    return this.drafts.add(dto);
  }

  @Get(':id')
  @ApiOperation({ summary: 'One draft' })
  read(@Param('id', ParseIntPipe) id: number): Draft {
    return this.drafts.read(id);
  }

  @Put(':id')
  @ApiOperation({ summary: 'Save a draft; 409 where it was saved elsewhere since that revision' })
  save(@Param('id', ParseIntPipe) id: number, @Body() dto: SaveDraftDto): Draft {
    const { revision, ...content } = dto;
    return this.drafts.save(id, revision, content);
  }

  @Delete(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Delete a draft' })
  remove(@Param('id', ParseIntPipe) id: number): void {
    this.drafts.remove(id);
  }
}
