import { Body, Controller, Get, HttpCode, Post, Put } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsString, Length } from 'class-validator';
import type { BackupPassphraseRequest, BackupView } from '@kiraku/core/contract';
import { invalid } from '../http/problem.js';
import { MIN_PASSPHRASE_CHARS } from '../session/passphraseStrength.js';
import { LENGTH_WORDS, MAX_PASSPHRASE_CHARS } from '../session/session.dto.js';
import { SessionService } from '../session/session.service.js';
import { BackupService } from './backup.service.js';
import { BackupSettings } from './backup.settings.js';

class BackupPassphraseDto implements BackupPassphraseRequest {
  @ApiProperty({ minLength: MIN_PASSPHRASE_CHARS })
  @IsString()
  @Length(MIN_PASSPHRASE_CHARS, MAX_PASSPHRASE_CHARS, LENGTH_WORDS)
  passphrase: string;
}

@ApiTags('backup')
@Controller('api/settings/backup')
export class BackupController {
  constructor(
    private readonly backups: BackupService,
    private readonly settings: BackupSettings,
    private readonly sessions: SessionService,
  ) {}

  @Get()
  @ApiOperation({ summary: 'The backups that there are, and when the next is made' })
  read(): BackupView {
    return this.backups.view();
  }

  @Post()
  @HttpCode(202)
  @ApiOperation({ summary: 'Make a backup now' })
  make(): BackupView {
    if (this.settings.sealedKey() === undefined) throw invalid('Choose a passphrase for your backups first.');
    this.backups.request();
    return this.read();
  }

  @Put('passphrase')
  @ApiOperation({ summary: 'Choose the passphrase that backups to come are opened with; the first makes one at once' })
  async choosePassphrase(@Body() { passphrase }: BackupPassphraseDto): Promise<BackupView> {
    await this.sessions.checkStrength(passphrase, []);
    await this.settings.choosePassphrase(passphrase);
    this.backups.request();
    return this.read();
  }
}
