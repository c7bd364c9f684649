import { Body, Controller, Get, Put } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsBoolean, IsInt, IsString, Length, ValidateIf } from 'class-validator';
import type { WritingDefaults } from '@kiraku/core/contract';
import { WritingSettings } from './writing.settings.js';

class WritingDto implements WritingDefaults {
  @ApiProperty()
  @IsBoolean()
  trackOpens: boolean;

  @ApiProperty()
  @IsBoolean()
  trackClicks: boolean;

  @ApiProperty()
  @IsBoolean()
  disclose: boolean;

  @ApiProperty()
  @IsBoolean()
  requestDsn: boolean;

  @ApiProperty()
  @IsBoolean()
  requestMdn: boolean;

  @ApiProperty({ nullable: true, type: Number })
  @ValidateIf((_dto, value) => value !== null)
  @IsInt()
  signatureId: number | null;

  @ApiProperty({ description: 'Words in [brackets] lead to the page to opt out of tracking' })
  @IsString()
  @Length(10, 500, { message: 'Write 10 to 500 characters about what you track' })
  disclosure: string;
}

@ApiTags('settings')
@Controller('api/settings/writing')
export class WritingController {
  constructor(private readonly settings: WritingSettings) {}

  @Get()
  @ApiOperation({ summary: 'What new messages begin with' })
  read(): WritingDefaults {
    return this.settings.defaults();
  }

  @Put()
  @ApiOperation({ summary: 'Change what new messages begin with' })
  save(@Body() dto: WritingDto): WritingDefaults {
    this.settings.setDefaults({ ...dto });
    return this.settings.defaults();
  }
}
