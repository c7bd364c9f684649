import { Inject, Injectable } from '@nestjs/common';
import { failing } from '@kiraku/core/checkup';
import type { Finding } from '@kiraku/core/contract';
import { Clock } from '../environment/clock.js';
import { CONFIG, type Config } from '../environment/config.js';
import { Secrets } from '../settings/secrets.js';
import { Obtaining } from '../tls/obtaining.js';
import type { Checks } from './check.js';
import { publicCertificate, reach, reachUrl } from './reach.js';

/** Whether recipients' programs reach the public site. */
@Injectable()
export class AddressChecks {
  readonly checks: Checks = {
    'public-address': async (signal) => (await this.reached(signal)).publicAddress,
    proxy: async (signal) => (await this.reached(signal)).proxy,
    certificate: (signal) => this.certificate(signal),
  };

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly secrets: Secrets,
    private readonly obtaining: Obtaining,
    private readonly clock: Clock,
  ) {}

  /** For a browser to ask as well. */
  url(): string {
    return reachUrl(this.config.publicUrl, this.secrets);
  }

  private certificate(signal: AbortSignal): Finding | Promise<Finding> {
    const problem = this.obtaining.problem();
    if (problem === null) return publicCertificate(this.config.publicUrl, this.clock.now(), signal);
    return failing(
      `No certificate was obtained: ${problem}`,
      'The name must lead to this machine, and port 80 or 443 be open from outside. It is tried again by itself.',
    );
  }

  private reached(signal: AbortSignal): Promise<{ publicAddress: Finding; proxy: Finding }> {
    return reach(this.config.publicUrl, this.secrets, signal);
  }
}
