import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Put, Query } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import { IsBoolean, IsOptional, IsString, Matches, MaxLength } from 'class-validator';
import type { PersonView } from '@kiraku/core/contract';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { Clock } from '../clock.js';
import { notFound } from '../http/problem.js';
import { PeopleRepository } from './people.repository.js';

const SUGGESTIONS = 20;

class PeopleQuery {
  @ApiPropertyOptional({ description: 'A part of a name, an address or a firm' })
  @IsOptional()
  @IsString()
  @MaxLength(200)
  words?: string;
}

class AddressesQuery {
  @ApiProperty({ description: 'Addresses, separated by commas' })
  @IsString()
  addresses: string;
}

class PersonDto {
  @ApiProperty()
  @IsString()
  @MaxLength(MESSAGE_LIMITS.nameLength)
  name: string;

  @ApiProperty()
  @IsString()
  @MaxLength(MESSAGE_LIMITS.nameLength)
  firm: string;

  @ApiProperty({ example: '+44 1632 960100' })
  @Matches(/^[\d\s()+./-]{0,40}$/, { message: 'A phone number has digits, blanks and the signs + ( ) . / -' })
  phone: string;

  @ApiProperty({ description: 'For oneself; never sent' })
  @IsString()
  @MaxLength(MESSAGE_LIMITS.noteLength, { message: `A note has at most ${MESSAGE_LIMITS.noteLength} characters` })
  note: string;

  @ApiProperty({ description: 'Whether nothing of them is told' })
  @IsBoolean()
  silenced: boolean;
}

class TrackingDto {
  @ApiProperty()
  @IsBoolean()
  doNotTrack: boolean;
}

@ApiTags('people')
@Controller('api/people')
export class PeopleController {
  constructor(
    private readonly people: PeopleRepository,
    private readonly clock: Clock,
  ) {}

  @Get('not-tracked')
  @ApiOperation({ summary: 'Which of some addresses are written to without tracking' })
  notTracked(@Query() { addresses }: AddressesQuery): string[] {
    return [...this.people.notTracked(addresses.split(',').slice(0, MESSAGE_LIMITS.recipients))];
  }

  @Put(':id/tracking')
  @HttpCode(204)
  @ApiOperation({ summary: 'Write to somebody without tracking from now on, or with it again' })
  setDoNotTrack(@Param('id', ParseIntPipe) id: number, @Body() { doNotTrack }: TrackingDto): void {
    if (!this.people.set(id, { doNotTrack })) throw notFound('person');
  }

  @Put(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Change what is known of somebody' })
  save(@Param('id', ParseIntPipe) id: number, @Body() { silenced, ...known }: PersonDto): void {
    const silencedAt = silenced ? this.clock.now() : null;
    if (!this.people.set(id, { ...known, silencedAt })) throw notFound('person');
  }

  @Get()
  @ApiOperation({ summary: 'Suggestions while addressing a message, most written-to first' })
  suggest(@Query() query: PeopleQuery): PersonView[] {
    return this.people.suggest(query.words ?? '', SUGGESTIONS);
  }
}
