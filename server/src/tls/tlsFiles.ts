import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Config } from '../environment/config.js';
import type { Secrets } from '../settings/secrets.js';

/** A chain of certificates and the key of the first, each PEM. */
export interface Certificate {
  cert: string;
  key: string;
}

/** How an authority names what it looks for (RFC 8555, section 8.3). */
const TOKEN = /^[\w-]{16,200}$/;
const NAME = /^[a-z\d](?:[a-z\d.-]{0,251}[a-z\d])?$/;
const TLS_PROOF = 'tls-proof-';

/**
 * What is kept for TLS in the data folder: the certificate with its key, the key of the account at the authority, and the
 * proofs that a name leads here. The desk writes it, and the public site reads it. Keys are sealed.
 */
export class TlsFiles {
  private readonly folder: string;
  /** When the folder was changed that was last looked into, and what was found. */
  private lookedAt = 0;
  private isProving = false;

  constructor(
    private readonly config: Pick<Config, 'dataDir' | 'tls'>,
    private readonly secrets: Secrets,
  ) {
    this.folder = join(config.dataDir, 'tls');
  }

  /** Null where there is none yet. */
  read(): Certificate | null {
    const { tls } = this.config;
    if (tls?.kind === 'files')
      return { cert: readFileSync(tls.certificate, 'utf8'), key: readFileSync(tls.key, 'utf8') };
    const file = this.fileOf('certificate.json');
    if (!existsSync(file)) return null;
    const { cert, sealedKey } = JSON.parse(readFileSync(file, 'utf8')) as { cert: string; sealedKey: string };
    return { cert, key: this.secrets.open(sealedKey) };
  }

  /** When what {@link read} reads was changed last; 0 where there is none. */
  changedAt(): number {
    const { tls } = this.config;
    const files = tls?.kind === 'files' ? [tls.certificate, tls.key] : [this.fileOf('certificate.json')];
    return Math.max(...files.map((file) => statSync(file, { throwIfNoEntry: false })?.mtimeMs ?? 0));
  }

  write({ cert, key }: Certificate): void {
    this.put('certificate.json', JSON.stringify({ cert, sealedKey: this.secrets.seal(key) }));
  }

  /** The key of the account at the authority; null where there is none yet. */
  accountKey(): string | null {
    const file = this.fileOf('account.key');
    return existsSync(file) ? this.secrets.open(readFileSync(file, 'utf8')) : null;
  }

  writeAccountKey(key: string): void {
    this.put('account.key', this.secrets.seal(key));
  }

  /** What proves a name under a token; null where nothing is. */
  proof(token: string): string | null {
    const file = TOKEN.test(token) ? this.fileOf(`proof-${token}`) : null;
    return file !== null && existsSync(file) ? readFileSync(file, 'utf8') : null;
  }

  /** @param proof null to remove it */
  setProof(token: string, proof: string | null): void {
    if (!TOKEN.test(token)) throw new RangeError('Not a token');
    if (proof === null) rmSync(this.fileOf(`proof-${token}`), { force: true });
    else this.put(`proof-${token}`, proof);
  }

  /** What proves a name to an authority that asks for it by TLS (RFC 8737); null where nothing does. */
  tlsProof(name: string): Certificate | null {
    const file = this.fileOf(`${TLS_PROOF}${name}`);
    if (!NAME.test(name) || !existsSync(file)) return null;
    const { cert, sealedKey } = JSON.parse(readFileSync(file, 'utf8')) as { cert: string; sealedKey: string };
    return { cert, key: this.secrets.open(sealedKey) };
  }

  /** @param proof null to remove it */
  setTlsProof(name: string, proof: Certificate | null): void {
    if (!NAME.test(name)) throw new RangeError('Not a name');
    if (proof === null) rmSync(this.fileOf(`${TLS_PROOF}${name}`), { force: true });
    else this.put(`${TLS_PROOF}${name}`, JSON.stringify({ cert: proof.cert, sealedKey: this.secrets.seal(proof.key) }));
  }

  /** Whether any name is just being proven by TLS. */
  isProvingByTls(): boolean {
    const changedAt = statSync(this.folder, { throwIfNoEntry: false })?.mtimeMs ?? 0;
    if (changedAt !== this.lookedAt) {
      this.lookedAt = changedAt;
      this.isProving = changedAt > 0 && readdirSync(this.folder).some((file) => file.startsWith(TLS_PROOF));
    }
    return this.isProving;
  }

  /** A file is whole, or is not there. */
  private put(name: string, text: string): void {
    mkdirSync(this.folder, { recursive: true, mode: 0o700 });
    const file = this.fileOf(name);
    writeFileSync(`${file}.part`, text, { mode: 0o600, flush: true });
    renameSync(`${file}.part`, file);
  }

  private fileOf(name: string): string {
    return join(this.folder, name);
  }
}
