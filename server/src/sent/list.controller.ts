import { Body, Controller, Get, HttpCode, Post, Query } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import { ArrayMaxSize, ArrayMinSize, IsArray, IsIn, IsInt, IsOptional, IsString, MaxLength } from 'class-validator';
import {
  MAX_SELECTED,
  LIST_ACTIONS,
  type ListTotals,
  type MessagePage,
  type ListAction,
  type ListActionRequest,
} from '@kiraku/core/contract';
import { ListFilterQuery, ListPageQuery } from './list.dto.js';
import { ListRepository } from './list.repository.js';
import { ListService } from './list.service.js';

const MAX_LINK_SUGGESTIONS = 20;

class ListActionDto implements ListActionRequest {
  @ApiProperty({ type: [Number], description: 'Numbers of messages' })
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MAX_SELECTED, { message: `At most ${MAX_SELECTED} messages at once` })
  @IsInt({ each: true })
  ids: number[];

  @ApiProperty({ enum: LIST_ACTIONS })
  @IsIn(LIST_ACTIONS)
  action: ListAction;
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
  @ApiOperation({ summary: 'The texts of links that were clicked, the most clicked first' })
  followedLinks(@Query() { words = '' }: LinksQuery): string[] {
    return this.links.followedLinks(words, MAX_LINK_SUGGESTIONS);
  }

  @Get()
  @ApiOperation({ summary: 'Sent messages, filtered and sorted; the latest activity first by default' })
  page(@Query() { cursor, limit, among, ...filter }: ListPageQuery): MessagePage {
    if (among === undefined) return this.list.page(filter, limit, cursor);
    return this.list.among(among.split(',').map(Number), filter);
  }

  @Get('list/totals')
  @ApiOperation({ summary: 'How many messages a filter shows, and how many there are' })
  totals(@Query() filter: ListFilterQuery): ListTotals {
    return this.list.totals(filter);
  }

  @Post('actions')
  @HttpCode(204)
  @ApiOperation({ summary: 'Archive, delete or mute several messages; or undo it' })
  applyAction(@Body() { ids, action }: ListActionDto): void {
    this.list.applyAction(ids, action);
  }
}
