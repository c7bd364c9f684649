import { Inject, Injectable } from '@nestjs/common';
import type { Finding } from '@kiraku/core/contract';
import { Clock } from '../environment/clock.js';
import { CONFIG, type Config } from '../environment/config.js';
import { Secrets } from '../settings/secrets.js';
import type { Checks } from './check.js';
import { publicCertificate, reach, reachUrl } from './reach.js';

/** Whether recipients' programs reach the public site. */
@Injectable()
export class AddressChecks {
  readonly checks: Checks = {
    'public-address': async (signal) => (await this.reached(signal)).publicAddress,
    proxy: async (signal) => (await this.reached(signal)).proxy,
    certificate: (signal) => publicCertificate(this.config.publicUrl, this.clock.now(), signal),
  };

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly secrets: Secrets,
    private readonly clock: Clock,
  ) {}

  /** For a browser to ask as well. */
  url(): string {
    return reachUrl(this.config.publicUrl, this.secrets);
  }

  private reached(signal: AbortSignal): Promise<{ publicAddress: Finding; proxy: Finding }> {
    return reach(this.config.publicUrl, this.secrets, signal);
  }
}
