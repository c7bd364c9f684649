import { execFile } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';

const run = promisify(execFile);

/** Debian puts it where only root looks. */
export const POSTFIX = '/usr/sbin/postfix';
export const hasPostfix = existsSync(POSTFIX) && process.getuid?.() === 0;

const SERVICES = `
PORT      inet  n - n - -   smtpd
pickup    unix  n - n 60 1  pickup
cleanup   unix  n - n - 0   cleanup
qmgr      unix  n - n 300 1 qmgr
rewrite   unix  - - n - -   trivial-rewrite
bounce    unix  - - n - 0   bounce
defer     unix  - - n - 0   bounce
trace     unix  - - n - 0   bounce
verify    unix  - - n - 1   verify
flush     unix  n - n 1000? 0 flush
proxymap  unix  - - n - -   proxymap
smtp      unix  - - n - -   smtp
relay     unix  - - n - -   smtp
lmtp      unix  - - n - -   lmtp
showq     unix  n - n - -   showq
error     unix  - - n - -   error
retry     unix  - - n - -   error
discard   unix  - - n - -   discard
anvil     unix  - - n - 1   anvil
scache    unix  - - n - 1   scache
virtual   unix  - n n - -   virtual
postlog   unix-dgram n - n - 1 postlogd
`;

/** A mail server of another make on loopback, with a queue, a log and a configuration of its own. */
export class Postfix {
  private constructor(private readonly folder: string) {}

  /**
   * Starts it: it takes mail on one port, and relays all of it to another.
   *
   * @param home whose mail it brings by LMTP instead, and to which port; or into which Maildir
   */
  static async start(
    port: number,
    relayPort: number,
    home?: { address: string } & ({ port: number } | { maildir: string }),
  ): Promise<Postfix> {
    const folder = mkdtempSync(join(tmpdir(), 'kiraku-postfix-'));
    const queue = join(folder, 'queue');
    const data = join(folder, 'data');
    const config = join(folder, 'config');
    for (const path of [queue, data, config]) mkdirSync(path);
    writeFileSync(join(config, 'master.cf'), SERVICES.replace('PORT', `127.0.0.1:${port}`));
    writeFileSync(
      join(config, 'main.cf'),
      [
        'compatibility_level = 3.6',
        `queue_directory = ${queue}`,
        `data_directory = ${data}`,
        `maillog_file = ${join(folder, 'mail.log')}`,
        `maillog_file_prefixes = ${folder}`,
        'inet_interfaces = 127.0.0.1',
        'inet_protocols = ipv4',
        'myhostname = relay.example',
        'mydestination =',
        'mynetworks = 127.0.0.0/8',
        `relayhost = [127.0.0.1]:${relayPort}`,
        'disable_dns_lookups = yes',
        'smtp_tls_security_level = none',
        ...settingsOf(home),
        'alias_maps =',
        'alias_database =',
        '',
      ].join('\n'),
    );
    await run('chown', ['postfix', data]);
    // Its own processes must be able to reach their queue.
    await run('chmod', ['755', folder]);
    await run(POSTFIX, ['-c', config, 'start']);
    return new Postfix(folder);
  }

  get log(): string {
    const file = join(this.folder, 'mail.log');
    return existsSync(file) ? readFileSync(file, 'utf8') : '';
  }

  /** What lies in its queue. */
  async queue(): Promise<string> {
    return (await run('/usr/sbin/postqueue', ['-c', join(this.folder, 'config'), '-p'])).stdout.trim();
  }

  async stop(): Promise<void> {
    await run(POSTFIX, ['-c', join(this.folder, 'config'), 'stop']);
    rmSync(this.folder, { recursive: true, force: true });
  }
}

function settingsOf(home: Parameters<typeof Postfix.start>[2]): string[] {
  if (!home) return [];
  if ('port' in home) return [`transport_maps = inline:{${home.address}=lmtp:[127.0.0.1]:${home.port}}`];
  return [
    `virtual_mailbox_domains = ${home.address.split('@')[1]}`,
    `virtual_mailbox_maps = inline:{${home.address}=${home.maildir.slice(1)}/}`,
    'virtual_mailbox_base = /',
    'virtual_uid_maps = static:65534',
    'virtual_gid_maps = static:65534',
  ];
}
