import { Body, Controller, Get, HttpCode, Post, Query } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { ArrayMaxSize, ArrayMinSize, IsArray, IsIn, IsInt } from 'class-validator';
import { SHELF_DEEDS, type MessagePage, type ShelfDeed } from '@kiraku/core/contract';
import { ListPageQuery } from './list.dto.js';
import { ListService } from './list.service.js';

const MOST_AT_ONCE = 1000;

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

@ApiTags('messages')
@Controller('api/messages')
export class ListController {
  constructor(private readonly list: ListService) {}

  @Get()
  @ApiOperation({ summary: 'What was sent, narrowed and sorted as is wanted; the latest happening first' })
  page(@Query() { cursor, limit, among, ...filter }: ListPageQuery): MessagePage {
    if (among === undefined) return this.list.page(filter, limit, cursor);
    return this.list.among(among.split(',').map(Number), filter);
  }

  @Post('shelf')
  @HttpCode(204)
  @ApiOperation({ summary: 'Put several messages away, take them out of the list, silence them; or undo it' })
  shelve(@Body() { ids, deed }: ShelfDto): void {
    this.list.shelve(ids, deed);
  }
}
