import { createPublicKey, generateKeyPairSync } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import type { DkimView } from '@kiraku/core/contract';
import { Secrets } from './secrets.js';
import { SettingsRepository } from './settings.repository.js';

const DKIM = 'dkim';
const KEY_BITS = 2048;

interface Stored {
  domain: string;
  selector: string;
  sealedKey: string;
}

/** What a signature is made with. */
export interface DkimKey {
  domainName: string;
  keySelector: string;
  privateKey: string;
}

/** The signature (RFC 6376) that outgoing mail can carry, where the outgoing server puts none on it. */
@Injectable()
export class DkimService {
  constructor(
    private readonly settings: SettingsRepository,
    private readonly secrets: Secrets,
  ) {}

  view(): DkimView | null {
    const stored = this.stored();
    if (!stored) return null;
    const der = createPublicKey(this.secrets.open(stored.sealedKey)).export({ type: 'spki', format: 'der' });
    // RFC 6376, section 3.6.1
    const record = `v=DKIM1; k=rsa; p=${der.toString('base64')}`;
    return { domain: stored.domain, selector: stored.selector, record };
  }

  /** Signs from now on for a domain, with a new key of our own making. */
  start(domain: string, selector: string): DkimView {
    const { privateKey } = generateKeyPairSync('rsa', {
      modulusLength: KEY_BITS,
      publicKeyEncoding: { type: 'spki', format: 'pem' },
      privateKeyEncoding: { type: 'pkcs8', format: 'pem' },
    });
    const stored: Stored = { domain, selector, sealedKey: this.secrets.seal(privateKey) };
    this.settings.set(DKIM, stored);
    return this.view()!;
  }

  stop(): void {
    this.settings.remove(DKIM);
  }

  key(): DkimKey | undefined {
    const stored = this.stored();
    if (!stored) return undefined;
    const { domain, selector, sealedKey } = stored;
    return { domainName: domain, keySelector: selector, privateKey: this.secrets.open(sealedKey) };
  }

  private stored(): Stored | undefined {
    return this.settings.get<Stored>(DKIM);
  }
}
