import { Injectable } from '@nestjs/common';
import type { FilesView } from '@kiraku/core/contract';
import { FILE_LIMITS } from '@kiraku/core/files';
import { SettingsRepository } from '../settings/settings.repository.js';

const FILES = 'files';
type Kept = Omit<FilesView, 'converts'>;
const DEFAULTS: Kept = { maxBytes: FILE_LIMITS.defaultMaxFileBytes, submitted: { kinds: [], fromBytes: 1_000_000 } };

@Injectable()
export class FilesSettings {
  constructor(private readonly settings: SettingsRepository) {}

  view(): Kept {
    return { ...DEFAULTS, ...this.settings.get<Partial<Kept>>(FILES) };
  }

  save(view: Kept): void {
    this.settings.set(FILES, view);
  }
}
