import { join, resolve } from 'node:path';

/** Everything that is set from the environment; see the README for the meaning of each name. */
export interface Config {
  dataDir: string;
  host: string;
  port: number;
  publicHost: string;
  publicPort: number;
  /** Where other mail programs hand their mail in, on the desk's host. */
  submissionPort: number;
  /** Where a mail server may bring answers, on the desk's host. */
  lmtpPort: number;
  /** What stands in mails, without a slash at the end. */
  publicUrl: string;
}

/** Injection token of the {@link Config}. */
export const CONFIG = Symbol('CONFIG');

/** Reads the environment. Throws an Error in words where a value cannot be used. */
export function readConfig(env: NodeJS.ProcessEnv = process.env): Config {
  const publicHost = env['KIRAKU_PUBLIC_HOST'] || '0.0.0.0';
  const publicPort = readPort(env, 'KIRAKU_PUBLIC_PORT', 4610);
  return {
    dataDir: resolve(env['KIRAKU_DATA'] || './data'),
    host: env['KIRAKU_HOST'] || '127.0.0.1',
    port: readPort(env, 'KIRAKU_PORT', 4600),
    publicHost,
    publicPort,
    submissionPort: readPort(env, 'KIRAKU_SUBMISSION_PORT', 4587),
    lmtpPort: readPort(env, 'KIRAKU_LMTP_PORT', 4624),
    publicUrl: readPublicUrl(env['KIRAKU_PUBLIC_URL'], publicHost, publicPort),
  };
}

/** The one database file of a data folder. */
export function databaseFile(config: Pick<Config, 'dataDir'>): string {
  return join(config.dataDir, 'kiraku.sqlite');
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
  if (!URL.canParse(text) || !/^https?:$/.test(new URL(text).protocol) || /[\s"'`=<>&?#]/.test(text))
    throw new Error(
      `KIRAKU_PUBLIC_URL is “${text}”. It must be a plain http or https address, like https://mail.firm.example.`,
    );
  return text.replace(/\/+$/, '');
}
