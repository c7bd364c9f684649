import { ApiPropertyOptional } from '@nestjs/swagger';
import { Transform, Type } from 'class-transformer';
import { IsBoolean, IsIn, IsInt, IsOptional, IsString, Matches, Max, MaxLength, Min } from 'class-validator';
import { LIST_ORDERS, SHOWN, type ListFilter, type ListOrder, type Shown } from '@kiraku/core/contract';

const LATEST_MS = 8.64e15;
const MOST_AMONG = 200;

const FLAGS: Record<string, boolean> = { true: true, false: false };
const asFlag = Transform(({ value }) => FLAGS[String(value)] ?? value);

/** The list’s filter as an address says it; what is left out narrows nothing. */
export class ListFilterQuery implements ListFilter {
  @ApiPropertyOptional({ enum: SHOWN, default: 'all' })
  @IsOptional()
  @IsIn(SHOWN)
  show: Shown = 'all';

  @ApiPropertyOptional({ description: 'Sent from this time on; epoch milliseconds' })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(0)
  @Max(LATEST_MS)
  from: number | null = null;

  @ApiPropertyOptional({ description: 'Sent before this time; epoch milliseconds' })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(0)
  @Max(LATEST_MS)
  to: number | null = null;

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

  @ApiPropertyOptional()
  @IsOptional()
  @IsString()
  @MaxLength(200)
  firm = '';

  @ApiPropertyOptional({ description: 'The recipient’s mail domain' })
  @IsOptional()
  @IsString()
  @MaxLength(255)
  domain = '';

  @ApiPropertyOptional({ description: 'Words of a link that was followed' })
  @IsOptional()
  @IsString()
  @MaxLength(500)
  link = '';

  @ApiPropertyOptional({ description: 'Only those with a note' })
  @IsOptional()
  @asFlag
  @IsBoolean()
  noted = false;

  @ApiPropertyOptional({ description: 'Those put away, instead of those at hand' })
  @IsOptional()
  @asFlag
  @IsBoolean()
  archived = false;

  @ApiPropertyOptional({ description: 'Searched for in people, subject, letter and note' })
  @IsOptional()
  @IsString()
  @MaxLength(200)
  words = '';

  @ApiPropertyOptional({ enum: LIST_ORDERS, default: 'latest' })
  @IsOptional()
  @IsIn(LIST_ORDERS)
  order: ListOrder = 'latest';

  @ApiPropertyOptional({ description: 'The smallest first, or the earliest' })
  @IsOptional()
  @asFlag
  @IsBoolean()
  rising = false;
}

export class ListPageQuery extends ListFilterQuery {
  @ApiPropertyOptional({ description: 'The nextCursor of the page before' })
  @IsOptional()
  @IsString()
  @MaxLength(40)
  cursor?: string;

  @ApiPropertyOptional({ default: 60, maximum: 200 })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(200)
  limit = 60;

  @ApiPropertyOptional({ description: 'Only these messages, by their numbers with commas between' })
  @IsOptional()
  @Matches(new RegExp(`^\\d{1,15}(,\\d{1,15}){0,${MOST_AMONG - 1}}$`), {
    message: `Name at most ${MOST_AMONG} messages by their numbers, with commas between`,
  })
  among?: string;
}
