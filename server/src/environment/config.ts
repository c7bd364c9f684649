import { join, resolve } from 'node:path';
import { readNetwork } from '@kiraku/core/tracking';
import { settingsOf } from './configFile.js';

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
  /** Where other mail programs hand their mail in, on the desk's host. */
  submissionPort: number;
  /** Where a mail server may deliver mail: whoever reaches it can deliver any, so that it is loopback unless told otherwise. */
  lmtpHost: string;
  lmtpPort: number;
  /** Addresses by which the desk is reached besides loopback and its own host, without a slash at the end. */
  deskUrls: string[];
  /** Proxies in front of the desk that are trusted about whom they forward for: addresses, or networks in CIDR notation. */
  deskProxies: string[];
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
  const publicPort = readPort(env, 'KIRAKU_PUBLIC_PORT', 4610);
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
    submissionPort: readPort(env, 'KIRAKU_SUBMISSION_PORT', 4587),
    lmtpHost: env['KIRAKU_LMTP_HOST'] || '127.0.0.1',
    lmtpPort: readPort(env, 'KIRAKU_LMTP_PORT', 4624),
    deskUrls: listOf(env['KIRAKU_URL']).map((url) => plainUrl('KIRAKU_URL', url, 'https://desk.company.example')),
    deskProxies: listOf(env['KIRAKU_PROXY']).map(readProxy),
    isDemo: env['KIRAKU_DEMO'] === '1',
    publicUrl: readPublicUrl(env['KIRAKU_PUBLIC_URL'], publicHost, publicPort),
  };
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
