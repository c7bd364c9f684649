import 'reflect-metadata';
import { databaseFile, readConfig } from '../environment/config.js';
import { askInSecret } from '../process/ask.js';
import { keepPrivate } from '../store/keepPrivate.js';
import { openDatabase } from '../store/database.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { CODES_KEY } from './codes.js';
import { PASSKEYS_KEY } from './passkeys.js';
import { hashPassphrase } from './passphrase.js';
import { choiceProblem } from './passphraseStrength.js';
import { SessionRepository } from './session.repository.js';
import { PASSPHRASE_KEY } from './session.service.js';

/*
 * A program of its own, for the owner of the machine who has forgotten the passphrase, or lost the phone: reads a new one from
 * the terminal (or a pipe), asks for no code any more, takes no passkey, and signs out everywhere. Kiraku may be running meanwhile.
 */

const config = readConfig();
keepPrivate(config.dataDir);
const passphrase = await askInSecret('New passphrase: ');
const problem = await choiceProblem(passphrase);
if (problem) {
  console.error(problem);
  process.exit(1);
}
const database = openDatabase(databaseFile(config));
const hash = await hashPassphrase(passphrase);
database.transaction(
  () => {
    new SettingsRepository(database).set(PASSPHRASE_KEY, hash);
    new SettingsRepository(database).remove(CODES_KEY);
    new SettingsRepository(database).remove(PASSKEYS_KEY);
    new SessionRepository(database).removeAll();
  },
  { behavior: 'immediate' },
);
database.$client.close();
console.log('The passphrase is changed, no code is asked for, no passkey is taken, and everybody is signed out.');
