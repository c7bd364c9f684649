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
  type OverrideRequest,
  type SimilarHits,
} from '@kiraku/core/contract';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { networkOf, readNetwork } from '@kiraku/core/tracking';
import { CONFIG, type Config } from '../environment/config.js';
import { invalid, notFound } from '../http/problem.js';
import { EventsRepository } from './events.repository.js';
import { Judging } from './judging.js';
import { JudgingSettings } from './judging.settings.js';
import { NetworksRepository } from './networks.repository.js';
import { OwnBrowsers } from './ownBrowsers.js';
import { Recorder } from './recorder.js';

const MAX_NETWORKS = 200;
/** So many past hits are offered to be changed together. */
const MAX_OVERRIDES = 200;

class JudgingDto implements JudgingView {
  @ApiProperty({ type: [String], description: 'Your own addresses and networks, like 192.0.2.0/24 or 2001:db8::/32' })
  @IsArray()
  @ArrayMaxSize(MAX_NETWORKS)
  @IsString({ each: true })
  ownNetworks: string[];

  @ApiProperty({ enum: COLLEAGUE_CHOICES, description: 'What becomes of activity by recipients of your own domain' })
  @IsIn(COLLEAGUE_CHOICES)
  colleagues: ColleagueChoice;

  @ApiProperty({ description: 'Whether readers whose browser asks not to be tracked are not counted' })
  @IsBoolean()
  respectDnt: boolean;

  @ApiProperty({ type: Number, nullable: true, description: 'Days after sending after which activity is not counted' })
  @ValidateIf((dto: JudgingDto) => dto.trackForDays !== null)
  @IsInt()
  @Min(1)
  @Max(MESSAGE_LIMITS.maxTrackForDays)
  trackForDays: number | null;

  @ApiProperty({ type: Number, nullable: true, description: 'Days after sending after which activity does not notify' })
  @ValidateIf((dto: JudgingDto) => dto.notifyForDays !== null)
  @IsInt()
  @Min(1)
  @Max(MESSAGE_LIMITS.maxTrackForDays)
  notifyForDays: number | null;

  @ApiProperty({ enum: PLACE_CHOICES, description: 'How closely the place of a reader’s address is kept' })
  @IsIn(PLACE_CHOICES)
  place: PlaceChoice;

  @ApiProperty({ type: [String], description: 'Proxies that are trusted to name whom they forward for' })
  @IsArray()
  @ArrayMaxSize(MAX_NETWORKS)
  @IsString({ each: true })
  proxies: string[];
}

class OverrideDto implements OverrideRequest {
  @ApiProperty({ type: Boolean, nullable: true, description: 'Whether it counts; null leaves it to the rules' })
  @ValidateIf((dto: OverrideDto) => dto.counted !== null)
  @IsBoolean()
  counted: boolean | null;
}

class OverridesDto extends OverrideDto {
  @ApiProperty({ type: [Number], description: `The events, at most ${MAX_OVERRIDES}` })
  @IsArray()
  @ArrayMaxSize(MAX_OVERRIDES)
  @IsInt({ each: true })
  eventIds: number[];
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
    private readonly events: EventsRepository,
    private readonly networks: NetworksRepository,
  ) {}

  @Get('settings/judging')
  @ApiOperation({ summary: 'What counts, and the network this request comes from' })
  read(@Req() request: Request): JudgingView & { thisNetwork: string } {
    return { ...this.settings.view(), thisNetwork: networkOf(request.ip ?? '') };
  }

  @Put('settings/judging')
  @ApiOperation({ summary: 'Change what counts; past activity stays as it is until the rules are applied to it' })
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
  @ApiOperation({ summary: 'An address of the public site that makes the browser which visits it known as yours' })
  invite(): { url: string } {
    return { url: this.config.publicUrl + this.ownBrowsers.invite() };
  }

  @Get('rejudge')
  @ApiOperation({ summary: 'How far applying the rules to past activity has come; null where it is not under way' })
  progress(): { progress: JudgingProgress | null } {
    return { progress: this.judging.progress() };
  }

  @Post('rejudge')
  @HttpCode(202)
  @ApiOperation({ summary: 'Apply the rules to past activity, by the rules and settings of now' })
  begin(): { progress: JudgingProgress } {
    return { progress: this.judging.begin() };
  }

  @Get('events/:id/similar')
  @ApiOperation({ summary: 'Past hits like one that the user has decided on, which are judged otherwise' })
  similar(@Param('id', ParseIntPipe) id: number): SimilarHits {
    const [decided] = this.events.byIds([id]);
    if (decided?.override == null) throw notFound('hit that you have decided on');
    return { eventIds: this.networks.similar(id, !decided.override, MAX_OVERRIDES) };
  }

  @Put('events/override')
  @HttpCode(204)
  @ApiOperation({ summary: 'Override whether several events count' })
  setOverrides(@Body() { eventIds, counted }: OverridesDto): void {
    this.recorder.setOverrides(eventIds, counted);
  }

  @Put('events/:id/override')
  @HttpCode(204)
  @ApiOperation({ summary: 'Override whether an event counts; it stays so when the rules are applied again' })
  setOverride(@Param('id', ParseIntPipe) id: number, @Body() { counted }: OverrideDto): void {
    if (this.recorder.setOverrides([id], counted).length === 0) throw notFound('look that can be judged');
  }
}
