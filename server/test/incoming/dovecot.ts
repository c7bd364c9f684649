import { spawn, type ChildProcess } from 'node:child_process';
import {
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from '../freePort.js';

const DOVECOT = '/usr/sbin/dovecot';
/** It changes to other users, which only root may. */
export const hasDovecot = existsSync(DOVECOT) && process.getuid?.() === 0;

export const USER = 'ines';
export const PASSWORD = 'felt and reed';

/** A real Dovecot on loopback, with one user’s Maildir in a folder of its own. */
export class Dovecot {
  private child: ChildProcess | undefined;
  private written = 0;

  private constructor(
    private readonly folder: string,
    readonly port: number,
  ) {}

  static async start(): Promise<Dovecot> {
    const folder = mkdtempSync(join(tmpdir(), 'kiraku-dovecot-'));
    chmodSync(folder, 0o755);
    const dovecot = new Dovecot(folder, await freePort());
    mkdirSync(join(folder, 'run'));
    dovecot.makeFolder('');
    writeFileSync(join(folder, 'users'), `${USER}:{PLAIN}${PASSWORD}::::::\n`);
    writeFileSync(join(folder, 'dovecot.conf'), dovecot.settings());
    await dovecot.up();
    return dovecot;
  }

  /** Puts a mail into a folder, as a delivery would. The name is as Maildir++ has it: “.Sent”, “” for the inbox. */
  deliver(raw: string, name = '', encoding: BufferEncoding = 'utf8'): void {
    this.written += 1;
    const path = join(this.mail(name), 'new', `${Math.floor(Date.now() / 1000)}.${this.written}.test`);
    writeFileSync(path, raw, encoding);
    chmodSync(path, 0o666);
  }

  makeFolder(name: string): void {
    for (const part of ['cur', 'new', 'tmp']) {
      mkdirSync(join(this.mail(name), part), { recursive: true, mode: 0o777 });
      chmodSync(join(this.mail(name), part), 0o777);
    }
    chmodSync(this.mail(name), 0o777);
    if (name !== '') writeFileSync(join(this.mail(name), 'maildirfolder'), '');
  }

  /** Forgets what it knew of a folder: it is another to every program. */
  makeAnew(name = ''): void {
    for (const file of [
      'dovecot-uidlist',
      'dovecot.index',
      'dovecot.index.log',
      'dovecot.index.cache',
      'dovecot-uidvalidity',
    ])
      rmSync(join(this.mail(name), file), { force: true });
  }

  async up(): Promise<void> {
    this.child = spawn(DOVECOT, ['-F', '-c', join(this.folder, 'dovecot.conf')], { stdio: 'ignore' });
    for (const end = Date.now() + 20_000; Date.now() < end;) {
      if (await replies(this.port)) return;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    throw new Error(`Dovecot does not answer: ${this.log}`);
  }

  async down(): Promise<void> {
    const child = this.child!;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGTERM');
    await gone;
  }

  async stop(): Promise<void> {
    await this.down();
    // A process of its own that outlives it for a moment writes on in what is being removed.
    for (let tries = 1; ; tries += 1) {
      try {
        return rmSync(this.folder, { recursive: true, force: true });
      } catch (error) {
        if (tries === 50) throw error;
        await new Promise((resolve) => setTimeout(resolve, 100));
      }
    }
  }

  /** The folder of the inbox. */
  get maildir(): string {
    return this.mail('');
  }

  /** What has been delivered to the inbox, the newest first. */
  delivered(): string[] {
    const files = ['new', 'cur'].flatMap((part) =>
      readdirSync(join(this.maildir, part)).map((name) => join(this.maildir, part, name)),
    );
    return files.sort((a, b) => statSync(b).mtimeMs - statSync(a).mtimeMs).map((file) => readFileSync(file, 'latin1'));
  }

  get log(): string {
    const file = join(this.folder, 'log');
    return existsSync(file) ? readFileSync(file, 'utf8') : '';
  }

  private mail(name: string): string {
    return join(this.folder, 'mail', name);
  }

  private settings(): string {
    const { folder, port } = this;
    return `
base_dir = ${folder}/run
log_path = ${folder}/log
protocols = imap
listen = 127.0.0.1
ssl = no
disable_plaintext_auth = no
mail_location = maildir:${folder}/mail
mail_uid = nobody
mail_gid = nogroup
first_valid_uid = 1
first_valid_gid = 1
service imap-login {
  inet_listener imap {
    port = ${port}
  }
  inet_listener imaps {
    port = 0
  }
}
service stats {
  unix_listener stats-writer {
    mode = 0666
  }
}
namespace inbox {
  inbox = yes
  mailbox Gesendet {
    auto = subscribe
    special_use = \\Sent
  }
}
passdb {
  driver = passwd-file
  args = ${folder}/users
}
userdb {
  driver = static
  args = uid=nobody gid=nogroup home=${folder}/mail
}
`;
  }
}

function replies(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1');
    socket.once('data', () => {
      socket.destroy();
      resolve(true);
    });
    socket.once('error', () => resolve(false));
    socket.once('close', () => resolve(false));
  });
}
