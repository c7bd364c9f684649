import { Body, Controller, Get, HttpCode, Post, Query } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import { ArrayMaxSize, ArrayMinSize, IsArray, IsIn, IsInt, IsOptional, IsString, MaxLength } from 'class-validator';
import { SHELF_DEEDS, type ListTotals, type MessagePage, type ShelfDeed } from '@kiraku/core/contract';
import { ListFilterQuery, ListPageQuery } from './list.dto.js';
import { ListRepository } from './list.repository.js';
import { ListService } from './list.service.js';

const MOST_AT_ONCE = 1000;
const MOST_LINKS = 20;

class ShelfDto {
  @ApiProperty({ type: [Number], description: 'Numbers of messages' })
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MOST_AT_ONCE, { message: `At most ${MOST_AT_ONCE} messages at once` })
  @IsInt({ each: true })
  ids: number[];

  @ApiProperty({ enum: SHELF_DEEDS })
  @IsIn(SHELF_DEEDS)
  deed: ShelfDeed;
}

class LinksQuery {
  @ApiPropertyOptional({ description: 'A part of their words' })
  @IsOptional()
  @IsString()
  @MaxLength(200)
  words?: string;
}

@ApiTags('messages')
@Controller('api/messages')
export class ListController {
  constructor(
    private readonly list: ListService,
    private readonly links: ListRepository,
  ) {}

  @Get('links/followed')
  @ApiOperation({ summary: 'The words of links that were followed, the most followed first' })
  followedLinks(@Query() { words = '' }: LinksQuery): string[] {
    return this.links.followedLinks(words, MOST_LINKS);
  }

  @Get()
  @ApiOperation({ summary: 'What was sent, narrowed and sorted as is wanted; the latest happening first' })
  page(@Query() { cursor, limit, among, ...filter }: ListPageQuery): MessagePage {
    if (among === undefined) return this.list.page(filter, limit, cursor);
    return this.list.among(among.split(',').map(Number), filter);
  }

  @Get('list/totals')
  @ApiOperation({ summary: 'How many messages a filter shows, and how many there are' })
  totals(@Query() filter: ListFilterQuery): ListTotals {
    return this.list.totals(filter);
  }

  @Post('shelf')
  @HttpCode(204)
  @ApiOperation({ summary: 'Put several messages away, take them out of the list, silence them; or undo it' })
  shelve(@Body() { ids, deed }: ShelfDto): void {
    this.list.shelve(ids, deed);
  }
}
