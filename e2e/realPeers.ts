import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { AcmeServer } from '@kiraku/standin/acme/acmeServer';
import { freePort } from '../server/test/freePort.js';
import { Dovecot, hasDovecot } from '../server/test/incoming/dovecot.js';
import { hasPostfix, Postfix } from '../server/test/submission/postfix.js';

/** Mail servers must be started by root; where they cannot be, the run says so as skipped. */
export const hasRealPeers = hasPostfix && hasDovecot;
export const OWNER = 'ines@tallowreed.example';
const ROOT = fileURLToPath(new URL('..', import.meta.url));

/** Kiraku on an empty folder, with a mail server, a mailbox and an authority for certificates that are not ours. */
export class RealPeers {
  printed = '';
  private server: ChildProcess | undefined;

  private constructor(
    private readonly folder: string,
    readonly desk: string,
    readonly publicUrl: string,
    readonly smtpPort: number,
    readonly dovecot: Dovecot,
    private readonly postfix: Postfix,
    private readonly acme: AcmeServer,
  ) {}

  static async start(): Promise<RealPeers> {
    const ports = await Promise.all(Array.from({ length: 8 }, freePort));
    const [desk, site, plain, submission, submissionTls, lmtp, smtp, relay] = ports as [
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    const folder = mkdtempSync(join(tmpdir(), 'kiraku-peers-'));
    const dovecot = await Dovecot.start();
    const postfix = await Postfix.start(smtp, relay, { address: OWNER, maildir: dovecot.maildir });
    const acme = await AcmeServer.start({ days: 90, provePort: plain, proveTlsPort: site });
    const publicUrl = `https://track.reed.example:${site}`;
    const peers = new RealPeers(folder, `http://127.0.0.1:${desk}`, publicUrl, smtp, dovecot, postfix, acme);
    mkdirSync(join(folder, 'data'), { mode: 0o700 });
    writeFileSync(join(folder, 'root.pem'), acme.authority.root);
    peers.run({
      KIRAKU_DATA: join(folder, 'data'),
      KIRAKU_CONFIG: '',
      KIRAKU_PORT: String(desk),
      KIRAKU_PUBLIC_HOST: '127.0.0.1',
      KIRAKU_PUBLIC_PORT: String(site),
      KIRAKU_PUBLIC_URL: publicUrl,
      KIRAKU_PLAIN_PORT: String(plain),
      KIRAKU_TLS: 'acme',
      KIRAKU_ACME: acme.directory,
      KIRAKU_SUBMISSION_HOST: '0.0.0.0',
      KIRAKU_SUBMISSION_PORT: String(submission),
      KIRAKU_SUBMISSION_TLS_PORT: String(submissionTls),
      KIRAKU_LMTP_PORT: String(lmtp),
      NODE_EXTRA_CA_CERTS: join(folder, 'root.pem'),
      NODE_OPTIONS: '--import ./e2e/names.mjs',
    });
    return peers;
  }

  /** How often a certificate was signed. */
  get signed(): number {
    return this.acme.signed;
  }

  async stop(): Promise<void> {
    const gone = new Promise((resolve) => this.server!.once('exit', resolve));
    this.server!.kill('SIGTERM');
    await gone;
    this.acme.stop();
    await this.postfix.stop();
    await this.dovecot.stop();
    rmSync(this.folder, { recursive: true });
  }

  private run(env: Record<string, string>): void {
    this.server = spawn(process.execPath, ['server/dist/bundle/supervisor.js'], {
      cwd: ROOT,
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.server.stdout!.on('data', (chunk) => (this.printed += chunk));
  }
}
