import { ApiPropertyOptional } from '@nestjs/swagger';
import { Transform, Type } from 'class-transformer';
import {
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
} from 'class-validator';
import {
  ROWS_PER_PAGE,
  MAX_LIST_IDS,
  LIST_COLUMNS,
  ARCHIVED,
  SENT_WITH,
  SHOWN,
  SORT_DIRECTIONS,
  type Archived,
  type SentWith,
  type ListColumn,
  type ListFilter,
  type ReportFilter,
  type Shown,
  type SortDirection,
} from '@kiraku/core/contract';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { HOURS_OF_WEEK } from '@kiraku/core/time';
import { Moment } from '../http/moment.js';
import { Cursor, Limit, type PageQuery } from '../http/paging.js';

const FLAGS: Record<string, boolean> = { true: true, false: false };
const asFlag = Transform(({ value }) => FLAGS[String(value)] ?? value);

/** What messages are narrowed by, as an address says it; what is left out narrows nothing. */
export class ReportFilterQuery implements ReportFilter {
  @Moment('Sent from this time on') from: number | null = null;

  @Moment('Sent before this time') to: number | null = null;

  @ApiPropertyOptional({ description: 'Number of a person' })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  person: number | null = null;

  @ApiPropertyOptional({ description: 'Number of a template' })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  template: number | null = null;

  @ApiPropertyOptional({ description: 'Number of a file that went with it as a link' })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  file: number | null = null;

  @ApiPropertyOptional({ description: 'Number of the round that it is a part of' })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  round: number | null = null;

  @ApiPropertyOptional({ description: 'The subject, exactly as it stands in the message' })
  @IsOptional()
  @IsString()
  @MaxLength(MESSAGE_LIMITS.maxSubjectChars)
  subject = '';

  @ApiPropertyOptional()
  @IsOptional()
  @IsString()
  @MaxLength(200)
  company = '';

  @ApiPropertyOptional({ description: 'The recipient’s mail domain' })
  @IsOptional()
  @IsString()
  @MaxLength(255)
  domain = '';

  @ApiPropertyOptional({ description: 'Text of a link that was clicked' })
  @IsOptional()
  @IsString()
  @MaxLength(500)
  link = '';

  @ApiPropertyOptional({ description: 'Only those with a note' })
  @IsOptional()
  @asFlag
  @IsBoolean()
  noted = false;

  @ApiPropertyOptional({ description: 'Only those sent from Monday to Friday' })
  @IsOptional()
  @asFlag
  @IsBoolean()
  workingDays = false;

  @ApiPropertyOptional({ description: 'Only those first opened within this hour of the week, from Monday’s first (0)' })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(0)
  @Max(HOURS_OF_WEEK - 1)
  firstOpenHour: number | null = null;

  @ApiPropertyOptional({ default: 'UTC', description: 'The zone of days, weeks and hours, as an IANA name' })
  @IsOptional()
  @IsTimeZone({ message: 'There is no such time zone' })
  zone = 'UTC';

  @ApiPropertyOptional({ description: 'Searched for in people, subject, body and note' })
  @IsOptional()
  @IsString()
  @MaxLength(200)
  words = '';
}

/** The list’s filter as an address says it. */
export class ListFilterQuery extends ReportFilterQuery implements ListFilter {
  @ApiPropertyOptional({ enum: SHOWN, default: 'all' })
  @IsOptional()
  @IsIn(SHOWN)
  show: Shown = 'all';

  @ApiPropertyOptional({ enum: ARCHIVED, default: false, description: 'Those archived instead of all others, or any' })
  @IsOptional()
  @asFlag
  @IsIn(ARCHIVED)
  archived: Archived = false;

  @ApiPropertyOptional({ enum: SENT_WITH, default: '', description: 'Only those that were sent, with what is named' })
  @IsOptional()
  @IsIn(SENT_WITH)
  sentWith: SentWith = '';

  @ApiPropertyOptional({ enum: LIST_COLUMNS, default: 'lastActivity' })
  @IsOptional()
  @IsIn(LIST_COLUMNS)
  sort: ListColumn = 'lastActivity';

  @ApiPropertyOptional({ enum: SORT_DIRECTIONS, default: 'desc' })
  @IsOptional()
  @IsIn(SORT_DIRECTIONS)
  direction: SortDirection = 'desc';
}

export class ListPageQuery extends ListFilterQuery implements PageQuery {
  @Cursor() cursor?: string;
  @Limit() limit = ROWS_PER_PAGE;

  @ApiPropertyOptional({ description: 'Only these messages, by their numbers with commas between' })
  @IsOptional()
  @Matches(new RegExp(`^\\d{1,15}(,\\d{1,15}){0,${MAX_LIST_IDS - 1}}$`), {
    message: `Name at most ${MAX_LIST_IDS} messages by their numbers, with commas between`,
  })
  among?: string;
}
