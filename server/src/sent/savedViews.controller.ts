import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsString, Length, MaxLength } from 'class-validator';
import type { SavedView, SavedViewRequest } from '@kiraku/core/contract';
import { invalid, notFound } from '../http/problem.js';
import { SavedViewsRepository } from './savedViews.repository.js';

const MAX_SAVED_VIEWS = 50;

class SavedViewDto implements SavedViewRequest {
  @ApiProperty({ example: 'Last month’s unopened' })
  @IsString()
  @Length(1, 60, { message: 'Give it a name of 1 to 60 characters' })
  name: string;

  @ApiProperty({ description: 'The query of the list’s address', example: 'show=unseen&sent=last-month' })
  @IsString()
  @MaxLength(2000)
  query: string;
}

@ApiTags('messages')
@Controller('api/saved-views')
export class SavedViewsController {
  constructor(private readonly views: SavedViewsRepository) {}

  @Get()
  @ApiOperation({ summary: 'Saved filters of the list' })
  list(): SavedView[] {
    return this.views.all();
  }

  @Post()
  @ApiOperation({ summary: 'Save a filter under a name; one that has the name already is replaced' })
  save(@Body() { name, query }: SavedViewDto): SavedView {
    if (this.views.count() >= MAX_SAVED_VIEWS)
      throw invalid(`At most ${MAX_SAVED_VIEWS} views can be saved. Delete one you do not need.`);
    return this.views.save(name.trim(), query);
  }

  @Delete(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Delete a saved filter' })
  remove(@Param('id', ParseIntPipe) id: number): void {
    if (!this.views.remove(id)) throw notFound('view');
  }
}
