import { applyDecorators } from '@nestjs/common';
import { ApiPropertyOptional } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsInt, IsOptional, IsString, Max, MaxLength, Min } from 'class-validator';
import { ROWS_PER_PAGE } from '@kiraku/core/contract';
import { invalid } from './problem.js';

const MAX_ROWS_PER_PAGE = 200;

/** Of a query: where to go on. */
export const Cursor = () =>
  applyDecorators(
    ApiPropertyOptional({ description: 'The nextCursor of the page before', type: String }),
    IsOptional(),
    IsString(),
    MaxLength(40),
  );

/** Of a query: how many rows at most. */
export const Limit = () =>
  applyDecorators(
    ApiPropertyOptional({ default: ROWS_PER_PAGE, maximum: MAX_ROWS_PER_PAGE, type: Number }),
    IsOptional(),
    Type(() => Number),
    IsInt(),
    Min(1),
    Max(MAX_ROWS_PER_PAGE),
  );

/** Which part of a long list is asked for. */
export class PageQuery {
  @Cursor() cursor?: string;
  @Limit() limit = ROWS_PER_PAGE;
}

/** A place in a list: by what it is sorted by, and by number where that is the same. */
export interface Place {
  value: number;
  id: number;
}

/**
 * The place behind which a page begins; null for the first one.
 *
 * @throws 422 where the cursor is none of ours
 */
export function placeOf(cursor: string | undefined): Place | null {
  if (cursor === undefined) return null;
  const match = /^(-?\d{1,16})\.(\d{1,15})$/.exec(cursor);
  if (!match) throw invalid('This place in the list is not known. Load the list again from its start.');
  return { value: Number(match[1]), id: Number(match[2]) };
}

/** The cursor of the page after some rows; null where they were fewer than asked for. */
export function cursorAfter(places: readonly Place[], limit: number): string | null {
  const last = places.at(-1);
  return last && places.length === limit ? `${last.value}.${last.id}` : null;
}
