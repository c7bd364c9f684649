import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post, Put, Query } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsTimeZone,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
} from 'class-validator';
import {
  ROWS_PER_PAGE,
  MAX_DATE_MS,
  PEOPLE_ORDERS,
  PEOPLE_SHOWN,
  type Duplicates,
  type CompanyRow,
  type PeopleFilter,
  type PeopleOrder,
  type PeopleShown,
  type PeoplePage,
  type PersonView,
  type MergeRequest,
  type PersonRequest,
  type RecipientsRequest,
  type RecipientView,
  type ResolvePersonRequest,
  type ResolveRecipientsRequest,
  type SnoozePersonRequest,
  type TagView,
} from '@kiraku/core/contract';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { cleanTags, MAX_TAG_CHARS, tagsProblem } from '@kiraku/core/people';
import { Clock } from '../environment/clock.js';
import { Moment } from '../http/moment.js';
import { Cursor, cursorAfter, Limit, placeOf, type PageQuery } from '../http/paging.js';
import { invalid, notFound } from '../http/problem.js';
import { RecipientsRepository } from '../messages/recipients.repository.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { Merging } from './merging.js';
import { PeopleRepository } from './people.repository.js';
import { TagsRepository } from './tags.repository.js';

const SUGGESTIONS = 20;
const MAX_COMPANIES = 500;
const MAX_DUPLICATES = 50;
/** What is kept of them is judged by their own rule. */
const MAX_TAGS_SENT = 200;

class PeopleQuery {
  @ApiPropertyOptional({ description: 'Part of a name, an address, a company or a tag' })
  @IsOptional()
  @IsString()
  @MaxLength(200)
  words = '';
}

class RecipientsDto implements RecipientsRequest {
  @ApiProperty({ type: [String] })
  @IsArray()
  @ArrayMaxSize(MESSAGE_LIMITS.maxRecipients, {
    message: `At most ${MESSAGE_LIMITS.maxRecipients} addresses at once`,
  })
  @IsString({ each: true })
  @MaxLength(MESSAGE_LIMITS.maxAddressChars, { each: true })
  addresses: string[];
}

class PersonDto implements PersonRequest {
  @ApiPropertyOptional()
  @IsOptional()
  @IsString()
  @MaxLength(MESSAGE_LIMITS.maxNameChars)
  name?: string;

  @ApiPropertyOptional()
  @IsOptional()
  @IsString()
  @MaxLength(MESSAGE_LIMITS.maxNameChars)
  company?: string;

  @ApiPropertyOptional({ example: '+44 1632 960100' })
  @IsOptional()
  @Matches(/^[\d\s()+./-]{0,40}$/, { message: 'A phone number has digits, blanks and the signs + ( ) . / -' })
  phone?: string;

  @ApiPropertyOptional({ example: 'Europe/Helsinki', description: 'Empty where it is not known' })
  @ValidateIf((dto: PersonDto) => Boolean(dto.zone))
  @IsTimeZone({ message: 'Name the time zone like Europe/Helsinki' })
  zone?: string;

  @ApiPropertyOptional({ description: 'Private note; never sent' })
  @IsOptional()
  @IsString()
  @MaxLength(MESSAGE_LIMITS.maxNoteChars, {
    message: `A note can have at most ${MESSAGE_LIMITS.maxNoteChars} characters`,
  })
  note?: string;

  @ApiPropertyOptional({ type: [String], description: 'The user’s own words for them' })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MAX_TAGS_SENT)
  @IsString({ each: true })
  @MaxLength(200, { each: true })
  tags?: string[];

  @ApiPropertyOptional({ description: 'Whether they are muted' })
  @IsOptional()
  @IsBoolean()
  muted?: boolean;
}

class TrackingDto {
  @ApiProperty()
  @IsBoolean()
  doNotTrack: boolean;
}

class DirectoryQuery extends PeopleQuery implements PeopleFilter, PageQuery {
  @Cursor() cursor?: string;
  @Limit() limit = ROWS_PER_PAGE;

  @ApiPropertyOptional({ enum: PEOPLE_SHOWN, default: 'all' })
  @IsOptional()
  @IsIn(PEOPLE_SHOWN)
  show: PeopleShown = 'all';

  @ApiPropertyOptional({ description: 'One of the user’s tags' })
  @IsOptional()
  @IsString()
  @MaxLength(MAX_TAG_CHARS)
  tag = '';

  @Moment('Last contact from this time on') contactFrom: number | null = null;

  @Moment('Last contact before this time') contactTo: number | null = null;

  @ApiPropertyOptional({ enum: PEOPLE_ORDERS, default: 'name' })
  @IsOptional()
  @IsIn(PEOPLE_ORDERS)
  order: PeopleOrder = 'name';
}

class SnoozeDto implements SnoozePersonRequest {
  @ApiProperty({ type: Number, nullable: true, description: 'Epoch milliseconds; null proposes them again' })
  @ValidateIf((dto: SnoozeDto) => dto.until !== null)
  @IsInt()
  @Min(0)
  @Max(MAX_DATE_MS)
  until: number | null;
}

