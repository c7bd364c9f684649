import { pipeline } from 'node:stream/promises';
import { Body, Controller, Get, HttpCode, Post, Res } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import { IsBoolean, IsIn, IsInt, IsString, Max, MaxLength, Min, ValidateIf, ValidateNested } from 'class-validator';
import { Type } from 'class-transformer';
import type { Response } from 'express';
import {
  type ImportReport,
  type SheetFormat,
  PERSON_FIELDS,
  type Columns,
  type ImportRequest,
} from '@kiraku/core/contract';
import { SendsItself } from '../http/sends.js';
import { PeopleImport } from './peopleImport.js';
import { PeopleFiles } from './peopleFiles.js';

const MAX_IMPORT_CHARS = 5_000_000;
const MAX_COLUMNS = 500;

/** Its fields are those of a person. */
class ColumnsDto {}
for (const field of PERSON_FIELDS) {
  IsInt({ message: 'A column is a number' })(ColumnsDto.prototype, field);
  Min(-1)(ColumnsDto.prototype, field);
  Max(MAX_COLUMNS)(ColumnsDto.prototype, field);
  ApiProperty({ type: Number, description: 'Number of the column, from 0; -1 for none' })(ColumnsDto.prototype, field);
}

class ImportDto implements ImportRequest {
  @ApiProperty({ enum: ['csv', 'vcard'] })
  @IsIn(['csv', 'vcard'])
  format: SheetFormat;

  @ApiProperty({ description: 'The file' })
  @IsString()
  @MaxLength(MAX_IMPORT_CHARS, { message: 'The file is too large: split it into parts of at most 5 MB' })
  text: string;

  @ApiPropertyOptional({
    type: ColumnsDto,
    nullable: true,
    description: 'Which column holds what; guessed from the heads',
  })
  @ValidateIf((dto: ImportDto) => dto.columns !== null)
  @ValidateNested()
  @Type(() => ColumnsDto)
  columns: Columns | null = null;

  @ApiProperty({ description: 'Whether to do it, or only to say what would become of each' })
  @IsBoolean()
  apply: boolean;
}

@ApiTags('people')
@Controller('api/people')
export class PeopleFilesController {
  constructor(
    private readonly written: PeopleFiles,
    private readonly files: PeopleImport,
  ) {}

  @Get('people.csv')
  @SendsItself('text/csv')
  @ApiOperation({ summary: 'Everybody, as a sheet (RFC 4180)' })
  csv(@Res() response: Response): Promise<void> {
    response.attachment('people.csv').type('text/csv; charset=utf-8');
    return pipeline(this.written.csv(), response);
  }

  @Get('people.vcf')
  @SendsItself('text/vcard')
  @ApiOperation({ summary: 'Everybody, as cards (vCard 4, RFC 6350)' })
  cards(@Res() response: Response): Promise<void> {
    response.attachment('people.vcf').type('text/vcard; charset=utf-8');
    return pipeline(this.written.cards(), response);
  }

  @Post('import')
  @HttpCode(200)
  @ApiOperation({ summary: 'Import people from a file, or only say what would become of each' })
  import(@Body() { format, text, columns, apply }: ImportDto): ImportReport {
    return this.files.import(format, text, columns, apply);
  }

  @Post('import/undo')
  @HttpCode(200)
  @ApiOperation({ summary: 'Undo the last import' })
  undo(): { removed: number } {
    return { removed: this.files.undo() };
  }
}
