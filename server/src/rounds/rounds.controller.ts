import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { RoundRow, RoundView } from '@kiraku/core/contract';
import { AddRoundDto, LeaveOutDto, RestDto, RoundRecipientsDto, SaveRoundDto } from './rounds.dto.js';
import { RoundSending } from './roundSending.js';
import { RoundsService } from './rounds.service.js';

@ApiTags('rounds')
@Controller('api/rounds')
export class RoundsController {
  constructor(
    private readonly rounds: RoundsService,
    private readonly sending: RoundSending,
  ) {}

  @Get()
  @ApiOperation({ summary: 'Rounds: one text for several people, a message of their own for each; the newest first' })
  rows(): RoundRow[] {
    return this.rounds.rows();
  }

  @Post()
  @ApiOperation({ summary: 'Begin a round, of a draft, of people, or of the rows of a sheet' })
  add(@Body() dto: AddRoundDto): RoundView {
    return this.rounds.view(this.rounds.add(dto));
  }

  @Get(':id')
  @ApiOperation({ summary: 'One round: everybody in it, and how its wordings compare' })
  read(@Param('id', ParseIntPipe) id: number): RoundView {
    return this.rounds.view(id);
  }

  @Put(':id')
  @ApiOperation({ summary: 'Save a round; 409 where it was saved elsewhere since that revision, or while it runs' })
  save(@Param('id', ParseIntPipe) id: number, @Body() { revision, ...plan }: SaveRoundDto): RoundView {
    this.rounds.save(id, revision, plan);
    return this.rounds.view(id);
  }

  @Delete(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Delete a round of which nothing has left' })
  remove(@Param('id', ParseIntPipe) id: number): void {
    this.rounds.remove(id);
  }

  @Post(':id/recipients')
  @HttpCode(200)
  @ApiOperation({ summary: 'Add people to a round that has not begun' })
  addRecipients(@Param('id', ParseIntPipe) id: number, @Body() dto: RoundRecipientsDto): RoundView {
    this.rounds.addRecipients(id, dto);
    return this.rounds.view(id);
  }

  @Post(':id/leave-out')
  @HttpCode(200)
  @ApiOperation({ summary: 'Leave people of a round out, or take them in again' })
  leaveOut(@Param('id', ParseIntPipe) id: number, @Body() { messageIds, leftOut }: LeaveOutDto): RoundView {
    this.rounds.leaveOut(id, messageIds, leftOut);
    return this.rounds.view(id);
  }

  @Post(':id/rest')
  @HttpCode(200)
  @ApiOperation({ summary: 'Give those whose message waits one of the wordings' })
  rest(@Param('id', ParseIntPipe) id: number, @Body() { wording }: RestDto): RoundView {
    this.rounds.chooseRest(id, wording);
    return this.rounds.view(id);
  }

  @Post(':id/start')
  @HttpCode(200)
  @ApiOperation({ summary: 'Start a round: its messages leave by its pace' })
  async start(@Param('id', ParseIntPipe) id: number): Promise<RoundView> {
    await this.sending.move(id, 'start');
    return this.rounds.view(id);
  }

  @Post(':id/pause')
  @HttpCode(200)
  @ApiOperation({ summary: 'Pause a round: nothing of it leaves until it is resumed' })
  async pause(@Param('id', ParseIntPipe) id: number): Promise<RoundView> {
    await this.sending.move(id, 'pause');
    return this.rounds.view(id);
  }

  @Post(':id/resume')
  @HttpCode(200)
  @ApiOperation({ summary: 'Resume a round that was paused or stopped, from now' })
  async resume(@Param('id', ParseIntPipe) id: number): Promise<RoundView> {
    await this.sending.move(id, 'resume');
    return this.rounds.view(id);
  }

  @Post(':id/stop')
  @HttpCode(200)
  @ApiOperation({ summary: 'Stop a round: what has not left stays here' })
  async stop(@Param('id', ParseIntPipe) id: number): Promise<RoundView> {
    await this.sending.move(id, 'stop');
    return this.rounds.view(id);
  }
}
