import { Body, Controller, Delete, Get, HttpCode, Inject, Param, ParseIntPipe, Post } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsString, Matches, MaxLength } from 'class-validator';
import type { PushDevice, PushDeviceRequest } from '@kiraku/core/contract';
import { CONFIG, type Config } from '../environment/config.js';
import { invalid, notFound } from '../http/problem.js';
import { PushService } from './push.service.js';
import { Vapid } from './vapid.js';

/** A push service is spoken to over TLS (RFC 8030, section 8.1); the stand-in's need not be. */
const ENDPOINT = /^https:\/\//;
const STANDIN_ENDPOINT = /^http:\/\/(127\.0\.0\.1|localhost)[:/]/;
const BASE64URL = /^[\w-]+=*$/;

class PushDeviceDto implements PushDeviceRequest {
  @ApiProperty({ example: 'Firefox on the phone' })
  @IsString()
  @MaxLength(120)
  name: string;

  @ApiProperty({ description: 'Where its push service takes messages for it' })
  @IsString()
  @MaxLength(2000)
  endpoint: string;

  @ApiProperty({ description: 'The browser’s public key, base64url' })
  @MaxLength(200)
  @Matches(BASE64URL)
  p256dh: string;

  @ApiProperty({ description: 'The browser’s authentication secret, base64url' })
  @MaxLength(100)
  @Matches(BASE64URL)
  auth: string;
}

@ApiTags('notifications')
@Controller('api/settings/push')
export class PushController {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly push: PushService,
    private readonly vapid: Vapid,
  ) {}

  @Get()
  @ApiOperation({ summary: 'Browsers that are notified while no window is open, and the key they know this desk by' })
  view(): { publicKey: string; devices: PushDevice[] } {
    return { publicKey: this.vapid.publicKey(), devices: this.push.view() };
  }

  @Post('devices')
  @ApiOperation({ summary: 'Notify a browser from now on' })
  add(@Body() dto: PushDeviceDto): { id: number } {
    if (!ENDPOINT.test(dto.endpoint) && !(this.config.isDemo && STANDIN_ENDPOINT.test(dto.endpoint))) {
      const problem = 'The address of a push service begins with https://';
      throw invalid(`${problem}.`, [{ field: 'endpoint', message: problem }]);
    }
    return { id: this.push.add({ ...dto }) };
  }

  @Post('devices/:id/trial')
  @HttpCode(204)
  @ApiOperation({ summary: 'Send one of them a test notification' })
  async trial(@Param('id', ParseIntPipe) id: number): Promise<void> {
    const problem = await this.push.trial(id);
    if (problem !== null) throw invalid(problem);
  }

  @Delete('devices/:id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Stop notifying a browser' })
  remove(@Param('id', ParseIntPipe) id: number): void {
    if (!this.push.remove(id)) throw notFound('device');
  }
}