class ResolvedDto implements ResolvePersonRequest {
  @ApiProperty({ description: 'True: resolved up to now; false: undone' })
  @IsBoolean()
  resolved: boolean;
}

class MergeDto implements MergeRequest {
  @ApiProperty({ description: 'The person whose other address this becomes' })
  @IsInt()
  into: number;
}

class MessageResolvedDto extends ResolvedDto implements ResolveRecipientsRequest {
  @ApiProperty({ description: 'The message whose recipients these are' })
  @IsInt()
  messageId: number;
}

@ApiTags('people')
@Controller('api/people')
export class PeopleController {
  constructor(
    private readonly people: PeopleRepository,
    private readonly tags: TagsRepository,
    private readonly recipients: RecipientsRepository,
    private readonly merging: Merging,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  @Get('directory')
  @ApiOperation({ summary: 'The list of people, a page of it' })
  directory(@Query() { cursor, limit, ...filter }: DirectoryQuery): PeoplePage {
    // The place of a row is how many stand before it: names change while one looks, and are no numbers.
    const before = placeOf(cursor)?.value ?? 0;
    const people = this.people.directory(filter, before, limit);
    const places = people.map(({ id }, index) => ({ value: before + index + 1, id }));
    return { people, total: this.people.count(filter), nextCursor: cursorAfter(places, limit) };
  }

  @Get('tags')
  @ApiOperation({ summary: 'The tags that people have' })
  allTags(): TagView[] {
    return this.tags.all();
  }

  @Get('companies')
  @ApiOperation({ summary: 'Mail domains, with who is there' })
  companies(@Query() { words }: PeopleQuery): CompanyRow[] {
    return this.people.companies(words, MAX_COMPANIES);
  }

  @Get('duplicates')
  @ApiOperation({ summary: 'People who may be one, since they have the same name' })
  duplicates(): Duplicates[] {
    return this.people.duplicates(MAX_DUPLICATES);
  }

  @Post(':id/merge')
  @HttpCode(204)
  @ApiOperation({ summary: 'Make somebody another address of somebody else' })
  merge(@Param('id', ParseIntPipe) id: number, @Body() { into }: MergeDto): void {
    this.merging.merge(id, into);
  }

  @Post(':id/unmerge')
  @HttpCode(204)
  @ApiOperation({ summary: 'Make an address of somebody a person of its own again' })
  unmerge(@Param('id', ParseIntPipe) id: number, @Body() { into }: MergeDto): void {
    this.merging.unmerge(id, into);
  }

  // They would not all fit into an address.
  @Post('recipients')
  @HttpCode(200)
  @ApiOperation({ summary: 'What is known of the addresses that a message is to go to' })
  knownRecipients(@Body() { addresses }: RecipientsDto): RecipientView[] {
    return this.recipients.known(addresses);
  }

  @Put('resolved')
  @HttpCode(204)
  @ApiOperation({ summary: 'Resolve the activity of a message’s recipients up to now, or undo that' })
  resolveRecipients(@Body() { messageId, resolved }: MessageResolvedDto): void {
    if (!this.people.resolveRecipients(messageId, resolved ? this.clock.now() : null)) throw notFound('message');
  }

  @Put(':id/tracking')
  @HttpCode(204)
  @ApiOperation({ summary: 'Write to somebody without tracking from now on, or with it again' })
  setDoNotTrack(@Param('id', ParseIntPipe) id: number, @Body() { doNotTrack }: TrackingDto): void {
    if (!this.people.set(id, { doNotTrack })) throw notFound('person');
  }

  @Put(':id/snooze')
  @HttpCode(204)
  @ApiOperation({ summary: 'Snooze a person until a time' })
  snooze(@Param('id', ParseIntPipe) id: number, @Body() { until }: SnoozeDto): void {
    if (!this.people.set(id, { snoozedUntil: until })) throw notFound('person');
  }

  @Put(':id/resolved')
  @HttpCode(204)
  @ApiOperation({ summary: 'Resolve a person’s activity up to now, or undo that' })
  resolve(@Param('id', ParseIntPipe) id: number, @Body() { resolved }: ResolvedDto): void {
    if (!this.people.set(id, { resolvedAt: resolved ? this.clock.now() : null })) throw notFound('person');
  }

  @Put(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Change what is known of somebody' })
  save(@Param('id', ParseIntPipe) id: number, @Body() { muted, tags, ...known }: PersonDto): void {
    const before = this.people.find(id);
    if (!before) throw notFound('person');
    const problem = tags && tagsProblem(cleanTags(tags));
    if (problem) throw invalid(problem);
    const { name = before.name, company = before.company } = known;
    const mutedAt = muted === undefined ? before.mutedAt : muted ? this.clock.now() : null;
    this.unit.commit(() => {
      this.people.set(id, { ...known, mutedAt });
      if (tags) this.tags.set(id, tags);
      // Their messages show both.
      if (name !== before.name || company !== before.company) this.unit.noteMessagesTo([id]);
    });
  }

  @Get()
  @ApiOperation({ summary: 'Suggestions while addressing a message, most written-to first' })
  suggest(@Query() { words }: PeopleQuery): PersonView[] {
    return this.people.suggest(words, SUGGESTIONS);
  }
}
