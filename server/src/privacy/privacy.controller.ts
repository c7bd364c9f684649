import { Body, Controller, Get, Put } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { ArrayMaxSize, IsArray, IsInt, IsString, Matches, Max, Min, ValidateIf } from 'class-validator';
import type { PrivacyView } from '@kiraku/core/contract';
import { PrivacySettings } from '../settings/privacy.settings.js';
import { Retention } from './retention.js';

const MAX_RETENTION_DAYS = 3650;
const MAX_UNTRACKED_DOMAINS = 500;
const DOMAIN = /^(?=.{1,253}$)[\p{L}\p{N}-]+(\.[\p{L}\p{N}-]+)+$/u;

class PrivacyDto implements PrivacyView {
  @ApiProperty({ type: Number, nullable: true, description: 'Days after which readers’ addresses are forgotten' })
  @ValidateIf((dto: PrivacyDto) => dto.forgetReadersDays !== null)
  @IsInt()
  @Min(1)
  @Max(MAX_RETENTION_DAYS)
  forgetReadersDays: number | null;

  @ApiProperty({ type: Number, nullable: true, description: 'Days after which all activity is forgotten' })
  @ValidateIf((dto: PrivacyDto) => dto.forgetEventsDays !== null)
  @IsInt()
  @Min(1)
  @Max(MAX_RETENTION_DAYS)
  forgetEventsDays: number | null;

  @ApiProperty({ type: [String], description: 'Domains not to track' })
  @IsArray()
  @ArrayMaxSize(MAX_UNTRACKED_DOMAINS)
  @IsString({ each: true })
  @Matches(DOMAIN, { each: true, message: 'Write each domain like company.example' })
  untrackedDomains: string[];
}

@ApiTags('privacy')
@Controller('api/settings/privacy')
export class PrivacyController {
  constructor(
    private readonly settings: PrivacySettings,
    private readonly retention: Retention,
  ) {}

  @Get()
  @ApiOperation({ summary: 'How long what is known of readers is kept, and whom nothing is to be known of' })
  read(): PrivacyView {
    return this.settings.view();
  }

  @Put()
  @ApiOperation({ summary: 'Change that; what is due is forgotten at once' })
  save(@Body() dto: PrivacyDto): PrivacyView {
    this.settings.save({ ...dto, untrackedDomains: dto.untrackedDomains.map((domain) => domain.toLowerCase()) });
    void this.retention.forget();
    return this.read();
  }
}
