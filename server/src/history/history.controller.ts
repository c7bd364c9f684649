import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post, Put, Query, Req } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsBoolean,
  IsIn,
  IsOptional,
  IsString,
  MaxLength,
  MinLength,
} from 'class-validator';
import type { Request } from 'express';
import { HISTORY_LIMITS, type HistoryImportRequest, type HistoryView } from '@kiraku/core/contract';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { HistoryService } from './history.service.js';

const MAX_NAME_CHARS = 300;

class HistoryFileQuery {
  @ApiProperty({ description: 'The name of the file or folder, as it is called here' })
  @IsString()
  @MinLength(1)
  @MaxLength(MAX_NAME_CHARS)
  name: string;

  @ApiPropertyOptional({ enum: ['1'], description: 'Set where it goes on with the file before' })
  @IsOptional()
  @IsIn(['1'])
  more?: '1';
}

class HistoryImportDto implements HistoryImportRequest {
  @ApiProperty({ type: [String], description: 'Addresses of the senders whose messages they are' })
  @ArrayMinSize(1, { message: 'Choose whose messages they are' })
  @ArrayMaxSize(HISTORY_LIMITS.maxSenders)
  @IsString({ each: true })
  @MaxLength(MESSAGE_LIMITS.maxAddressChars, { each: true })
  senders: string[];

  @ApiProperty({ description: 'Whether the messages are imported too, and not the people alone' })
  @IsBoolean()
  withMessages: boolean;
}

@ApiTags('history')
@Controller('api/history')
export class HistoryController {
  constructor(private readonly history: HistoryService) {}

  @Get()
  @ApiOperation({ summary: 'How it stands with the import of mail that was sent before' })
  read(): HistoryView {
    return this.history.view();
  }

  @Put('files')
  @HttpCode(200)
  @ApiOperation({
    summary: 'Add a file to import from, or a piece of one: mbox (RFC 4155), or a single mail (RFC 5322), as its bytes',
  })
  async add(@Query() { name, more }: HistoryFileQuery, @Req() request: Request): Promise<HistoryView> {
    await this.history.add(name, more === '1', request);
    return this.history.view();
  }

  @Post('look')
  @HttpCode(202)
  @ApiOperation({ summary: 'Look through the files, and import nothing' })
  look(): HistoryView {
    this.history.look();
    return this.history.view();
  }

  @Post('mailbox')
  @HttpCode(202)
  @ApiOperation({ summary: 'Fetch the folder of sent mail from the mailbox, and look through it' })
  fetch(): HistoryView {
    this.history.fetch();
    return this.history.view();
  }

  @Post('import')
  @HttpCode(202)
  @ApiOperation({ summary: 'Import what was found' })
  import(@Body() request: HistoryImportDto): HistoryView {
    this.history.import(request);
    return this.history.view();
  }

  @Post('stop')
  @HttpCode(200)
  @ApiOperation({ summary: 'Stop what is done, and forget the files; what has been imported stays' })
  async stop(): Promise<HistoryView> {
    await this.history.stop();
    return this.history.view();
  }

  @Delete('imports/:id')
  @HttpCode(202)
  @ApiOperation({ summary: 'Undo an import' })
  undo(@Param('id', ParseIntPipe) id: number): HistoryView {
    this.history.undo(id);
    return this.history.view();
  }
}
