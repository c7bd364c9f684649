import { Body, Controller, Delete, Get, Header, HttpCode, Param, ParseIntPipe, Put } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { ArrayMaxSize, IsArray, IsInt, IsString, Matches, Max, Min, ValidateIf } from 'class-validator';
import type { PersonData, PrivacyView } from '@kiraku/core/contract';
import { personDataText } from '@kiraku/core/sentences';
import { notFound } from '../http/problem.js';
import { PersonDataService } from './personData.js';
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
@Controller('api')
export class PrivacyController {
  constructor(
    private readonly settings: PrivacySettings,
    private readonly retention: Retention,
    private readonly data: PersonDataService,
  ) {}

  @Get('settings/privacy')
  @ApiOperation({ summary: 'How long what is known of readers is kept, and whom nothing is to be known of' })
  read(): PrivacyView {
    return this.settings.view();
  }

  @Put('settings/privacy')
  @ApiOperation({ summary: 'Change that; what is due is forgotten at once' })
  save(@Body() dto: PrivacyDto): PrivacyView {
    this.settings.save({ ...dto, untrackedDomains: dto.untrackedDomains.map((domain) => domain.toLowerCase()) });
    void this.retention.forget();
    return this.read();
  }

  @Get('people/:id/data.json')
  @Header('Content-Disposition', 'attachment; filename="person.json"')
  @ApiOperation({ summary: 'Everything that is known of one person' })
  json(@Param('id', ParseIntPipe) id: number): PersonData {
    return this.find(id);
  }

  @Get('people/:id/data.txt')
  @Header('Content-Disposition', 'attachment; filename="person.txt"')
  @Header('Content-Type', 'text/plain; charset=utf-8')
  @ApiOperation({ summary: 'Everything that is known of one person, to read' })
  text(@Param('id', ParseIntPipe) id: number): string {
    return personDataText(this.find(id));
  }

  @Get('people/:id')
  @ApiOperation({ summary: 'One person' })
  person(@Param('id', ParseIntPipe) id: number): PersonData['person'] {
    const person = this.data.person(id);
    if (!person) throw notFound('person');
    return person;
  }

  @Delete('people/:id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Erase one person: messages to them alone, and their activity on all others' })
  erase(@Param('id', ParseIntPipe) id: number): void {
    if (!this.data.erase(id)) throw notFound('person');
  }

  private find(id: number): PersonData {
    const found = this.data.read(id);
    if (!found) throw notFound('person');
    return found;
  }
}
