import { Body, Controller, Delete, Get, HttpCode, Inject, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { ArrayMaxSize, IsArray, IsString, Length, Matches } from 'class-validator';
import type { AppPasswordView, SubmissionView, Trial } from '@kiraku/core/contract';
import { addressProblem } from '@kiraku/core/message';
import { tryPort } from '../delivery/portTrial.js';
import { CONFIG, type Config } from '../environment/config.js';
import { invalid, notFound } from '../http/problem.js';
import { AccountService } from '../settings/account.service.js';
import { AppPasswords } from './appPasswords.service.js';
import { SubmissionServer } from './submission.server.js';
import { SubmissionSettings } from './submission.settings.js';

class AppPasswordDto {
  @ApiProperty({ example: 'My phone' })
  @IsString()
  @Length(1, 100, { message: 'Name the app in up to 100 characters' })
  @Matches(/^[^\p{Cc}]*$/u, { message: 'The name must be a single line' })
  name: string;
}

class AddressesDto {
  @ApiProperty({ type: [String], description: 'Sender addresses allowed besides your own' })
  @IsArray()
  @ArrayMaxSize(50, { message: 'At most 50 addresses are possible' })
  @IsString({ each: true })
  addresses: string[];
}

@ApiTags('settings')
@Controller('api/settings/submission')
export class SubmissionController {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly server: SubmissionServer,
    private readonly settings: SubmissionSettings,
    private readonly passwords: AppPasswords,
    private readonly accounts: AccountService,
  ) {}

  @Get()
  @ApiOperation({ summary: 'Where other mail apps submit their mail, and with which passwords' })
  read(): SubmissionView {
    return {
      port: this.server.port,
      user: this.accounts.view()?.address ?? '',
      fingerprint: this.server.fingerprint,
      addresses: this.settings.addresses(),
      passwords: this.passwords.list(),
    };
  }

  @Put()
  @ApiOperation({ summary: 'Change which sender addresses are allowed besides your own' })
  save(@Body() { addresses }: AddressesDto): SubmissionView {
    const problem = addresses.map(addressProblem).find((found) => found !== null);
    if (problem) throw invalid(problem, [{ field: 'addresses', message: problem }]);
    this.settings.setAddresses(addresses);
    return this.read();
  }

  @Post('try')
  @HttpCode(200)
  @ApiOperation({ summary: 'Connect to the port for other mail apps, as one of them would' })
  try(): Promise<Trial> {
    return tryPort(this.config.submissionHost, this.server.port);
  }

  @Post('passwords')
  @ApiOperation({ summary: 'Make a password for a mail program; this response alone shows it' })
  make(@Body() { name }: AppPasswordDto): AppPasswordView & { password: string } {
    return this.passwords.make(name);
  }

  @Delete('passwords/:id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Revoke a password: the app that has it can submit nothing any more' })
  remove(@Param('id', ParseIntPipe) id: number): void {
    if (!this.passwords.remove(id)) throw notFound('app password');
  }
}
