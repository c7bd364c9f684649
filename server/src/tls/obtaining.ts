import { X509Certificate } from 'node:crypto';
import { Inject, Injectable, Logger } from '@nestjs/common';
import { renewalAt } from '@kiraku/core/checkup';
import { HOUR } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { CONFIG, tlsNames, type Config, type TlsConfig } from '../environment/config.js';
import { AccountService } from '../settings/account.service.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { TlsFiles } from './tlsFiles.js';

/** After one that failed; authorities count failures, and shut out whoever has many of them. */
const OBTAIN_RETRY_MS = [HOUR, 3 * HOUR, 12 * HOUR, 24 * HOUR];
const CHECK_EVERY_MS = 12 * HOUR;

/** How a name is proven: at port 80, and where that is not reached, at the port of TLS. */
const CHALLENGES = ['http-01', 'tls-alpn-01'] as const;
type Challenge = (typeof CHALLENGES)[number];

type Acme = Extract<TlsConfig, { kind: 'acme' }>;

/** Obtains the certificate of the public site, and renews it in good time (RFC 8555, HTTP-01 by section 8.3, and RFC 8737). */
@Injectable()
export class Obtaining {
  private readonly logger = new Logger(Obtaining.name);
  private readonly due: DueWork;
  private failures = 0;
  private lastError: { at: number; text: string } | null = null;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly files: TlsFiles,
    private readonly accounts: AccountService,
    private readonly clock: Clock,
    works: Works,
  ) {
    this.due = works.add({ name: 'certificate', run: (stopping) => this.run(stopping) });
  }

  /** Why the last try failed, in the authority's words; null where it did not. */
  problem(): string | null {
    return this.lastError?.text ?? null;
  }

  /** Tries now what is due. Resolves when that is over. */
  wake(): Promise<void> {
    this.due.wake();
    return this.due.idle();
  }

  private async run(stopping: AbortSignal): Promise<number | null> {
    const { tls } = this.config;
    if (tls?.kind !== 'acme') return null;
    const now = this.clock.now();
    const next = Math.max(this.renewAt(), this.retryAt());
    if (next > now) return Math.min(next, now + CHECK_EVERY_MS);
    try {
      await this.obtain(tls);
      this.failures = 0;
      this.lastError = null;
      return this.clock.now() + CHECK_EVERY_MS;
    } catch (error) {
      if (stopping.aborted) return null;
      const text = error instanceof Error ? error.message : String(error);
      this.logger.error(`No certificate was obtained: ${text}`);
      this.lastError = { at: this.clock.now(), text };
      this.failures += 1;
      return this.retryAt();
    }
  }

  private retryAt(): number {
    if (!this.lastError) return 0;
    return this.lastError.at + OBTAIN_RETRY_MS[Math.min(this.failures, OBTAIN_RETRY_MS.length) - 1]!;
  }

  /** 0 where there is none, or it is for other names. */
  private renewAt(): number {
    const stored = this.files.read();
    if (!stored) return 0;
    const certificate = new X509Certificate(stored.cert);
    const isForAll = tlsNames(this.config).every((name) => certificate.checkHost(name) !== undefined);
    return isForAll ? renewalAt(Date.parse(certificate.validFrom), Date.parse(certificate.validTo)) : 0;
  }

  /** @throws why the first way failed, where no other worked either */
  private async obtain(tls: Acme): Promise<void> {
    const problems: unknown[] = [];
    for (const challenge of CHALLENGES) {
      let isAsked = false;
      try {
        return await this.obtainBy(challenge, tls, () => (isAsked = true));
      } catch (error) {
        problems.push(error);
        // Refused before any name was looked at: another way would be refused as well.
        if (!isAsked) break;
      }
    }
    throw problems[0];
  }

  private async obtainBy(challenge: Challenge, { directory }: Acme, asked: () => void): Promise<void> {
    // Loaded when it is needed, which is seldom.
    const { default: acme } = await import('acme-client');
    // A request that is refused for being one too many would be said again as it was, and then refused for its nonce.
    Object.assign(acme.axios.defaults, { acmeSettings: { retryMaxAttempts: 0 } });
    const accountKey = this.files.accountKey() ?? (await acme.crypto.createPrivateEcdsaKey()).toString();
    this.files.writeAccountKey(accountKey);
    const client = new acme.Client({ directoryUrl: directory ?? acme.directory.letsencrypt.production, accountKey });
    const names = tlsNames(this.config);
    const [key, csr] = await acme.crypto.createCsr(
      { commonName: names[0]!, altNames: names },
      await acme.crypto.createPrivateEcdsaKey(),
    );
    // Before set-up nobody has one yet; the set-up may well be made under this certificate.
    const email = this.accounts.view()?.address;
    const cert = await client.auto({
      csr,
      ...(email !== undefined && { email }),
      termsOfServiceAgreed: true,
      challengePriority: [challenge],
      // A machine at home often does not reach itself by its public name; the authority does.
      skipChallengeVerification: true,
      challengeCreateFn: async (authz, { token }, keyAuthorization) => {
        asked();
        if (challenge === 'http-01') return this.files.setProof(token, keyAuthorization);
        const ownKey = await acme.crypto.createPrivateEcdsaKey();
        const [proofKey, proof] = await acme.crypto.createAlpnCertificate(authz, keyAuthorization, ownKey);
        this.files.setTlsProof(authz.identifier.value, { cert: proof.toString(), key: proofKey.toString() });
      },
      challengeRemoveFn: (authz, { token }) =>
        Promise.resolve(
          challenge === 'http-01'
            ? this.files.setProof(token, null)
            : this.files.setTlsProof(authz.identifier.value, null),
        ),
    });
    this.files.write({ cert, key: key.toString() });
  }
}
