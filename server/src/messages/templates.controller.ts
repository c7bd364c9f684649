import {
  applyDecorators,
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  Post,
  Put,
} from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import { Transform, Type } from 'class-transformer';
import { IsOptional, IsString, Length, MaxLength, ValidateNested } from 'class-validator';
import type {
  SignatureRequest,
  SignatureView,
  TemplateFolderRequest,
  TemplateRequest,
  TemplateRow,
  TemplateView,
} from '@kiraku/core/contract';
import { withFileMarksOf } from '@kiraku/core/files';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { Clock } from '../environment/clock.js';
import { FilesService } from '../files/files.service.js';
import { notFound } from '../http/problem.js';
import { DraftFiles, ReminderDto, type DraftFileDto } from './drafts.dto.js';
import { cleanBody, cleanText } from './messageBody.js';
import { TemplatesRepository } from './templates.repository.js';

/** Where a template stands in their list. */
const Folder = () =>
  applyDecorators(
    ApiPropertyOptional({ type: String, example: 'First messages', description: 'Empty for the top of the list' }),
    Transform(({ value }) => (typeof value === 'string' ? value.trim() : value)),
    IsString(),
    MaxLength(MESSAGE_LIMITS.maxFolderChars, {
      message: `The name of a folder has at most ${MESSAGE_LIMITS.maxFolderChars} characters`,
    }),
  );

class SignatureDto implements SignatureRequest {
  @ApiProperty({ example: 'First messages' })
  @IsString()
  @Length(1, 100, { message: 'Give it a name of 1 to 100 characters' })
  name: string;

  @ApiProperty()
  @IsString()
  @MaxLength(MESSAGE_LIMITS.maxHtmlChars, { message: 'It is longer than two million characters. Shorten it' })
  html: string;
}

class TemplateDto extends SignatureDto implements TemplateRequest {
  @ApiProperty({ example: 'Panels for {{company|your rooms}}' })
  @IsString()
  @MaxLength(MESSAGE_LIMITS.maxSubjectChars)
  subject: string;

  @ApiPropertyOptional({ type: ReminderDto, description: 'The reminder of a message that begins with it' })
  @IsOptional()
  @ValidateNested()
  @Type(() => ReminderDto)
  reminder: ReminderDto | null = null;

  @DraftFiles() files: DraftFileDto[] = [];

  @Folder() folder = '';
}

class TemplateFolderDto implements TemplateFolderRequest {
  @Folder() folder: string;
}

@ApiTags('writing')
@Controller('api')
export class TemplatesController {
  constructor(
    private readonly templates: TemplatesRepository,
    private readonly files: FilesService,
    private readonly clock: Clock,
  ) {}

  @Get('templates')
  @ApiOperation({ summary: 'Templates, with what became of the messages that began with each' })
  list(): TemplateRow[] {
    return this.templates.templates();
  }

  @Post('templates')
  @ApiOperation({ summary: 'Save a message as a template' })
  add(@Body() template: TemplateDto): TemplateView {
    return this.templates.addTemplate(this.contentOf(template), this.clock.now());
  }

  @Put('templates/:id')
  @ApiOperation({ summary: 'Change a template' })
  save(@Param('id', ParseIntPipe) id: number, @Body() template: TemplateDto): TemplateView {
    const saved = this.templates.saveTemplate(id, this.contentOf(template), this.clock.now());
    if (!saved) throw notFound('template');
    return saved;
  }

  @Put('templates/:id/folder')
  @HttpCode(204)
  @ApiOperation({ summary: 'Put a template into a folder' })
  setFolder(@Param('id', ParseIntPipe) id: number, @Body() { folder }: TemplateFolderDto): void {
    if (!this.templates.setFolder(id, folder)) throw notFound('template');
  }

  @Delete('templates/:id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Delete a template; it can be restored' })
  remove(@Param('id', ParseIntPipe) id: number): void {
    if (!this.templates.setRemoved(id, this.clock.now())) throw notFound('template');
  }

  @Post('templates/:id/restore')
  @HttpCode(204)
  @ApiOperation({ summary: 'Restore a template' })
  restore(@Param('id', ParseIntPipe) id: number): void {
    if (!this.templates.setRemoved(id, null)) throw notFound('template');
  }

  @Get('signatures')
  @ApiOperation({ summary: 'Signatures' })
  signatures(): SignatureView[] {
    return this.templates.signatures();
  }

  @Post('signatures')
  @ApiOperation({ summary: 'Add a signature' })
  addSignature(@Body() { name, html }: SignatureDto): SignatureView {
    return this.templates.addSignature({ name, html: cleanText(html) });
  }

  @Put('signatures/:id')
  @ApiOperation({ summary: 'Change a signature' })
  saveSignature(@Param('id', ParseIntPipe) id: number, @Body() { name, html }: SignatureDto): SignatureView {
    const saved = this.templates.saveSignature(id, { name, html: cleanText(html) });
    if (!saved) throw notFound('signature');
    return saved;
  }

  @Delete('signatures/:id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Delete a signature' })
  removeSignature(@Param('id', ParseIntPipe) id: number): void {
    if (!this.templates.removeSignature(id)) throw notFound('signature');
  }

  private contentOf({ name, subject, html, reminder, files: carried, folder }: TemplateDto): TemplateRequest {
    const files = carried.map((one) => ({ ...one, versionId: null }));
    this.files.checkKnown(files);
    return { name, subject, html: withFileMarksOf(cleanBody(html), files), reminder, files, folder };
  }
}
