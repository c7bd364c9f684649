import { Module } from '@nestjs/common';
import { CONFIG, type Config } from '../environment/config.js';
import { Secrets } from '../settings/secrets.js';
import { SettingsModule } from '../settings/settings.module.js';
import { Obtaining } from './obtaining.js';
import { TlsFiles } from './tlsFiles.js';

/** A plain class: the public site, which knows no framework, has one as well. */
const TLS_FILES = {
  provide: TlsFiles,
  inject: [CONFIG, Secrets],
  useFactory: (config: Config, secrets: Secrets) => new TlsFiles(config, secrets),
};

/** Certificates of the public site. */
@Module({ imports: [SettingsModule], providers: [Obtaining, TLS_FILES], exports: [Obtaining, TlsFiles] })
export class TlsModule {}
