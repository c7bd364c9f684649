import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  Patch,
  Post,
  Put,
  Query,
  Res,
} from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import {
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
  MinLength,
  ValidateIf,
  ValidateNested,
} from 'class-validator';
import type { Response } from 'express';
import {
  FILE_KINDS,
  type FileKind,
  type FileReadings,
  type FileUse,
  type FilesView,
  type FileView,
  type SentFile,
  type SentFileChange,
} from '@kiraku/core/contract';
import { FILE_LIMITS } from '@kiraku/core/files';
import { notFound, ProblemException } from '../http/problem.js';
import { SendsItself } from '../http/sends.js';
import { ContentStore, DamagedError } from './contentStore.js';
import { FilesRepository } from './files.repository.js';
import { FilesService } from './files.service.js';
import { FilesSettings } from './files.settings.js';
import { Preparing } from './preparing.js';
import { sendBytes, sendDownload } from './sendBytes.js';

class NameDto {
  @ApiProperty({ example: 'Proposal for the reading room.pdf' })
  @IsString()
  @MinLength(1)
  @MaxLength(FILE_LIMITS.maxNameChars)
  name: string;
}

class SentFileDto implements SentFileChange {
  @ApiPropertyOptional({ description: 'Shows the newest version from now on' })
  @IsOptional()
  @IsBoolean()
  followsNewest?: boolean;

  @ApiPropertyOptional()
  @IsOptional()
  @IsBoolean()
  mayDownload?: boolean;

  @ApiPropertyOptional()
  @IsOptional()
  @IsBoolean()
  asksAddress?: boolean;

  @ApiPropertyOptional({ description: 'Until when it can be seen, in epoch milliseconds; null for ever' })
  @ValidateIf(({ endsAt }: SentFileDto) => endsAt !== undefined && endsAt !== null)
  @IsInt()
  @Min(0)
  endsAt?: number | null;

  @ApiPropertyOptional({ description: 'Switched off' })
  @IsOptional()
  @IsBoolean()
  closed?: boolean;
}

class SubmittedDto {
  @ApiProperty({ enum: FILE_KINDS, isArray: true })
  @IsArray()
  @IsIn(FILE_KINDS, { each: true })
  kinds: FileKind[];

  @ApiProperty()
  @IsInt()
  @Min(0)
  @Max(FILE_LIMITS.maxFileBytes)
  fromBytes: number;
}

class FilesSettingsDto implements Omit<FilesView, 'converts'> {
  @ApiProperty({ description: 'Larger files are refused, in bytes' })
  @IsInt()
  @Min(1_000_000, { message: 'Less than a megabyte is too little for files' })
  @Max(FILE_LIMITS.maxFileBytes, { message: 'More than two gigabytes cannot be taken' })
  maxBytes: number;

  @ApiProperty({ type: SubmittedDto })
  @ValidateNested()
  @Type(() => SubmittedDto)
  submitted: SubmittedDto;
}

class DownloadQuery {
  @ApiPropertyOptional({ description: 'As an attachment, to be saved' })
  @IsOptional()
  @IsString()
  save?: string;
}

@ApiTags('files')
@Controller('api')
export class FilesController {
  constructor(
    private readonly files: FilesService,
    private readonly rows: FilesRepository,
    private readonly store: ContentStore,
    private readonly settings: FilesSettings,
    private readonly preparing: Preparing,
  ) {}

  @Get('files')
  @ApiOperation({ summary: 'The library, the newest first. New ones come over /api/uploads (tus 1.0.0)' })
  list(): FileView[] {
    return this.files.list();
  }

  @Get('settings/files')
  @ApiOperation({ summary: 'How large files may be, and what becomes of attachments from other programs' })
  readSettings(): FilesView {
    return { ...this.settings.view(), converts: this.preparing.converts() };
  }

  @Put('settings/files')
  @ApiOperation({ summary: 'Change them' })
  saveSettings(@Body() body: FilesSettingsDto): FilesView {
    this.settings.save(body);
    return this.readSettings();
  }

  @Get('files/:id')
  @ApiOperation({ summary: 'One file with its versions' })
  read(@Param('id', ParseIntPipe) id: number): FileView {
    return this.files.view(id);
  }

  @Patch('files/:id')
  @ApiOperation({ summary: 'Another name' })
  rename(@Param('id', ParseIntPipe) id: number, @Body() { name }: NameDto): FileView {
    return this.files.rename(id, name);
  }

  @Delete('files/:id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Delete a file from the library; links that were sent still work' })
  remove(@Param('id', ParseIntPipe) id: number): void {
    this.files.remove(id);
  }

  @Post('files/:id/restore')
  @HttpCode(200)
  @ApiOperation({ summary: 'Undo it' })
  restore(@Param('id', ParseIntPipe) id: number): FileView {
    return this.files.restore(id);
  }

  @Get('files/:id/readings')
  @ApiOperation({ summary: 'Who read it, page by page, over all messages' })
  readings(@Param('id', ParseIntPipe) id: number): FileReadings {
    return this.files.readings({ fileId: id });
  }

  @Get('files/:id/uses')
  @ApiOperation({ summary: 'The messages that carried it, the newest first' })
  uses(@Param('id', ParseIntPipe) id: number): FileUse[] {
    return this.files.uses(id);
  }

  @Get('files/versions/:id/content')
  @SendsItself('*/*')
  @ApiOperation({ summary: 'A version’s bytes, as the viewer shows them, or to be saved' })
  async content(
    @Param('id', ParseIntPipe) id: number,
    @Query() { save }: DownloadQuery,
    @Res() response: Response,
  ): Promise<void> {
    const version = this.rows.version(id);
    if (!version) throw notFound('version');
    const name = this.rows.name(version.fileId);
    if (save !== undefined) return sendDownload(response.req, response, await this.path(version.sha256), name);
    const { pagesSha256, sha256, mediaType } = version;
    const shown = pagesSha256 === null ? mediaType : 'application/pdf';
    sendBytes(response.req, response, await this.path(pagesSha256 ?? sha256), shown);
  }

  private path(sha256: string): Promise<string> {
    return this.store.checked(sha256).catch((error: unknown) => {
      if (!(error instanceof DamagedError)) throw error;
      const detail = 'What lies on the disk is not what was kept. Restore from a backup, or add the file anew.';
      throw new ProblemException(410, 'Damaged', detail);
    });
  }

  @Get('messages/:id/readings')
  @ApiOperation({ summary: 'Who read the files of a message, page by page' })
  ofMessage(@Param('id', ParseIntPipe) id: number): FileReadings {
    return this.files.readings({ messageId: id });
  }

  @Patch('sent-files/:id')
  @ApiOperation({ summary: 'Change what holds for a link that was sent, at once' })
  change(@Param('id', ParseIntPipe) id: number, @Body() body: SentFileDto): SentFile {
    return this.files.change(id, body);
  }
}
