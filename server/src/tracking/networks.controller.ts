import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Put, Query } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsIn } from 'class-validator';
import { NETWORK_KINDS, type NetworkKind, type NetworkPage, type NetworkView } from '@kiraku/core/contract';
import { countsAt, seenAs } from '@kiraku/core/tracking';
import { Clock } from '../environment/clock.js';
import { cursorAfter, PageQuery, placeOf } from '../http/paging.js';
import { notFound } from '../http/problem.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { HostedNetworks } from './hostedNetworks.js';
import { NetworksRepository, type NetworkRow } from './networks.repository.js';

class NameDto {
  @ApiProperty({
    enum: NETWORK_KINDS,
    nullable: true,
    description: 'A security filter, or where people read; null leaves it to what is seen',
  })
  @IsIn([...NETWORK_KINDS, null])
  namedAs: NetworkKind | null;
}

@ApiTags('judging')
@Controller('api/settings/networks')
export class NetworksController {
  private readonly hosted = HostedNetworks.read();

  constructor(
    private readonly networks: NetworksRepository,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  @Get()
  @ApiOperation({ summary: 'What networks were seen to be, the last seen first' })
  page(@Query() { cursor, limit }: PageQuery): NetworkPage {
    const rows = this.networks.page(limit, placeOf(cursor));
    return {
      networks: rows.map((row) => this.viewOf(row)),
      nextCursor: cursorAfter(
        rows.map(({ at, id }) => ({ value: at, id })),
        limit,
      ),
    };
  }

  @Put(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Say what a network is; it holds for new activity' })
  name(@Param('id', ParseIntPipe) id: number, @Body() { namedAs }: NameDto): void {
    if (!this.unit.commit(() => this.networks.name(id, namedAs))) throw notFound('network');
  }

  @Delete(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Forget what was learnt of a network' })
  forget(@Param('id', ParseIntPipe) id: number): void {
    if (!this.unit.commit(() => this.networks.forget(id))) throw notFound('network');
  }

  private viewOf({ id, prefix, namedAs, at, ...counts }: NetworkRow): NetworkView {
    const now = countsAt({ ...counts, at }, this.clock.now());
    return {
      id,
      prefix,
      owner: this.hosted.ownerOf(prefix.split('/')[0]!),
      filter: rounded(now.filter),
      people: rounded(now.people),
      seenAs: seenAs(now),
      namedAs,
      at,
    };
  }
}

function rounded(count: number): number {
  return Math.round(10 * count) / 10;
}
