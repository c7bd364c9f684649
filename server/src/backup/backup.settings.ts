import { Inject, Injectable } from '@nestjs/common';
import { CONFIG, type Config } from '../environment/config.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { readOrMakeKey } from '../settings/secrets.js';
import { sealWithPassphrase } from './sealing.js';

/** Where the key of the data folder stands, sealed with the passphrase of the backups. */
const BACKUP_KEY = 'backup.key';

/** What backups are opened with. */
@Injectable()
export class BackupSettings {
  constructor(
    @Inject(CONFIG) private readonly config: Pick<Config, 'dataDir'>,
    private readonly settings: SettingsRepository,
  ) {}

  /** The key of the data folder as it goes into backups; undefined where no passphrase was chosen. */
  sealedKey(): string | undefined {
    return this.settings.get<string>(BACKUP_KEY);
  }

  /** From now on backups are opened with this passphrase; those that there are keep theirs. */
  async choosePassphrase(passphrase: string): Promise<void> {
    const key = readOrMakeKey(this.config).toString('base64url');
    this.settings.set(BACKUP_KEY, await sealWithPassphrase(passphrase, key));
  }
}
