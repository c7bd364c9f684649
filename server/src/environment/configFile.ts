import { existsSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { parseEnv } from 'node:util';

/** What can be set, in the environment or in the file. */
export const SETTING_NAMES = [
  'KIRAKU_ACME',
  'KIRAKU_BACKUP',
  'KIRAKU_BACKUP_COMMAND',
  'KIRAKU_DATA',
  'KIRAKU_DEMO',
  'KIRAKU_HOST',
  'KIRAKU_LMTP_HOST',
  'KIRAKU_LMTP_PORT',
  'KIRAKU_LOG',
  'KIRAKU_PLAIN_PORT',
  'KIRAKU_PORT',
  'KIRAKU_PROXY',
  'KIRAKU_PUBLIC_HOST',
  'KIRAKU_PUBLIC_PORT',
  'KIRAKU_PUBLIC_URL',
  'KIRAKU_SUBMISSION_HOST',
  'KIRAKU_SUBMISSION_PORT',
  'KIRAKU_SUBMISSION_TLS_PORT',
  'KIRAKU_TLS',
  'KIRAKU_TLS_CERT',
  'KIRAKU_TLS_KEY',
  'KIRAKU_URL',
] as const;

/** Where it is looked for when nothing is said. */
const DEFAULT_FILE = 'kiraku.conf';

/**
 * What is set: in the file of the form `NAME=value`, a line each, with `#` before comments; and in the environment, which holds
 * where both say something. `KIRAKU_CONFIG` names the file; empty, there is none.
 *
 * @throws in words where the file is named and missing, or has a name that there is not
 */
export function settingsOf(env: NodeJS.ProcessEnv): NodeJS.ProcessEnv {
  const named = env['KIRAKU_CONFIG'];
  if (named === '') return env;
  const file = resolve(named ?? DEFAULT_FILE);
  if (!existsSync(file)) {
    if (named === undefined) return env;
    throw new Error(`There is no file ${file}, which KIRAKU_CONFIG names.`);
  }
  const text = readFileSync(file, 'utf8');
  const settings = parseEnv(text);
  const unknown = Object.keys(settings).find((name) => !(SETTING_NAMES as readonly string[]).includes(name));
  if (unknown !== undefined)
    throw new Error(
      `${file}, line ${lineOf(text, unknown)}: there is no setting ${unknown}. There are: ${SETTING_NAMES.join(', ')}.`,
    );
  return { ...settings, ...env };
}

function lineOf(text: string, name: string): number {
  return text.split('\n').findIndex((line) => line.replace(/^\s*(export\s+)?/, '').startsWith(name)) + 1;
}
