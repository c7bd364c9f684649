import 'reflect-metadata';
import { createInterface } from 'node:readline';
import { databaseFile, readConfig } from '../environment/config.js';
import { keepPrivate } from '../store/keepPrivate.js';
import { openDatabase } from '../store/database.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { hashPassphrase } from './passphrase.js';
import { passphraseProblem } from './passphraseStrength.js';
import { MIN_PASSPHRASE_CHARS } from './session.dto.js';
import { SessionRepository } from './session.repository.js';
import { PASSPHRASE_KEY } from './session.service.js';

/*
 * A program of its own, for the owner of the machine who has forgotten the passphrase: reads a new one from the terminal (or a
 * pipe), and signs out everywhere. Kiraku may be running meanwhile.
 */

const config = readConfig();
keepPrivate(config.dataDir);
const passphrase = await ask('New passphrase: ');
const problem =
  passphrase.length < MIN_PASSPHRASE_CHARS
    ? `The passphrase must have at least ${MIN_PASSPHRASE_CHARS} characters; three or four words are good.`
    : await passphraseProblem(passphrase);
if (problem) {
  console.error(problem);
  process.exit(1);
}
const database = openDatabase(databaseFile(config));
const hash = await hashPassphrase(passphrase);
database.transaction(
  () => {
    new SettingsRepository(database).set(PASSPHRASE_KEY, hash);
    new SessionRepository(database).removeAll();
  },
  { behavior: 'immediate' },
);
database.$client.close();
console.log('The passphrase is changed, and everybody is signed out.');

/** One line; nothing of it is shown on a terminal. */
function ask(question: string): Promise<string> {
  const { stdin, stdout } = process;
  const reader = createInterface({ input: stdin, output: stdout, terminal: stdin.isTTY === true });
  stdout.write(question);
  // What the library would echo.
  if (stdin.isTTY) Object.assign(reader, { _writeToOutput: () => undefined });
  return new Promise((resolve) => {
    reader.once('line', (line) => {
      resolve(line);
      reader.close();
      stdout.write('\n');
    });
    reader.once('close', () => resolve(''));
  });
}
