import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsBoolean, IsString, Length, MaxLength } from 'class-validator';
import type { SavedView, SavedViewRequest, StartViewRequest } from '@kiraku/core/contract';
import { invalid, notFound } from '../http/problem.js';
import { UnitOfWork } from '../store/unitOfWork.js';
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

class StartViewDto implements StartViewRequest {
  @ApiProperty()
  @IsBoolean()
  isStart: boolean;
}

@ApiTags('messages')
@Controller('api/saved-views')
export class SavedViewsController {
  constructor(
    private readonly views: SavedViewsRepository,
    private readonly unit: UnitOfWork,
  ) {}

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

  @Put(':id/start')
  @HttpCode(204)
  @ApiOperation({ summary: 'Make a view the one that Sent begins with, or not any more' })
  setStart(@Param('id', ParseIntPipe) id: number, @Body() { isStart }: StartViewDto): void {
    if (!this.unit.commit(() => this.views.setStart(id, isStart))) throw notFound('view');
  }

  @Delete(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Delete a saved filter' })
  remove(@Param('id', ParseIntPipe) id: number): void {
    if (!this.views.remove(id)) throw notFound('view');
  }
}
