import { applyDecorators } from '@nestjs/common';
import { ApiPropertyOptional } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsInt, IsOptional, Max, Min } from 'class-validator';
import { MAX_DATE_MS } from '@kiraku/core/contract';

/** Of a query: a time in epoch milliseconds that may be left out. */
export const Moment = (description: string) =>
  applyDecorators(
    ApiPropertyOptional({ type: Number, description: `${description}; epoch milliseconds` }),
    IsOptional(),
    Type(() => Number),
    IsInt(),
    Min(0),
    Max(MAX_DATE_MS),
  );
