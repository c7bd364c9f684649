import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post, Put, Req, Inject } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { ArrayMaxSize, IsArray, IsBoolean, IsIn, IsInt, IsString, Max, Min, ValidateIf } from 'class-validator';
import type { Request } from 'express';
import {
  COLLEAGUE_CHOICES,
  PLACE_CHOICES,
  type ColleagueChoice,
  type JudgingProgress,
  type JudgingView,
  type PlaceChoice,
} from '@kiraku/core/contract';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { networkOf, readNetwork } from '@kiraku/core/tracking';
import { CONFIG, type Config } from '../config.js';
import { invalid, notFound } from '../http/problem.js';
import { Judging } from './judging.js';
import { JudgingSettings } from './judging.settings.js';
import { OwnBrowsers } from './ownBrowsers.js';
import { Recorder } from './recorder.js';

const MOST_NETWORKS = 200;

class JudgingDto implements JudgingView {
  @ApiProperty({ type: [String], description: 'Your own addresses and networks, like 192.0.2.0/24 or 2001:db8::/32' })
  @IsArray()
  @ArrayMaxSize(MOST_NETWORKS)
  @IsString({ each: true })
  ownNetworks: string[];

  @ApiProperty({ enum: COLLEAGUE_CHOICES, description: 'What becomes of looks by recipients of your own domain' })
  @IsIn(COLLEAGUE_CHOICES)
  colleagues: ColleagueChoice;

  @ApiProperty({ description: 'Whether readers whose browser asks not to be tracked are set aside' })
  @IsBoolean()
  respectWish: boolean;

  @ApiProperty({ type: Number, nullable: true, description: 'Days after sending after which looks are set aside' })
  @ValidateIf((dto: JudgingDto) => dto.trackForDays !== null)
  @IsInt()
  @Min(1)
  @Max(MESSAGE_LIMITS.trackForDays)
  trackForDays: number | null;

  @ApiProperty({ type: Number, nullable: true, description: 'Days after sending after which looks do not ring' })
  @ValidateIf((dto: JudgingDto) => dto.ringForDays !== null)
  @IsInt()
  @Min(1)
  @Max(MESSAGE_LIMITS.trackForDays)
  ringForDays: number | null;

  @ApiProperty({ enum: PLACE_CHOICES, description: 'How closely the place of a reader’s address is kept' })
  @IsIn(PLACE_CHOICES)
  place: PlaceChoice;

  @ApiProperty({ type: [String], description: 'Proxies that are believed when they name whom they forward for' })
  @IsArray()
  @ArrayMaxSize(MOST_NETWORKS)
  @IsString({ each: true })
  proxies: string[];
}

class ByHandDto {
  @ApiProperty({ type: Boolean, nullable: true, description: 'Whether it counts; null leaves it to the rules' })
  @ValidateIf((dto: ByHandDto) => dto.counted !== null)
  @IsBoolean()
  counted: boolean | null;
}

@ApiTags('judging')
@Controller('api')
export class JudgingController {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly settings: JudgingSettings,
    private readonly judging: Judging,
    private readonly recorder: Recorder,
    private readonly ownBrowsers: OwnBrowsers,
  ) {}

  @Get('settings/judging')
  @ApiOperation({ summary: 'How looks are judged, and the network this request comes from' })
  read(@Req() request: Request): JudgingView & { thisNetwork: string } {
    return { ...this.settings.view(), thisNetwork: networkOf(request.ip ?? '') };
  }

  @Put('settings/judging')
  @ApiOperation({ summary: 'Change how looks are judged; what was judged before stays until it is judged again' })
  save(@Body() dto: JudgingDto, @Req() request: Request): JudgingView & { thisNetwork: string } {
    for (const field of ['ownNetworks', 'proxies'] as const) {
      const wrong = dto[field].find((text) => readNetwork(text) === null);
      if (wrong === undefined) continue;
      const message = `“${wrong}” is neither an address nor a network. Write it like 192.0.2.7, 192.0.2.0/24 or 2001:db8::/32.`;
      throw invalid(message, [{ field, message }]);
    }
    this.settings.save({ ...dto });
    return this.read(request);
  }

  @Post('settings/own-browser')
  @HttpCode(200)
  @ApiOperation({ summary: 'An address of the public door that makes the browser which visits it known as yours' })
  invite(): { url: string } {
    return { url: this.config.publicUrl + this.ownBrowsers.invite() };
  }

  @Get('judging')
  @ApiOperation({ summary: 'How far judging everything again has come; null where it is not under way' })
  progress(): { progress: JudgingProgress | null } {
    return { progress: this.judging.progress() };
  }

  @Post('judging')
  @HttpCode(202)
  @ApiOperation({ summary: 'Judge everything again, by the rules and settings of now' })
  begin(): { progress: JudgingProgress } {
    return { progress: this.judging.begin() };
  }

  @Put('events/:id/by-hand')
  @HttpCode(204)
  @ApiOperation({ summary: 'Say yourself whether a look counts; it stays so when judged again' })
  setByHand(@Param('id', ParseIntPipe) id: number, @Body() { counted }: ByHandDto): void {
    if (this.recorder.setByHand(id, counted) === undefined) throw notFound('look that can be judged');
  }
}
