import { join, resolve } from 'node:path';
import { readNetwork } from '@kiraku/core/tracking';
import { settingsOf } from './configFile.js';

/** How the public site is encrypted by itself. */
export type TlsConfig = {
  /** Where whoever comes without encryption is led to it, and names are proven. */
  plainPort: number;
} & (
  | {
      /** Certificates are obtained (RFC 8555). */
      kind: 'acme';
      /** The address of the authority’s directory; null for the usual one. */
      directory: string | null;
    }
  | { kind: 'files'; certificate: string; key: string }
);

/** Everything that is set in the environment or the configuration file; see the README for the meaning of each name. */
export interface Config {
  dataDir: string;
  /** Where backups go. */
  backupDir: string;
  /** What is run after each backup, to copy it to another machine; null for nothing. */
  backupCommand: string | null;
  /** Where the log goes; null for the error stream. */
  logFile: string | null;
  host: string;
  port: number;
  publicHost: string;
  publicPort: number;
  /** Where other mail programs hand their mail in, by STARTTLS; and, where it is not null, by TLS from the start (RFC 8314). */
  submissionHost: string;
  submissionPort: number;
  submissionTlsPort: number | null;
  /** Where a mail server may deliver mail: whoever reaches it can deliver any, so that it is loopback unless told otherwise. */
  lmtpHost: string;
  lmtpPort: number;
  /** Addresses by which the desk is reached besides loopback and its own host, without a slash at the end. */
  deskUrls: string[];
  /** Proxies in front of the desk that are trusted about whom they forward for: addresses, or networks in CIDR notation. */
  deskProxies: string[];
  /** Null where the public site is not encrypted, or a proxy does it. */
  tls: TlsConfig | null;
  /** Whether the world outside is the stand-in: what it simulates is on this machine, and speaks no TLS. */
  isDemo: boolean;
  /** What stands in mails, without a slash at the end. */
  publicUrl: string;
}

/** Injection token of the {@link Config}. */
export const CONFIG = Symbol('CONFIG');

/** Reads what is set. Throws an Error in words where a value cannot be used. */
export function readConfig(env: NodeJS.ProcessEnv = settingsOf(process.env)): Config {
  const publicHost = env['KIRAKU_PUBLIC_HOST'] || '0.0.0.0';
  const tls = readTls(env);
  const publicPort = readPort(env, 'KIRAKU_PUBLIC_PORT', tls ? 443 : 4610);
  const publicUrl = readPublicUrl(env['KIRAKU_PUBLIC_URL'], publicHost, publicPort);
  if (tls && !publicUrl.startsWith('https:'))
    throw new Error('KIRAKU_TLS needs the name that it is for: set KIRAKU_PUBLIC_URL to https and that name.');
  const dataDir = resolve(env['KIRAKU_DATA'] || './data');
  return {
    dataDir,
    backupDir: resolve(env['KIRAKU_BACKUP'] || `${dataDir}-backup`),
    backupCommand: env['KIRAKU_BACKUP_COMMAND'] || null,
    logFile: env['KIRAKU_LOG'] ? resolve(env['KIRAKU_LOG']) : null,
    host: env['KIRAKU_HOST'] || '127.0.0.1',
    port: readPort(env, 'KIRAKU_PORT', 4600),
    publicHost,
    publicPort,
    submissionHost: env['KIRAKU_SUBMISSION_HOST'] || env['KIRAKU_HOST'] || '127.0.0.1',
    submissionPort: readPort(env, 'KIRAKU_SUBMISSION_PORT', 4587),
    submissionTlsPort: env['KIRAKU_SUBMISSION_TLS_PORT'] ? readPort(env, 'KIRAKU_SUBMISSION_TLS_PORT', 465) : null,
    lmtpHost: env['KIRAKU_LMTP_HOST'] || '127.0.0.1',
    lmtpPort: readPort(env, 'KIRAKU_LMTP_PORT', 4624),
    deskUrls: listOf(env['KIRAKU_URL']).map((url) => plainUrl('KIRAKU_URL', url, 'https://desk.company.example')),
    // Where the public site leads to the desk, it says for whom.
    deskProxies: [...listOf(env['KIRAKU_PROXY']).map(readProxy), ...(tls ? ['127.0.0.1', '::1'] : [])],
    isDemo: env['KIRAKU_DEMO'] === '1',
    publicUrl,
    tls,
  };
}

/** The names that the public site has a certificate for: its own, and those by which the desk is reached through it. */
export function tlsNames({ publicUrl, deskUrls }: Pick<Config, 'publicUrl' | 'deskUrls'>): string[] {
  return [...new Set([new URL(publicUrl).hostname, ...deskNames({ deskUrls })])];
}

/** The names by which the desk is reached through the public site, where that is encrypted by itself. */
export function deskNames({ deskUrls }: Pick<Config, 'deskUrls'>): string[] {
  return deskUrls.filter((url) => url.startsWith('https:')).map((url) => new URL(url).hostname);
}

/** The one database file of a data folder. */
export function databaseFile(config: Pick<Config, 'dataDir'>): string {
  return join(config.dataDir, 'kiraku.sqlite');
}

/** Where the public site writes down what happens, until the desk has recorded it. */
export function journalFolder(config: Pick<Config, 'dataDir'>): string {
  return join(config.dataDir, 'journal');
}

function readPort(env: NodeJS.ProcessEnv, name: string, fallback: number): number {
  const text = env[name];
  if (!text) return fallback;
  const port = Number(text);
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new Error(`${name} is “${text}”. It must be a port number from 0 to 65535.`);
  return port;
}

function readTls(env: NodeJS.ProcessEnv): TlsConfig | null {
  const kind = env['KIRAKU_TLS'] || '';
  if (kind === '') return null;
  const plainPort = readPort(env, 'KIRAKU_PLAIN_PORT', 80);
  const { KIRAKU_TLS_CERT: certificate = '', KIRAKU_TLS_KEY: key = '', KIRAKU_ACME: directory = '' } = env;
  if (kind === 'acme')
    return {
      kind,
      plainPort,
      directory: directory === '' ? null : plainUrl('KIRAKU_ACME', directory, 'https://acme.example/directory'),
    };
  if (kind !== 'files') throw new Error(`KIRAKU_TLS is “${kind}”. It must be acme or files.`);
  if (certificate === '' || key === '')
    throw new Error('KIRAKU_TLS is “files”. Set KIRAKU_TLS_CERT and KIRAKU_TLS_KEY to the files (PEM).');
  return { kind, plainPort, certificate: resolve(certificate), key: resolve(key) };
}

function readPublicUrl(text: string | undefined, host: string, port: number): string {
  if (!text) return `http://${host === '0.0.0.0' ? '127.0.0.1' : host}:${port}`;
  return plainUrl('KIRAKU_PUBLIC_URL', text, 'https://mail.company.example');
}

function plainUrl(name: string, text: string, example: string): string {
  if (!URL.canParse(text) || !/^https?:$/.test(new URL(text).protocol) || /[\s"'`=<>&?#]/.test(text))
    throw new Error(`${name} is “${text}”. It must be a plain http or https address, like ${example}.`);
  return text.replace(/\/+$/, '');
}

function readProxy(text: string): string {
  if (readNetwork(text)) return text;
  throw new Error(`KIRAKU_PROXY is “${text}”. It must be an address or a network, like 127.0.0.1 or 10.0.0.0/24.`);
}

/** What stands between commas. */
function listOf(text: string | undefined): string[] {
  return (text ?? '')
    .split(',')
    .map((part) => part.trim())
    .filter((part) => part !== '');
}
